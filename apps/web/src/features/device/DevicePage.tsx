import { plural, t } from '@lingui/core/macro';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { install, useInstall } from '@/device/install';
import {
  keepHere,
  keepNoLonger,
  type Kept,
  LIMITS,
  limit,
  readKept,
  setLimit,
  stopKeeping,
  useKept,
} from '@/device/kept';
import { useLine } from '@/device/line';
import { type Act, letGo, readOutbox, useOutbox } from '@/device/outbox';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { sayBytes, sayNumber, sayWhen } from '@/ui/say';
import { Page } from '@/ui/State';
import { Words } from '@/ui/Words';
import { sayReason } from '@/words/problems';

/** What this device keeps for when there is no connection, and what was said meanwhile. */
export function DevicePage() {
  useEffect(() => {
    void readKept();
    void readOutbox();
  }, []);
  return (
    <Page title={t`On this device`} narrow>
      <View className="gap-8">
        <Waiting />
        <KeptList />
        <Installing />
        <View className="gap-2">
          <Heading>{t`When you sign out`}</Heading>
          <Words className="text-soft">{t`Everything on this page is removed from this device, and with it the pictures you’ve looked at. Nothing changes in the library.`}</Words>
        </View>
      </View>
    </Page>
  );
}

/** What waits to be sent, and what was not taken. */
function Waiting() {
  const away = useLine((line) => line.away);
  const acts = useOutbox((outbox) => outbox.acts);
  return (
    <View>
      <Heading
        tone={acts.length ? 'waiting' : 'settled'}
        right={acts.length || ''}
      >{t`Changed without a connection`}</Heading>
      {acts.length === 0 ? (
        <Words className="text-soft">
          {away
            ? t`Stars, hearts, tags, captions, names and the pile can be changed now. They wait here until there is a connection.`
            : t`Nothing waits: every change is in the library.`}
        </Words>
      ) : null}
      {acts.map((act) => (
        <View key={act.id} className="gap-1 border-t border-line py-3">
          <Words kind="strong">{act.said || sayKind(act)}</Words>
          <Words kind="small">
            {act.stuck ? sayStuck(act.stuck) : t`Waits since ${sayWhen(new Date(act.at).toISOString())}`}
          </Words>
          <Choices act={act} />
        </View>
      ))}
    </View>
  );
}

function sayKind({ name }: Act): string {
  if (name === 'setPile') return t`The pile changed`;
  if (name === 'comment') return t`Comment written`;
  if (name === 'ownHeart') return t`Heart changed`;
  return t`A picture changed`;
}

function sayStuck(stuck: NonNullable<Act['stuck']>): string {
  if (stuck.why === 'gone') return t`What you changed is no longer in the library.`;
  if (stuck.why === 'refused') return stuck.reason ? sayReason(stuck.reason) : t`The library didn’t accept it.`;
  return t`Somebody else has changed it to: ${stuck.theirs}.`;
}

function Choices({ act }: { act: Act }) {
  const giveUp = () => void letGo(act.id).catch(trouble);
  if (!act.stuck)
    return (
      <Button
        className="self-start"
        label={t`Don’t send it`}
        weight="quiet"
        onPress={() => void import('@/device/takeBack').then((one) => one.takeBackWaiting(act.id)).catch(trouble)}
      />
    );
  if (act.stuck.why !== 'changed')
    return <Button className="self-start" label={t`Discard it`} weight="second" onPress={giveUp} />;
  return (
    <View className="flex-row flex-wrap gap-2">
      <Button
        label={t`Use mine`}
        weight="second"
        onPress={() =>
          void import('@/device/replay').then((one) => one.sendAnyway(act)).then(() => say(t`Yours is saved.`), trouble)
        }
      />
      <Button label={t`Keep theirs`} weight="quiet" onPress={giveUp} />
    </View>
  );
}

/** What is kept here, with its size, and how much may be. */
function KeptList() {
  const kept = Object.values(useKept((all) => all.kept));
  const [most, setMost] = useState(limit);
  const [free, setFree] = useState<number | null>(null);
  useEffect(() => {
    void navigator.storage?.estimate?.().then(({ quota = 0, usage = 0 }) => setFree(quota - usage));
  }, [kept.length]);
  const bytes = kept.reduce((sum, one) => sum + one.bytes, 0);
  return (
    <View>
      <Heading right={kept.length ? sayBytes(bytes) : ''}>{t`Kept on this device`}</Heading>
      <Words className="text-soft">
        {kept.length
          ? t`Anybody who can unlock this device can see it; it isn’t encrypted.`
          : t`Choose “Keep on this device” for an album, a question at hand or a show. Then its pictures can be seen, played and searched anywhere.`}
      </Words>
      {kept.map((one) => (
        <KeptRow key={`${one.wanted.kind} ${one.wanted.id}`} one={one} />
      ))}
      <View className="mt-3 gap-1" role="group" aria-label={t`At most`}>
        <Words kind="small">
          {free === null ? t`At most` : t`At most, of ${sayBytes(Math.max(0, free))} free here`}
        </Words>
        <View className="flex-row flex-wrap gap-2">
          {LIMITS.map((one) => (
            <Chip
              key={one}
              label={sayBytes(one)}
              on={most === one}
              onPress={() => {
                setLimit(one);
                setMost(one);
              }}
            />
          ))}
        </View>
      </View>
    </View>
  );
}

function sayState({ state, done, ids, bytes }: Kept): string {
  const n = plural(ids.length, { one: '# picture', other: '# pictures' });
  const far = t`${sayNumber(done)} of ${sayNumber(ids.length)}`;
  switch (state) {
    case 'here':
      return `${n}, ${sayBytes(bytes)}`;
    case 'coming':
      return ids.length ? t`${far} here, ${sayBytes(bytes)}` : t`It begins in a moment`;
    case 'stopped':
      return t`Stopped at ${far}`;
    case 'full':
      return t`There is no more room for it: ${far} are here. Allow more below, or remove something.`;
    case 'failed':
      return t`Connection lost at ${far}. It continues by itself.`;
  }
}

function KeptRow({ one }: { one: Kept }) {
  const { wanted, state, done, ids } = one;
  const coming = state === 'coming';
  return (
    <View className="gap-2 border-t border-line py-3">
      <View className="flex-row flex-wrap items-center gap-x-3">
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={2}>
            {wanted.name}
          </Words>
          <Words kind="small">{sayState(one)}</Words>
        </View>
        {coming ? <Button label={t`Stop`} weight="second" onPress={() => stopKeeping(wanted)} /> : null}
        {!coming && state !== 'here' ? (
          <Button label={t`Continue`} weight="second" onPress={() => void keepHere(wanted).catch(trouble)} />
        ) : null}
        <Button label={t`Remove`} weight="quiet" onPress={() => void keepNoLonger(wanted).catch(trouble)} />
      </View>
      {coming && ids.length ? <DoubleBar share={done / ids.length} width={'100%' as unknown as number} /> : null}
    </View>
  );
}

/** Gemmel in a window of its own. */
function Installing() {
  const { asking, own } = useInstall();
  const apple = /iPhone|iPad|Macintosh/.test(navigator.userAgent) && !('chrome' in window);
  return (
    <View className="items-start gap-2">
      <Heading>{t`On the home screen`}</Heading>
      <Words className="text-soft">
        {own
          ? t`Gemmel is installed here: it has its own window, and other apps can share pictures with it.`
          : asking
            ? t`Once installed, Gemmel has its own window, and other apps can share pictures with it.`
            : apple
              ? t`Open the browser’s share menu and choose “Add to Home Screen”.`
              : window.isSecureContext
                ? t`Your browser’s menu may offer to install it.`
                : t`Browsers install Gemmel only over an encrypted connection; docs/reach.md says how a house gets one.`}
      </Words>
      {asking && !own ? <Button label={t`Install Gemmel`} onPress={() => void install().catch(trouble)} /> : null}
    </View>
  );
}

/** Leads to it from the household. */
export function DeviceSection({ onOpen }: { onOpen: () => void }) {
  return (
    <View className="items-start gap-2">
      <Heading>{t`On this device`}</Heading>
      <Words className="text-soft">{t`Albums and shows for the train, what waits to be sent, and Gemmel on the home screen.`}</Words>
      <Button label={t`See it`} weight="second" icon="phone" onPress={onOpen} />
    </View>
  );
}
