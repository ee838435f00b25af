import type { SafePlace } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { copyLink } from '@/state/copyLink';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { sayBytes, sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { atPlace } from './acts';
import { PlaceSheet } from './PlaceSheet';
import { sayNow, sayTrial, sayWhy } from './words';

/** A place with its last proof, what waits for it, and what can be done. */
export function PlaceCard({ place }: { place: SafePlace }) {
  const { id, name, last, latest, trial, latestTrial, checked, now, waiting, there, paused } = place;
  const [open, setOpen] = useState(false);
  const failed = latest?.state === 'failed' && latest.id !== last?.id;
  const settled = last !== null && waiting === 0 && !failed && there;
  const set = (body: { paused: boolean }) =>
    void call('changeSafePlace', { params: { id }, body }).then(() => refresh('safekeeping'), trouble);
  return (
    <View role="group" aria-label={name}>
      <Heading
        tone={settled ? 'settled' : 'waiting'}
        right={<Button label={t`Settings`} weight="quiet" className="min-h-touch px-0" onPress={() => setOpen(true)} />}
      >
        {name}
      </Heading>
      <View className="gap-0.5">
        {place.key ? <LetIn place={place} line={place.key} /> : null}
        {last ? (
          <Words>{[t`Up to date as of ${sayWhen(last.still ?? last.began)}`, sayBytes(last.bytes)].join(' · ')}</Words>
        ) : place.key ? null : (
          <Words>{t`Nothing is there yet.`}</Words>
        )}
        {trial ? (
          <Words className={`font-semi ${trial.wrong ? 'text-brick' : 'text-juniper'}`}>{sayTrial(trial)}</Words>
        ) : last && !now ? (
          <Words className="text-soft">{t`Not restored on trial yet.`}</Words>
        ) : null}
        {latestTrial?.state === 'failed' && latestTrial.id !== trial?.id ? (
          <Words className="font-semi text-marigold">{t`The last trial didn’t work: ${sayWhy(latestTrial)}`}</Words>
        ) : null}
        {failed ? <Words className="font-semi text-marigold">{sayWhy(latest)}</Words> : null}
        {!there && !failed ? <Words className="font-semi text-marigold">{t`It isn’t there right now.`}</Words> : null}
        {checked?.wrong ? (
          <Words className="text-soft">
            {plural(checked.wrong, {
              one: `# of its files had rotted by ${sayWhen(checked.began)}, and was copied again.`,
              other: `# of its files had rotted by ${sayWhen(checked.began)}, and were copied again.`,
            })}
          </Words>
        ) : null}
        {last?.wrong ? (
          <Words className="font-semi text-brick">
            {plural(last.wrong, {
              one: '# file could not be read back as it was. It is copied again the next time.',
              other: '# files could not be read back as they were. They are copied again the next time.',
            })}
          </Words>
        ) : null}
        {waiting && last ? (
          <Words className="font-semi text-marigold">
            {plural(waiting, { one: '# picture waits.', other: '# pictures wait.' })}
          </Words>
        ) : null}
      </View>
      {now ? (
        <View className="gap-2 pt-3">
          <Words kind="small" aria-live="polite">
            {paused ? t`Paused` : sayNow(now)}
          </Words>
          <DoubleBar share={now.of ? now.done / now.of : 0} width={260} label={name} />
          <View className="flex-row flex-wrap gap-2">
            {now.kind === 'backup' ? (
              <Button label={paused ? t`Go on` : t`Pause`} weight="second" onPress={() => set({ paused: !paused })} />
            ) : null}
            <Button
              label={t`Stop`}
              weight={now.kind === 'backup' ? 'quiet' : 'second'}
              onPress={() => atPlace('stopSafe', id)}
            />
          </View>
        </View>
      ) : place.key ? null : (
        <View className="flex-row flex-wrap gap-2 pt-3">
          <Button label={t`Bring up to date`} weight="second" onPress={() => atPlace('bringUpToDate', id)} />
          {last ? <Button label={t`Try a restore`} weight="quiet" onPress={() => atPlace('rehearse', id)} /> : null}
        </View>
      )}
      {open ? <PlaceSheet place={place} onClose={() => setOpen(false)} /> : null}
    </View>
  );
}

/** What another machine's keeper has to do before it takes copies. */
function LetIn({ place, line }: { place: SafePlace; line: string }) {
  return (
    <View className="items-start gap-2">
      <Words>{t`Let Gemmel in over there: add this line to .ssh/authorized_keys of that account.`}</Words>
      <View className="w-full rounded-small bg-mist p-3">
        <Words kind="small" className="break-all text-ink">
          {line}
        </Words>
      </View>
      {place.fingerprint ? (
        <Words kind="small">{t`That machine shows ${place.fingerprint}. Check that it is the right one.`}</Words>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Button label={t`Copy the key`} weight="second" onPress={() => void copyLink(line)} />
        <Button label={t`Done: start copying`} onPress={() => atPlace('bringUpToDate', place.id)} />
      </View>
    </View>
  );
}
