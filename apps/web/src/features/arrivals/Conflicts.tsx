import { t } from '@lingui/core/macro';
import type { SaidConflict } from '@gemmel/contract';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { CORNER } from '@/ui/tokens';
import { capital } from '@/ui/say';
import { fields } from '@/features/acts/actWords';

/** What two places say differently; one touch decides, and the next appears. */
export function Conflicts({ batch }: { batch: number }) {
  const { data } = useAnswer('conflicts', { params: { id: batch } });
  const settle = async (one: SaidConflict, take: 'kept' | 'other') => {
    await act(
      () => call('settleConflict', { params: { id: one.id }, body: { take } }),
      take === 'kept' ? t`Left as it is` : t`Taken over: ${fields([one.what])}`,
      'batches',
      'said',
    );
  };
  return (
    <View>
      <Heading tone="waiting" right={data?.conflicts.length ?? ''}>{t`Two sources disagree`}</Heading>
      {data?.conflicts.map((one) => (
        <View key={one.id} className="flex-row gap-3 border-t border-line py-3">
          <img
            src={smallOf(one.sha)}
            alt=""
            style={{ width: 76, height: 76, objectFit: 'contain', borderRadius: CORNER.picture, flexShrink: 0 }}
          />
          <View className="min-w-0 flex-1 gap-1">
            <Words kind="small">{t`${capital(fields([one.what]))} of ${one.path
              .split('/')
              .pop()!
              .replace(/\.xmp$/i, '')}`}</Words>
            <View className="flex-row flex-wrap gap-x-2">
              <Chip label={t`Keep: ${one.kept}`} on onPress={() => void settle(one, 'kept')} />
              <Chip label={t`Take: ${one.other}`} onPress={() => void settle(one, 'other')} />
            </View>
          </View>
        </View>
      ))}
    </View>
  );
}
