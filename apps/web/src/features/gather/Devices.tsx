import type { LedgerEntry, SourceState } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { trouble } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Icon } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { count, sayBytes, sayLongDay, sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { iconOf } from './DeviceRows';
import { clearLine, gapLine, missingLine, storedLine } from './ledgerWords';
import { PhoneSheet, type Key } from './PhoneSheet';

/** The household's ledger: each device, what came in from it, and up to which day it may be cleared. */
export function Devices() {
  const router = useRouter();
  const wide = useWide();
  const keeper = useMe().data?.member?.part === 'keeper';
  const { data, error, refetch } = useAnswer('ledger', {});
  const room = useAnswer('room', {}).data;
  const [adding, setAdding] = useState(false);
  const [key, setKey] = useState<Key | null>(null);
  return (
    <Page>
      <View className="mb-2 flex-row items-center gap-1 pt-2">
        <IconButton
          name="left"
          label="Back to Arrivals"
          onPress={() => router.navigate('/arrivals')}
          className="-ml-3"
        />
        <Words kind="title" className="min-w-0 flex-1">
          Household devices
        </Words>
      </View>
      <Words className="mb-4 max-w-page text-soft">
        Every phone, camera and card that pictures came from. A device may be cleared up to the day until which
        everything it made is stored here and was read back whole.
      </Words>
      <View className="mb-5 flex-row flex-wrap items-center gap-3">
        {keeper ? (
          <Button label="Let a phone deliver" icon="phone" weight="second" onPress={() => setAdding(true)} />
        ) : null}
        {room ? (
          <Words kind="small" className={room.full ? 'text-brick' : ''}>
            {room.full
              ? 'The disk is full: taking in waits for room.'
              : `${sayBytes(room.left)} of room left on the disk`}
          </Words>
        ) : null}
      </View>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.devices.length === 0 ? (
        <Empty
          title="No device is known yet"
          text="As soon as pictures come in, the phones and cameras they were taken with are listed here."
        />
      ) : null}
      <View className={wide ? 'flex-row flex-wrap gap-4' : 'gap-4'}>
        {data?.devices.map((entry) => (
          <View key={`${entry.device} ${entry.name}`} style={wide ? { width: 440 } : {}}>
            <DeviceCard entry={entry} keeper={keeper} onKey={setKey} />
          </View>
        ))}
      </View>
      {adding || key ? (
        <PhoneSheet
          given={key}
          onClose={() => {
            setAdding(false);
            setKey(null);
          }}
        />
      ) : null}
    </Page>
  );
}

function DeviceCard({ entry, keeper, onKey }: { entry: LedgerEntry; keeper: boolean; onKey: (key: Key) => void }) {
  const [naming, setNaming] = useState(false);
  const clear = clearLine(entry);
  const missing = missingLine(entry);
  return (
    <View className="gap-2 rounded-card border border-line bg-card p-4" role="group" aria-label={entry.name}>
      <View className="flex-row items-start gap-3">
        <View className="pt-0.5">
          <Icon name={iconOf(entry)} size={22} />
        </View>
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={2}>
            {entry.name}
          </Words>
          <Words kind="small">{`${storedLine(entry)}${entry.bytes ? ` · ${sayBytes(entry.bytes)}` : ''}`}</Words>
          {entry.lastSeen ? <Words kind="tiny">{`Last seen ${sayWhen(entry.lastSeen)}`}</Words> : null}
        </View>
        <Rings
          size={34}
          joined={clear.settled}
          label={clear.settled ? 'May be cleared in part' : 'Not to be cleared'}
        />
        {entry.device ? (
          <IconButton
            name="edit"
            size={17}
            label={`Rename ${entry.name}`}
            onPress={() => setNaming(true)}
            className="-mr-3 -mt-2"
          />
        ) : null}
      </View>
      <Words className={`font-semi ${clear.settled ? 'text-juniper' : 'text-marigold'}`}>{clear.text}</Words>
      {missing ? (
        <Words kind="small" className="text-marigold">
          {missing}
        </Words>
      ) : null}
      {entry.device
        ? entry.gaps.slice(0, 6).map((gap) => <Gap key={gap.from} device={entry.device!} gap={gap} />)
        : null}
      {entry.device && entry.gaps.length > 1 ? (
        <Button
          label={`All ${entry.gaps.length} are gone`}
          weight="quiet"
          className="min-h-touch self-start px-0"
          onPress={() =>
            void act(
              () =>
                call('settleGap', {
                  params: { id: entry.device! },
                  body: { from: entry.gaps.map((gap) => gap.from) },
                }),
              `${count(entry.gaps.length, 'gap')} of ${entry.name}: no longer waited for.`,
              'sources',
            )
          }
        />
      ) : null}
      {entry.gaps.length > 6 ? <Words kind="small">{`and ${count(entry.gaps.length - 6, 'more gap')}`}</Words> : null}
      {entry.clearUntil && !entry.lookedAt ? (
        <Words kind="tiny">
          What is on it now has not been looked at; put its card in, and only what is really there counts.
        </Words>
      ) : null}
      {entry.sources.map((source) => (
        <SourceRow key={source.id} source={source} keeper={keeper} onKey={onKey} />
      ))}
      {naming ? <NameSheet entry={entry} onClose={() => setNaming(false)} /> : null}
    </View>
  );
}

function Gap({ device, gap }: { device: number; gap: LedgerEntry['gaps'][number] }) {
  const settle = () =>
    void act(
      () => call('settleGap', { params: { id: device }, body: { from: [gap.from] } }),
      `${gap.missing === 1 ? gap.from : `${gap.from} to ${gap.to}`}: no longer waited for.`,
      'sources',
    );
  return (
    <View className="flex-row items-center gap-2 border-t border-line pt-1">
      <View className="min-w-0 flex-1">
        <Words kind="small" className="text-ink">
          {gapLine(gap)}
        </Words>
        <Words kind="tiny">{`after ${sayLongDay(gap.day)}`}</Words>
      </View>
      <Button label="They are gone" weight="quiet" className="min-h-touch px-2" onPress={settle} />
    </View>
  );
}

const KIND: Record<SourceState['kind'], string> = {
  card: 'Card or folder',
  phone: 'Delivers by itself',
  folder: 'Watched folder',
};

function SourceRow({ source, keeper, onKey }: { source: SourceState; keeper: boolean; onKey: (key: Key) => void }) {
  const renew = () =>
    void call('renewPassword', { params: { id: source.id } }).then(
      (key) => onKey({ ...key, name: source.name }),
      trouble,
    );
  const remove = () =>
    void act(
      () => call('changeSource', { params: { id: source.id }, body: { removed: true } }),
      `${source.name} is off the list. Its pictures stay.`,
      'sources',
    );
  return (
    <View className="gap-0.5 border-t border-line pt-2">
      <Words
        kind="small"
        className="text-ink"
      >{`${KIND[source.kind]}: ${source.name}${source.present && source.kind === 'card' ? ', in now' : ''}`}</Words>
      <Words kind="tiny">{source.lastSeen ? `Last seen ${sayWhen(source.lastSeen)}` : 'Not seen yet'}</Words>
      {keeper ? (
        <View className="flex-row flex-wrap gap-x-3">
          {source.kind === 'phone' ? (
            <Button label="New password" weight="quiet" className="min-h-touch px-0" onPress={renew} />
          ) : null}
          <Button label="Take off the list" weight="quiet" className="min-h-touch px-0" onPress={remove} />
        </View>
      ) : null}
    </View>
  );
}

function NameSheet({ entry, onClose }: { entry: LedgerEntry; onClose: () => void }) {
  const [name, setName] = useState(entry.name);
  const keep = () => {
    onClose();
    void act(
      () => call('nameDevice', { params: { id: entry.device! }, body: { name: name.trim() } }),
      `Now called ${name.trim()}.`,
      'sources',
    );
  };
  return (
    <Sheet title="What is it called in this house?" onClose={onClose}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        maxLength={120}
        autoFocus
        onSubmitEditing={() => name.trim() && keep()}
      />
      <Button label="Keep this name" disabled={!name.trim()} onPress={keep} />
    </Sheet>
  );
}
