import type { Safekeeping as State } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { Rings } from '@/ui/Rings';
import { sayNumber, sayWhen } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { AddPlace } from './AddPlace';
import { PlaceCard } from './PlaceCard';
import { RecoverySheet } from './RecoverySheet';
import { lost, sayLost, sayNow } from './words';

/** How many pictures are in two places, what would be lost now, the places with their last proof, and originals that are read back. */
export function Safekeeping() {
  const { data, error, refetch } = useAnswer('safekeeping', {});
  const [open, setOpen] = useState<'add' | 'sheet' | null>(null);
  return (
    <Page title={t`Safekeeping`} narrow>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data ? (
        <View className="gap-8">
          <Standing state={data} />
          {data.house === null ? (
            <>
              {data.places.map((place) => (
                <PlaceCard key={place.id} place={place} />
              ))}
              {data.places.length ? (
                <Button
                  label={t`Add another place`}
                  weight="second"
                  icon="plus"
                  className="self-start"
                  onPress={() => setOpen('add')}
                />
              ) : (
                <View className="items-center gap-3">
                  <Words className="max-w-note text-center text-soft">{t`A second place can be another disk, a computer at your sister’s, or a bucket you rent. Gemmel brings it up to date by itself, and reads back what it wrote.`}</Words>
                  <Button label={t`Add a second place`} icon="plus" onPress={() => setOpen('add')} />
                </View>
              )}
            </>
          ) : (
            <Words className="text-soft">{t`The places are looked after in “${data.house}”.`}</Words>
          )}
          <Originals state={data} />
          {data.places.length ? (
            <View className="items-start gap-2">
              <Heading>{t`If you ever need it`}</Heading>
              <Words className="text-soft">{t`The recovery sheet says where everything is, the pass phrase, and what to type to bring it all back. Keep it away from the computer.`}</Words>
              <Button label={t`Print the recovery sheet`} weight="second" onPress={() => setOpen('sheet')} />
            </View>
          ) : null}
        </View>
      ) : null}
      {open === 'add' ? <AddPlace onClose={() => setOpen(null)} /> : null}
      {open === 'sheet' ? <RecoverySheet onClose={() => setOpen(null)} /> : null}
    </Page>
  );
}

/** The two rings, and what they stand for. */
function Standing({ state }: { state: State }) {
  const { pictures, two, none } = state;
  const joined = pictures > 0 && two === pictures;
  const onlyHere = two > 0 && state.house === null && state.places.length > 0 && !lost(state).burned;
  return (
    <View className="items-center gap-2 pt-2" role="status">
      <Rings
        size={150}
        joined={joined}
        label={joined ? t`Joined: everything is in two places` : t`Parted: not everything is in two places`}
      />
      <Words kind="title" className="text-center">
        {pictures === 0
          ? t`No pictures yet`
          : two === 0
            ? t`In one place only`
            : t`${sayNumber(two)} of ${sayNumber(pictures)} in two places`}
      </Words>
      <Words className="max-w-note text-center text-soft">{sayLost(state)}</Words>
      {none ? (
        <Words className="max-w-note text-center font-semi text-brick">
          {plural(none, {
            one: '# picture is damaged here and in no other place. If you still have it somewhere, bring it in again.',
            other:
              '# pictures are damaged here and in no other place. If you still have them somewhere, bring them in again.',
          })}
        </Words>
      ) : null}
      {onlyHere ? (
        <Words
          kind="small"
          className="max-w-note text-center"
        >{t`Both copies are in this house. A place elsewhere would outlast a fire, too.`}</Words>
      ) : null}
    </View>
  );
}

/** How reading every original back goes, and what was mended. */
function Originals({ state }: { state: State }) {
  const { pictures, whole, damaged, last, mended, now } = state.originals;
  const [latest] = mended;
  if (pictures === 0) return null;
  const begin = () =>
    void call('readOriginals', {}).then(() => (say(t`Reading every original back`), refresh('safekeeping')), trouble);
  const stop = () => void call('stopReading', {}).then(() => refresh('safekeeping'), trouble);
  return (
    <View className="gap-1">
      <Heading tone={damaged ? 'waiting' : 'settled'}>{t`Every original, read back`}</Heading>
      <Words>
        {last
          ? t`${sayNumber(whole)} of ${sayNumber(pictures)} whole, the last read on ${sayWhen(last)}. Each is read again within 30 days.`
          : t`None has been read back yet.`}
      </Words>
      {damaged ? (
        <Words className="font-semi text-brick">
          {plural(damaged, {
            one: '# is damaged or gone, and no place has helped so far.',
            other: '# are damaged or gone, and no place has helped so far.',
          })}
        </Words>
      ) : null}
      {latest ? (
        <Words className="text-soft">
          {latest.place
            ? t`“${latest.name}” was damaged, and mended from “${latest.place}” on ${sayWhen(latest.at)}.`
            : t`“${latest.name}” was damaged, and came in again on ${sayWhen(latest.at)}.`}
        </Words>
      ) : null}
      {now ? (
        <View className="gap-2 pt-2">
          <Words kind="small" aria-live="polite">
            {sayNow(now)}
          </Words>
          <DoubleBar share={now.of ? now.done / now.of : 0} width={260} label={t`Reading originals back`} />
          <Button label={t`Stop`} weight="second" className="self-start" onPress={stop} />
        </View>
      ) : (
        <Button label={t`Read them all now`} weight="quiet" className="self-start px-0" onPress={begin} />
      )}
    </View>
  );
}
