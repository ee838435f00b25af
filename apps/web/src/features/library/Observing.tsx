import type { Answer, Api } from '@gemmel/contract';
import { type Observable, type Question, THING_NAMES } from '@gemmel/core';
import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refreshTopics, useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { capital, sayLeft, sayNumber, sayShare } from '@/ui/say';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';

type Look = Answer<Api['observing']>['looks'][number];

/** A kind or a look: its name, the pictures it was noticed in as a way to them, and its switch. */
function Row({
  name,
  pictures,
  on,
  onShow,
  onTurn,
}: {
  name: string;
  pictures: number;
  on: boolean;
  onShow: () => void;
  /** Only for the keeper. */
  onTurn: ((on: boolean) => void) | undefined;
}) {
  return (
    <View className="min-h-button flex-row items-center justify-between gap-3">
      <Pressable
        role="button"
        disabled={pictures === 0}
        aria-label={plural(pictures, { one: `${name}, # picture`, other: `${name}, # pictures` })}
        onPress={onShow}
        className="min-h-touch min-w-0 flex-1 flex-row items-center justify-between gap-3"
      >
        <Words className="min-w-0 shrink">{name}</Words>
        <Words kind="small" className="shrink-0">
          {plural(pictures, { one: '# picture', other: '# pictures' })}
        </Words>
      </Pressable>
      {onTurn ? <Switch on={on} label={t`Look for it: ${name}`} onTurn={() => onTurn(!on)} /> : null}
    </View>
  );
}

/** How far a look is, and holding it or letting it go on. */
function Going({ look, keeper }: { look: Look; keeper: boolean }) {
  const { done, of, left, paused } = look;
  if (done >= of)
    return (
      <Words kind="small" className="mb-2">
        {plural(of, { one: 'The only photo has been looked at.', other: 'All # photos have been looked at.' })}
      </Words>
    );
  const percent = sayShare(done / of);
  const far = plural(of, {
    one: `${sayNumber(done)} of # photo, ${percent}`,
    other: `${sayNumber(done)} of # photos, ${percent}`,
  });
  const hold = async () => {
    try {
      await call('pauseLook', { params: { look: look.look }, body: { paused: !paused } });
      refreshTopics('observing');
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <View className="mb-1 flex-row flex-wrap items-center justify-between gap-x-3">
      <Words kind="small" role="status" className="min-w-0 shrink">
        {paused ? t`${far}. Paused.` : left === null ? `${far}.` : t`${far}. ${capital(sayLeft(left))} left.`}
      </Words>
      {keeper ? (
        <Button
          label={paused ? t`Go on` : t`Pause`}
          weight="quiet"
          className="min-h-touch px-0"
          onPress={() => void hold()}
        />
      ) : null}
    </View>
  );
}

/** What the machine notices by itself: each kind on or off, with how many pictures it was noticed in. */
export function Observing() {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const keeper = useMe().data?.member?.part === 'keeper';
  const data = useAnswer('observing', {}).data;
  if (!data) return null;
  const show = (question: Question) => {
    set(question);
    router.push('/browse');
  };
  const turn = (kind: Observable, on: boolean, name: string) =>
    void act(
      () => call('setObserving', { params: { kind }, body: { on } }),
      on ? t`Now looking for: ${name}` : t`No longer looked for: ${name}`,
      'said',
    );
  return (
    <View>
      <Heading>{t`What the machine notices`}</Heading>
      <Words className="mb-2 text-soft">{t`Measured, never said: it is no tag, and it is not written beside the originals. Switched off, it is gone at once.`}</Words>
      {data.kinds.map(({ kind, on, pictures }) => {
        const name = capital(words().noticed[kind][1]);
        return (
          <View key={kind} className="border-b border-line">
            <Row
              name={name}
              pictures={pictures}
              on={on}
              onShow={() => show({ observed: kind })}
              onTurn={keeper ? (next) => turn(kind, next, name) : undefined}
            />
          </View>
        );
      })}
      <View className="mt-6">
        <Heading>{t`Only when you ask`}</Heading>
      </View>
      <Words className="mb-2 text-soft">{t`This takes up to a second a picture, so it is done when there is nothing else to do, and it goes on where it was after a restart.`}</Words>
      {data.looks.map((look) => {
        const things = look.look === 'things';
        const name = things ? t`Everyday things` : t`Words in pictures`;
        return (
          <View key={look.look} className="border-b border-line">
            <Row
              name={name}
              pictures={look.pictures}
              on={look.on}
              onShow={() =>
                show(things ? { any: THING_NAMES.map((observed) => ({ observed })) } : { observed: 'words' })
              }
              onTurn={keeper ? (next) => turn(look.look, next, name) : undefined}
            />
            <Words kind="small" className="mb-2">
              {things
                ? t`A dog, a bicycle, a cake and 77 other things. Ask for them by name.`
                : t`Signs, menus, letters and screenshots are read, so that you can find them by what they say.`}
            </Words>
            {look.on ? <Going look={look} keeper={keeper} /> : null}
          </View>
        );
      })}
    </View>
  );
}
