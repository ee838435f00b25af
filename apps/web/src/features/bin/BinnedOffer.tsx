import { plural, t } from '@lingui/core/macro';
import type { Batch } from '@gemmel/contract';
import { View } from 'react-native';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Words } from '@/ui/Words';

/** Offers what a batch left out since somebody had binned it. */
export function BinnedOffer({ batch }: { batch: Pick<Batch, 'id' | 'binned'> }) {
  const take = () =>
    act(
      () => call('takeBinned', { params: { id: batch.id } }),
      ({ back, coming, again }) => [
        [
          back ? plural(back, { one: '# picture brought back', other: '# pictures brought back' }) : '',
          coming ? plural(coming, { one: '# picture coming in', other: '# pictures coming in' }) : '',
        ]
          .filter(Boolean)
          .join(', ') || t`Ready to be taken in`,
        again
          ? plural(again, {
              one: 'Send # file once more and it is taken in.',
              other: 'Send # files once more and they are taken in.',
            })
          : '',
      ],
      'pictures',
      'batches',
      'bin',
      'library',
    );
  return (
    <View className="items-start gap-2 rounded-card border border-brick p-4">
      <Words kind="strong">
        {plural(batch.binned, {
          one: '# file was left out because you had binned it',
          other: '# files were left out because you had binned them',
        })}
      </Words>
      <Words className="text-soft">{t`They stay away unless you want them after all.`}</Words>
      <Button label={t`Take them in after all`} weight="second" onPress={() => void take()} />
    </View>
  );
}
