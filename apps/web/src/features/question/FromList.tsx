import { t } from '@lingui/core/macro';
import { fold } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Field } from '@/ui/Field';
import { Words } from '@/ui/Words';
import { batchName } from '@/words/said';

/** One tag, event, album, batch, device or member from a list that can be searched. */
export function FromList({
  name,
  onTake,
}: {
  name: 'tags' | 'events' | 'albums' | 'batches' | 'devices' | 'members';
  onTake: (id: number) => void;
}) {
  const [typed, setTyped] = useState('');
  const tags = useAnswer('tags', {}, { enabled: name === 'tags' }).data?.tags;
  const events = useAnswer('events', {}, { enabled: name === 'events' }).data?.events;
  const albums = useAnswer('albums', {}, { enabled: name === 'albums' }).data?.albums;
  const batches = useAnswer('batches', {}, { enabled: name === 'batches' }).data?.batches;
  const devices = useAnswer('ledger', {}, { enabled: name === 'devices' }).data?.devices;
  const members = useAnswer('acts', { query: {} }, { enabled: name === 'members' }).data?.members;
  const all: { id: number; name: string; n?: number }[] =
    name === 'devices'
      ? (devices ?? []).flatMap((d) => (d.device ? [{ id: d.device, name: d.name, n: d.stored }] : []))
      : name === 'members'
        ? (members ?? [])
        : name === 'batches'
          ? (batches ?? []).map((b) => ({ id: b.id, name: batchName(b), n: b.counts.stored }))
          : name === 'tags'
            ? (tags ?? []).map((t) => ({ id: t.id, name: t.name, n: t.pictures }))
            : name === 'events'
              ? (events ?? []).flatMap((e) => (e.title ? [{ id: e.id, name: e.title, n: e.pictures }] : []))
              : (albums ?? []).flatMap((a) => (a.kind === 'plain' ? [{ id: a.id, name: a.name, n: a.pictures }] : []));
  const hits = all.filter((one) => fold(one.name).includes(fold(typed)));
  return (
    <View>
      {all.length > 8 ? <Field label={t`Find`} value={typed} onChangeText={setTyped} autoCapitalize="none" /> : null}
      {hits.slice(0, 60).map((one) => (
        <Pressable
          key={one.id}
          role="button"
          onPress={() => onTake(one.id)}
          className="min-h-button flex-row items-center justify-between gap-3 border-t border-line"
        >
          <Words className="min-w-0 flex-1">{one.name}</Words>
          <Words kind="small">{one.n}</Words>
        </Pressable>
      ))}
      {all.length === 0 ? <Words className="text-soft">{t`Nothing to choose from yet.`}</Words> : null}
    </View>
  );
}
