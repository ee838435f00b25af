import type { SaidConflict } from '@gemmel/contract';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { CORNER } from '@/ui/tokens';

/** What two places say differently; one touch decides, and the next appears. */
export function Conflicts({ batch }: { batch: number }) {
  const { data } = useAnswer('conflicts', { params: { id: batch } });
  const settle = async (one: SaidConflict, take: 'kept' | 'other') => {
    await act(
      () => call('settleConflict', { params: { id: one.id }, body: { take } }),
      take === 'kept' ? 'It stays as it stands.' : `The ${one.what} is taken over.`,
      'batches',
      'said',
    );
  };
  return (
    <View>
      <Heading tone="waiting" right={data?.conflicts.length ?? ''}>
        Said differently elsewhere
      </Heading>
      {data?.conflicts.map((one) => (
        <View key={one.id} className="flex-row gap-3 border-t border-line py-3">
          <img
            src={smallOf(one.sha)}
            alt=""
            style={{ width: 76, height: 76, objectFit: 'contain', borderRadius: CORNER.picture, flexShrink: 0 }}
          />
          <View className="min-w-0 flex-1 gap-1">
            <Words kind="small">{`The ${one.what} of ${one.path
              .split('/')
              .pop()!
              .replace(/\.xmp$/i, '')}`}</Words>
            <View className="flex-row flex-wrap gap-x-2">
              <Chip label={`Keep: ${one.kept}`} on onPress={() => void settle(one, 'kept')} />
              <Chip label={`Take: ${one.other}`} onPress={() => void settle(one, 'other')} />
            </View>
          </View>
        </View>
      ))}
    </View>
  );
}
