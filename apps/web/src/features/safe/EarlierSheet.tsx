import type { EarlierState, EarlierWords } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { sayDay, sayList, sayNumber, sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

/** What is said of a picture, each thing with its name; nothing for what is not said. */
function linesOf({ title, caption, rating, favourite, tags }: EarlierWords): [name: string, said: string][] {
  return [
    [t`Title`, title ?? ''],
    [t`Caption`, caption ?? ''],
    [t`Stars`, rating ? sayNumber(rating) : ''],
    [t`Heart`, favourite ? t`given` : ''],
    [t`Tags`, tags.length ? sayList(tags) : ''],
  ];
}

/** A picture as it was in a state that a place holds: what was said of it then, to be said again. */
export function EarlierSheet({ id, onClose }: { id: number; onClose: () => void }) {
  const [state, setState] = useState<EarlierState | null>(null);
  const states = useQuery({
    queryKey: ['earlierStates', {}],
    queryFn: ({ signal }) => call('earlierStates', {}, signal),
  });
  return (
    <Sheet title={state ? t`As it was on ${sayDay(state.at.slice(0, 10))}` : t`As it was`} onClose={onClose}>
      {state ? (
        <Then id={id} state={state} onBack={() => setState(null)} onClose={onClose} />
      ) : states.error ? (
        <Failed error={states.error} />
      ) : !states.data ? (
        <Waiting text={t`Asking the places what they hold …`} />
      ) : states.data.states.length === 0 ? (
        <Words className="text-soft">{t`No place holds an earlier state yet. Once there is a second place, you can look back from here.`}</Words>
      ) : (
        <View>
          {states.data.states.map((one) => (
            <Pressable
              key={`${one.place} ${one.state}`}
              role="button"
              onPress={() => setState(one)}
              className="min-h-field justify-center border-t border-line py-2 active:opacity-70"
            >
              <Words>{sayWhen(one.at)}</Words>
              <Words kind="small">{one.name}</Words>
            </Pressable>
          ))}
        </View>
      )}
    </Sheet>
  );
}

function Then({
  id,
  state: { place, state },
  onBack,
  onClose,
}: {
  id: number;
  state: EarlierState;
  onBack: () => void;
  onClose: () => void;
}) {
  const { data, error } = useQuery({
    queryKey: ['earlierWords', id, place, state],
    queryFn: ({ signal }) => call('earlierWords', { params: { id }, body: { place, state } }, signal),
  });
  if (error) return <Failed error={error} again={onBack} />;
  if (!data) return <Waiting text={t`Bringing back what was said then …`} />;
  if (!data.then)
    return (
      <View className="items-start gap-2">
        <Words>{t`This picture wasn’t here yet.`}</Words>
        <Button label={t`Another day`} weight="second" onPress={onBack} />
      </View>
    );
  const now = linesOf(data.now);
  const different = linesOf(data.then).flatMap(([name, then], i) =>
    then === now[i]![1] ? [] : [{ name, then, now: now[i]![1] }],
  );
  const bringBack = async () => {
    onClose();
    await act(
      () => call('bringWordsBack', { params: { id }, body: { place, state } }),
      t`Its words are back as they were`,
      'said',
    );
  };
  return (
    <View className="gap-3">
      {different.length === 0 ? (
        <Words>{t`The same was said of it then as now.`}</Words>
      ) : (
        different.map(({ name, then, now: is }) => (
          <View key={name} className="border-t border-line pt-2">
            <Words kind="small">{name}</Words>
            <Words className="font-semi">{then || t`nothing`}</Words>
            <Words kind="small">{t`Now: ${is || t`nothing`}`}</Words>
          </View>
        ))
      )}
      <View className="flex-row flex-wrap gap-2">
        {different.length ? <Button label={t`Bring these words back`} onPress={() => void bringBack()} /> : null}
        <Button label={t`Another day`} weight="quiet" onPress={onBack} />
      </View>
    </View>
  );
}
