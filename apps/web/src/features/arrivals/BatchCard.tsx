import type { Batch } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { refresh } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Icon } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { count, sayLeft, sayNumber, sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { goOn, stop, useSending } from './sending';

/** How a batch stands, in one line of words. */
function standing(batch: Batch, held: string | undefined): string {
  const { counts } = batch;
  const ended = counts.total - counts.waiting - counts.received;
  if (batch.state === 'done') {
    const aside = counts.skipped + counts.aside + counts.failed;
    const parts = [
      counts.stored ? `${count(counts.stored, 'picture')} stored` : '',
      counts.known ? `${sayNumber(counts.known)} here already` : '',
      aside ? `${sayNumber(aside)} left out` : '',
    ].filter(Boolean);
    return parts.join(' · ') || 'Nothing in it';
  }
  const line = `${sayNumber(ended)} of ${sayNumber(counts.total)} · ${Math.floor(batch.share * 100)} %`;
  if (batch.state === 'stopped') return `Stopped at ${line}. What is stored stays.`;
  if (held === 'lost') return `The connection broke at ${line}. Nothing is lost.`;
  return batch.secondsLeft === null ? line : `${line} · ${sayLeft(batch.secondsLeft)} left`;
}

/** One batch: how far it is, what was left out and why, and the offer to make an album of it. */
export function BatchCard({ batch, onAlbum }: { batch: Batch; onAlbum: (album: number) => void }) {
  const sending = useSending((store) => store.sendings[batch.id]);
  const [open, setOpen] = useState(false);
  const [offering, setOffering] = useState(false);
  const [name, setName] = useState(batch.name);
  const { counts } = batch;
  const coming = batch.state === 'coming';
  // Files that wait for bytes nobody here is sending came from a browser that has gone.
  const orphaned = coming && counts.waiting > 0 && !sending;
  const leftOut = [
    ...batch.leftOut,
    ...(sending?.unread ?? []).map((u, i) => ({
      id: -1 - i,
      path: u.path,
      state: 'failed' as const,
      reason: u.reason,
    })),
  ];
  const answer = async (album: string | null) => {
    try {
      const { albumId } = await call('batchAlbum', { params: { id: batch.id }, body: { name: album } });
      refresh('batches', 'albums', 'library');
      if (albumId) {
        say(`The album “${album}” is made. The pictures stay where they are.`, () =>
          call('removeAlbum', { params: { id: albumId } }),
        );
        onAlbum(albumId);
      }
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <View className="mb-3 rounded-[16px] border border-line bg-card p-4" role="group" aria-label={batch.name}>
      <View className="flex-row items-start gap-3">
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={2}>
            {batch.name}
          </Words>
          <Words kind="small" aria-live={coming ? 'polite' : undefined}>
            {standing(batch, sending?.state)}
          </Words>
          <Words kind="tiny">{sayWhen(batch.createdAt)}</Words>
        </View>
        {batch.state === 'done' ? <Rings size={36} label="All stored" /> : null}
        {coming && !orphaned && sending?.state !== 'lost' ? (
          <Button label="Stop" weight="quiet" className="min-h-[44px] px-3" onPress={() => void stop(batch.id)} />
        ) : null}
        {batch.state === 'stopped' || sending?.state === 'lost' ? (
          <Button
            label="Go on"
            weight="second"
            className="min-h-[44px]"
            onPress={() => void goOn(batch.id, batch.state === 'stopped')}
          />
        ) : null}
      </View>
      {batch.state !== 'done' ? (
        <View className="mt-3">
          <DoubleBar
            tone={coming ? 'settled' : 'waiting'}
            share={batch.share}
            width={'100%' as unknown as number}
            label={`${batch.name}: ${Math.floor(batch.share * 100)} per cent`}
          />
        </View>
      ) : null}
      {orphaned ? (
        <Words
          kind="small"
          className="mt-2 text-marigold"
        >{`${count(counts.waiting, 'file')} never arrived because the page was closed. Choose the folder again: what is here already is recognised at once.`}</Words>
      ) : null}
      {batch.covers.length ? (
        <View className="mt-3 flex-row gap-[3px] overflow-hidden">
          {batch.covers.slice(0, 6).map((sha) => (
            <img
              key={sha}
              src={smallOf(sha)}
              alt=""
              style={{ height: 56, minWidth: 0, flex: 1, objectFit: 'cover', borderRadius: 4, maxWidth: 84 }}
            />
          ))}
        </View>
      ) : null}
      {leftOut.length ? (
        <View className="mt-2">
          <Pressable
            role="button"
            aria-expanded={open}
            onPress={() => setOpen(!open)}
            className="min-h-[44px] flex-row items-center gap-2"
          >
            <Words className="font-semi text-[14.5px] text-juniper">
              {open
                ? 'Hide what was left out'
                : `See what was left out, and why (${sayNumber(counts.known + counts.skipped + counts.aside + counts.failed)})`}
            </Words>
            <Icon name={open ? 'up' : 'down'} size={15} tone="juniper" />
          </Pressable>
          {open
            ? leftOut.map((item) => (
                <View key={item.id} className="border-t border-line py-2">
                  <Words className="text-[14.5px]">{item.path}</Words>
                  <Words kind="small" className={item.state === 'known' ? '' : 'text-brick'}>
                    {item.reason}
                  </Words>
                </View>
              ))
            : null}
        </View>
      ) : null}
      {batch.offer !== 'made' && batch.state === 'done' && counts.stored + counts.known > 0 ? (
        offering ? (
          <View className="mt-2 gap-3">
            <Field
              label="Name of the album"
              value={name}
              onChangeText={setName}
              maxLength={160}
              autoFocus
              onSubmitEditing={() => name.trim() && void answer(name.trim())}
            />
            <View className="flex-row gap-3">
              <Button
                className="flex-1"
                label="Make the album"
                onPress={() => void answer(name.trim())}
                disabled={!name.trim()}
              />
              <Button label="Not now" weight="quiet" onPress={() => setOffering(false)} />
            </View>
          </View>
        ) : (
          <View className="mt-2 flex-row items-center gap-1">
            <Button
              label="Make an album of it"
              weight={batch.offer === 'open' ? 'second' : 'quiet'}
              icon="album"
              className="min-h-[44px] flex-1"
              onPress={() => setOffering(true)}
            />
            {batch.offer === 'open' ? (
              <IconButton name="away" label={`No album of ${batch.name}`} onPress={() => void answer(null)} />
            ) : null}
          </View>
        )
      ) : batch.albumId ? (
        <Button
          label="Open its album"
          weight="quiet"
          className="mt-1 min-h-[44px] self-start px-0"
          onPress={() => onAlbum(batch.albumId!)}
        />
      ) : null}
    </View>
  );
}
