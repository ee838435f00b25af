import type { Share, Visit } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { copyLink } from '@/state/copyLink';
import { say, trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { Fold } from './Fold';
import { MailButton } from './MailButton';
import { LinkLine, LookAsGuest, useWhole } from './Links';
import { NOBODY, PeopleFields, type Chosen } from './PeopleFields';
import { settingsOf, type ShareSettings } from './settings';
import { LinkFields, SettingsFields } from './SettingsFields';

const DEVICES: Record<Visit['device'], MessageDescriptor> = {
  phone: msg`on a phone`,
  tablet: msg`on a tablet`,
  computer: msg`on a computer`,
};

/** Everything about a share that is there: its links, how it is set, who looked. */
export function ShareDetail({ share, onClose }: { share: Share; onClose: () => void }) {
  const [settings, setSettings] = useState<ShareSettings>(() => settingsOf(share));
  const [asking, setAsking] = useState(false);
  const change = (part: Partial<ShareSettings>) => setSettings((old) => ({ ...old, ...part }));
  const same = JSON.stringify(settings) === JSON.stringify(settingsOf(share));
  const keep = async () => {
    const { word, ...rest } = settings;
    const done = await act(
      () =>
        call('changeShare', {
          params: { id: share.id },
          body: { ...rest, title: rest.title.trim(), ...(word === null ? {} : { word: word.trim() || null }) },
        }),
      t`“${settings.title.trim()}” changed`,
      'shares',
    );
    if (done) onClose();
  };
  if (asking) return <NewLinkSheet share={share} onClose={() => setAsking(false)} />;
  return (
    <Sheet title={share.title} onClose={onClose}>
      {share.path ? (
        <View>
          <LinkLine
            name={t`Anybody with the link`}
            {...(share.word ? { about: t`and the word` } : {})}
            path={share.path}
            title={share.title}
          />
          <Button
            label={t`Make a new link`}
            weight="quiet"
            className="min-h-touch self-start px-0"
            onPress={() => setAsking(true)}
          />
        </View>
      ) : null}
      <MailButton share={share} />
      <Named share={share} />
      <View>
        <Fold title={t`Who looked`} now={lookedWords(share)}>
          <Visits id={share.id} />
        </Fold>
        <Fold title={t`For`} now={share.anybody ? t`anybody with the link` : t`only people by name`}>
          <LinkFields settings={settings} has={share.word} onChange={change} />
        </Fold>
        <SettingsFields settings={settings} onChange={change} />
      </View>
      <Field
        label={t`Title for guests`}
        value={settings.title}
        onChangeText={(typed) => change({ title: typed })}
        maxLength={160}
      />
      <Button label={t`Save`} disabled={same || !settings.title.trim()} onPress={() => void keep()} />
      <LookAsGuest share={share} />
    </Sheet>
  );
}

/** How often a share was opened, and when last. */
export const lookedWords = (share: Pick<Share, 'opened' | 'lastOpened'>): string =>
  share.opened
    ? plural(share.opened, {
        one: `Opened once, on ${sayWhen(share.lastOpened!)}`,
        other: `Opened # times, last on ${sayWhen(share.lastOpened!)}`,
      })
    : t`Not opened yet`;

/** Those a share is for by name, each with a link to close or renew; and more of them. */
function Named({ share }: { share: Share }) {
  const [chosen, setChosen] = useState<Chosen>(NOBODY);
  const add = () =>
    call('addGuests', { params: { id: share.id }, body: chosen }).then(() => {
      setChosen(NOBODY);
      refresh('shares');
    }, trouble);
  const set = (guest: number, what: 'close' | 'renew') =>
    call('closeGuest', { params: { id: share.id, guest, what } }).then(() => refresh('shares'), trouble);
  const count = share.guests.length;
  return (
    <Fold title={t`By name`} now={count ? plural(count, { one: '# person', other: '# people' }) : t`nobody yet`}>
      {share.guests.map((guest) => (
        <View key={guest.id}>
          {guest.path ? (
            <LinkLine name={guest.name} about={lookedWords(guest)} path={guest.path} title={share.title} />
          ) : (
            <View className="border-t border-line py-1.5">
              <Words kind="strong">{guest.name}</Words>
              <Words kind="small">{t`This link is closed.`}</Words>
            </View>
          )}
          <View className="flex-row gap-x-4">
            {guest.path ? (
              <Button
                label={t`Close for ${guest.name}`}
                weight="quiet"
                className="min-h-touch px-0"
                onPress={() => void set(guest.id, 'close')}
              />
            ) : null}
            <Button
              label={t`New link`}
              weight="quiet"
              className="min-h-touch px-0"
              onPress={() => void set(guest.id, 'renew')}
            />
          </View>
        </View>
      ))}
      <PeopleFields chosen={chosen} there={share.guests.map(({ member }) => member)} onChange={setChosen} />
      {chosen.members.length + chosen.people.length ? (
        <Button label={t`Give them links`} weight="second" onPress={() => void add()} />
      ) : null}
    </Fold>
  );
}

/** The visits of the last 90 days. */
function Visits({ id }: { id: number }) {
  const { data } = useAnswer('visits', { params: { id } });
  if (!data) return <Words kind="small">{t`Looking …`}</Words>;
  return (
    <View>
      {data.visits.map((visit, i) => (
        <View key={i} className="border-t border-line py-1.5">
          <Words className="text-small">{visit.name ?? t`Somebody with the link`}</Words>
          <Words kind="small">
            {[
              sayWhen(visit.at),
              i18n._(DEVICES[visit.device]),
              visit.saved ? plural(visit.saved, { one: 'saved # picture', other: 'saved # pictures' }) : '',
            ]
              .filter(Boolean)
              .join(' · ')}
          </Words>
        </View>
      ))}
      <Words kind="small">{t`Visits are kept for 90 days. Guests are told that you can see them.`}</Words>
    </View>
  );
}

function NewLinkSheet({ share, onClose }: { share: Share; onClose: () => void }) {
  const whole = useWhole();
  const renew = () =>
    call('renewLink', { params: { id: share.id } }).then(async ({ share: now }) => {
      refresh('shares');
      onClose();
      if (now.path) await copyLink(whole(now.path));
      else say(t`The link is new`);
    }, trouble);
  return (
    <Sheet title={t`A new link for “${share.title}”?`} onClose={onClose}>
      <Words>{t`The link that was sent before stops working at once, for everybody who has it. Everything else about the share stays.`}</Words>
      <Button label={t`Make and copy the new link`} icon="link" onPress={() => void renew()} />
    </Sheet>
  );
}
