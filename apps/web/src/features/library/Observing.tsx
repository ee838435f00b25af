import { plural, t } from '@lingui/core/macro';
import type { Noticed } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { Heading } from '@/ui/DoubleBar';
import { capital } from '@/ui/say';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';

/** What the machine notices by itself: each kind on or off, with how many pictures it was noticed in. */
export function Observing() {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const keeper = useMe().data?.member?.part === 'keeper';
  const data = useAnswer('observing', {}).data;
  if (!data) return null;
  const turn = (kind: Noticed, on: boolean, name: string) =>
    void act(
      () => call('setObserving', { params: { kind }, body: { on } }),
      on ? t`Looking for it again: ${name}` : t`No longer looked for: ${name}`,
      'said',
    );
  return (
    <View>
      <Heading>{t`What the machine notices`}</Heading>
      <Words className="mb-2 text-soft">{t`Measured, never said: it is no tag, and it is not written beside the originals. Switched off, it is gone at once.`}</Words>
      {data.kinds.map(({ kind, on, pictures }) => {
        const name = capital(words().noticed[kind][1]);
        return (
          <View key={kind} className="min-h-button flex-row items-center justify-between gap-3 border-b border-line">
            <Pressable
              role="button"
              disabled={pictures === 0}
              aria-label={plural(pictures, { one: `${name}, # picture`, other: `${name}, # pictures` })}
              onPress={() => {
                set({ observed: kind });
                router.push('/browse');
              }}
              className="min-h-touch min-w-0 flex-1 flex-row items-center justify-between gap-3"
            >
              <Words className="min-w-0 shrink">{name}</Words>
              <Words kind="small">{plural(pictures, { one: '# picture', other: '# pictures' })}</Words>
            </Pressable>
            {keeper ? <Switch on={on} label={t`Look for it: ${name}`} onTurn={() => turn(kind, !on, name)} /> : null}
          </View>
        );
      })}
    </View>
  );
}
