import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
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
import { sayBytes, sayLongDay, sayNumber, sayWhen } from '@/ui/say';
import { ForWhomOf } from '@/features/sight/ForWhomOf';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { iconOf } from './DeviceRows';
import { clearLine, gapLine, inTwoPlaces, missingLine, storedLine } from './ledgerWords';
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
          label={t`Back to Arrivals`}
          onPress={() => router.navigate('/arrivals')}
          className="-ml-3"
        />
        <Words kind="title" className="min-w-0 flex-1">{t`Household devices`}</Words>
      </View>
      <Words className="mb-4 max-w-page text-soft">{t`Every phone, camera and card your pictures came from. Safe to clear up to the date shown: everything before it is stored and checked.`}</Words>
      <View className="mb-5 flex-row flex-wrap items-center gap-3">
        {keeper ? (
          <Button label={t`Connect a phone`} icon="phone" weight="second" onPress={() => setAdding(true)} />
        ) : null}
        {room ? (
          <Words kind="small" className={room.full ? 'text-brick' : ''}>
            {room.full
              ? t`The disk is full. Nothing more comes in until there is space.`
              : t`${sayBytes(room.left)} free on the disk`}
          </Words>
        ) : null}
      </View>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.devices.length === 0 ? (
        <Empty
          title={t`No devices yet`}
          text={t`As pictures come in, the phones and cameras they were taken with are listed here.`}
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
          {entry.lastSeen ? <Words kind="tiny">{t`Last seen ${sayWhen(entry.lastSeen)}`}</Words> : null}
        </View>
        <Rings
          size={34}
          joined={inTwoPlaces(entry)}
          label={inTwoPlaces(entry) ? t`All of it is in two places` : t`Not all of it is in two places`}
        />
        {entry.device ? (
          <IconButton
            name="edit"
            size={17}
            label={t`Rename ${entry.name}`}
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
          label={t`All ${sayNumber(entry.gaps.length)} are gone for good`}
          weight="quiet"
          className="min-h-touch self-start px-0"
          onPress={() =>
            void act(
              () =>
                call('settleGap', {
                  params: { id: entry.device! },
                  body: { from: entry.gaps.map((gap) => gap.from) },
                }),
              plural(entry.gaps.length, { one: 'No longer waiting for # gap', other: 'No longer waiting for # gaps' }),
              'sources',
            )
          }
        />
      ) : null}
      {entry.gaps.length > 6 ? (
        <Words kind="small">{plural(entry.gaps.length - 6, { one: 'and # more gap', other: 'and # more gaps' })}</Words>
      ) : null}
      {entry.clearUntil && !entry.lookedAt ? (
        <Words kind="tiny">{t`We haven’t seen what’s on it now. Insert its card to be certain.`}</Words>
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
      t`No longer waiting for ${gap.missing === 1 ? gap.from : `${gap.from} – ${gap.to}`}`,
      'sources',
    );
  return (
    <View className="flex-row items-center gap-2 border-t border-line pt-1">
      <View className="min-w-0 flex-1">
        <Words kind="small" className="text-ink">
          {gapLine(gap)}
        </Words>
        <Words kind="tiny">{t`after ${sayLongDay(gap.day)}`}</Words>
      </View>
      <Button label={t`Gone for good`} weight="quiet" className="min-h-touch px-2" onPress={settle} />
    </View>
  );
}

const KIND: Record<SourceState['kind'], MessageDescriptor> = {
  card: msg`Card or folder`,
  phone: msg`Sends by itself`,
  folder: msg`Watched folder`,
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
      [t`${source.name} removed from the list`, t`Its pictures stay.`],
      'sources',
    );
  return (
    <View className="gap-0.5 border-t border-line pt-2">
      <Words
        kind="small"
        className="text-ink"
      >{`${i18n._(KIND[source.kind])}: ${source.name}${source.present && source.kind === 'card' ? ` · ${t`connected`}` : ''}`}</Words>
      <Words kind="tiny">{source.lastSeen ? t`Last seen ${sayWhen(source.lastSeen)}` : t`Not seen yet`}</Words>
      {keeper ? (
        <View className="flex-row flex-wrap gap-x-3">
          {source.kind === 'phone' ? (
            <Button label={t`New password`} weight="quiet" className="min-h-touch px-0" onPress={renew} />
          ) : null}
          <Button label={t`Remove from the list`} weight="quiet" className="min-h-touch px-0" onPress={remove} />
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
      t`Now called ${name.trim()}`,
      'sources',
    );
  };
  return (
    <Sheet title={t`What do you call it at home?`} onClose={onClose}>
      <Field
        label={t`Name`}
        value={name}
        onChangeText={setName}
        maxLength={120}
        autoFocus
        onSubmitEditing={() => name.trim() && keep()}
      />
      <Button label={t`Use this name`} disabled={!name.trim()} onPress={keep} />
      {entry.device === null ? null : (
        <ForWhomOf
          of="device"
          id={entry.device}
          name={entry.name}
          text={t`Every picture from this device, unless you set the picture otherwise.`}
        />
      )}
    </Sheet>
  );
}
