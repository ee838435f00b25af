import type { SafePlace } from '@gemmel/contract';
import { i18n } from '@lingui/core';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { Fold } from '@/features/share/Fold';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayNumber, sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { atPlace } from './acts';
import { OFTEN, sayRun } from './words';

/** How often a place is brought up to date. */
export function OftenChips({
  kind,
  often,
  onOften,
}: {
  kind: SafePlace['kind'];
  often: SafePlace['often'];
  onOften: (often: SafePlace['often']) => void;
}) {
  const all = (Object.keys(OFTEN) as SafePlace['often'][]).filter((one) => kind === 'folder' || one !== 'shows');
  return (
    <View className="gap-1">
      <Words kind="small">{t`Brought up to date`}</Words>
      <View className="flex-row flex-wrap gap-2" role="group" aria-label={t`Brought up to date`}>
        {all.map((one) => (
          <Chip key={one} label={i18n._(OFTEN[one])} on={often === one} onPress={() => onOften(one)} />
        ))}
      </View>
    </View>
  );
}

/** Speeds to choose from, in kilobytes a second. */
const SPEEDS = [null, 500, 2000, 10_000] as const;

/** The states a place holds; each opens the library of this tab as it was then, beside the one there is. */
function StatesHere({ place, onOpened }: { place: number; onOpened: () => void }) {
  const { data, error } = useAnswer('earlierStates', {});
  const me = useMe().data;
  const states = data?.states.filter((one) => one.place === place) ?? [];
  if (error) return <Failed error={error} />;
  if (!data) return <Waiting text={t`Asking the place what it holds …`} />;
  if (states.length === 0) return <Words className="text-soft">{t`It holds no state yet.`}</Words>;
  const open = (state: string) =>
    void call('openState', { body: { place, state } }).then(() => {
      say(t`“${me?.library?.name ?? ''}” as it was is being opened. You’ll find it under Libraries.`);
      refresh('keeping', 'libraries');
      onOpened();
    }, trouble);
  return (
    <View>
      {states.map((one) => (
        <Pressable
          key={one.state}
          role="button"
          onPress={() => open(one.state)}
          className="min-h-field justify-center border-t border-line py-2 active:opacity-70"
        >
          <Words>{sayWhen(one.at)}</Words>
        </Pressable>
      ))}
    </View>
  );
}

/** Everything about a place: when, how fast, what was done there, reading it through, and letting it go. */
export function PlaceSheet({ place, onClose }: { place: SafePlace; onClose: () => void }) {
  const { id, kind, often, kilobytes, location } = place;
  const [name, setName] = useState(place.name);
  const [going, setGoing] = useState(false);
  const runs = useAnswer('safeRuns', { params: { id } }).data?.runs ?? [];
  const change = (body: Parameters<typeof call<'changeSafePlace'>>[1]['body']) =>
    call('changeSafePlace', { params: { id }, body }).then(() => refresh('safekeeping'), trouble);
  const remove = async () => {
    try {
      await call('removeSafePlace', { params: { id } });
      refresh('safekeeping');
      say(t`“${place.name}” is no longer looked after`);
      onClose();
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <Sheet title={place.name} onClose={onClose}>
      <Words kind="small" className="break-all">
        {location}
      </Words>
      <Field
        label={t`What you call it`}
        value={name}
        onChangeText={setName}
        onBlur={() => name.trim() && name.trim() !== place.name && void change({ name: name.trim() })}
        maxLength={80}
      />
      <OftenChips kind={kind} often={often} onOften={(to) => void change({ often: to })} />
      <View className="gap-1">
        <Words kind="small">{t`How fast at most`}</Words>
        <View className="flex-row flex-wrap gap-2" role="group" aria-label={t`How fast at most`}>
          {SPEEDS.map((speed) => (
            <Chip
              key={String(speed)}
              label={speed === null ? t`As fast as possible` : t`${sayNumber(speed / 1000)} MB a second`}
              on={kilobytes === speed}
              onPress={() => void change({ kilobytes: speed })}
            />
          ))}
        </View>
      </View>
      <Fold
        title={t`What was done here`}
        now={runs[0] ? `${sayWhen(runs[0].began)}: ${sayRun(runs[0])}` : t`Nothing yet`}
      >
        {runs.map((run) => (
          <View key={run.id} className="border-t border-line py-2">
            <Words>{sayRun(run)}</Words>
            <Words kind="small">{sayWhen(run.began)}</Words>
          </View>
        ))}
      </Fold>
      <Words className="text-soft">{t`Of what is there, a part is read every week, and everything within a quarter. What has rotted is copied again.`}</Words>
      <Button
        label={t`Read all of it now`}
        weight="second"
        className="self-start"
        onPress={() => {
          atPlace('checkSafePlace', id);
          onClose();
        }}
      />
      <Fold title={t`A library as it was`} now={t`Opened beside what is here`}>
        <StatesHere place={id} onOpened={onClose} />
      </Fold>
      {going ? (
        <View className="gap-2 border-t border-line pt-3">
          <Words>{t`What is there stays, and opens with its pass phrase. The pictures here no longer count as in two places because of it.`}</Words>
          <View className="flex-row flex-wrap gap-2">
            <Button label={t`Remove this place`} weight="brick" onPress={() => void remove()} />
            <Button label={t`Keep it`} weight="quiet" onPress={() => setGoing(false)} />
          </View>
        </View>
      ) : (
        <Button
          label={t`Stop looking after it`}
          weight="quiet"
          className="self-start px-0"
          onPress={() => setGoing(true)}
        />
      )}
    </Sheet>
  );
}
