import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { LikeBy } from '@gemmel/contract';
import { toSentence } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { useLook } from '@/state/look';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';
import { useNames } from './names';

const WAYS: Record<LikeBy, MessageDescriptor> = {
  look: msg`By how it looks`,
  moment: msg`By the moment`,
  place: msg`By the place`,
  people: msg`By who is in it`,
};

/** More pictures like one: each way is a question, with how many there are. */
export function MoreLike({ id, onClose }: { id: number; onClose: () => void }) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const names = useNames();
  const { data, error, refetch } = useAnswer('moreLike', { params: { id } });
  return (
    <Sheet title={t`More like this`} onClose={onClose}>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.offers.length === 0 ? <Words className="text-soft">{t`There is no other like it.`}</Words> : null}
      <View>
        {data?.offers.map(({ by, question, pictures }) => (
          <Pressable
            key={by}
            role="button"
            onPress={() => {
              onClose();
              set(question);
              // What looks like one is best seen with the likest first.
              if (by === 'look') useLook.getState().setSort('likeness');
              router.push('/browse');
            }}
            className="min-h-field flex-row items-center justify-between gap-3 border-b border-line active:bg-mist"
          >
            <View className="min-w-0 shrink">
              <Words kind="strong">{i18n._(WAYS[by])}</Words>
              <Words kind="small">{toSentence(question, names, words())}</Words>
            </View>
            <Words kind="small" className="shrink-0">
              {plural(pictures, { one: '# more', other: '# more' })}
            </Words>
          </Pressable>
        ))}
      </View>
    </Sheet>
  );
}
