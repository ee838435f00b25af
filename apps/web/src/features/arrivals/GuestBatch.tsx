import { plural, t } from '@lingui/core/macro';
import type { Batch } from '@gemmel/contract';
import { View } from 'react-native';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Words } from '@/ui/Words';

/** What a guest has added to a share, and the keeper's word on it. */
export function GuestBatch({ batch }: { batch: Batch }) {
  const { guest, counts, state } = batch;
  if (!guest) return null;
  const say = (yes: boolean) =>
    act(
      () => call('shareAdditions', { params: { id: batch.id }, body: { yes } }),
      yes ? t`Now in “${guest.title}”` : [t`Not shared`, t`They are in the bin.`],
      'batches',
      'pictures',
      'shares',
    );
  return (
    <View className="gap-2 border-t border-line pt-2">
      <Words className="text-small">
        {guest.held
          ? plural(counts.stored, {
              one: `# picture from ${batch.name}, a guest of “${guest.title}”. Only the house sees it so far.`,
              other: `# pictures from ${batch.name}, a guest of “${guest.title}”. Only the house sees them so far.`,
            })
          : t`From ${batch.name}, a guest of “${guest.title}”.`}
      </Words>
      {guest.held && state === 'done' && counts.stored ? (
        <View className="flex-row flex-wrap gap-2">
          <Button label={t`Share them, too`} onPress={() => void say(true)} />
          <Button label={t`No, thank you`} weight="second" onPress={() => void say(false)} />
        </View>
      ) : null}
    </View>
  );
}
