import type { Batch, BatchItem } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { say, trouble } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { count, sayBytes, sayNumber, sayWhen } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { AlbumOffer } from './AlbumOffer';
import { BatchActs } from './BatchActs';
import { Conflicts } from './Conflicts';
import { NumberSheet } from '@/features/gather/NumberSheet';
import { useSending } from './sending';
import { standing } from './standing';
import { SIZE } from '@/ui/tokens';

type Fate = 'all' | 'stored' | 'known' | 'out' | 'coming' | 'beside';

const WAYS: Record<Batch['way'], string> = {
  browser: 'Sent from a browser',
  card: 'Taken from a card',
  watched: 'From a watched folder',
  phone: 'Delivered by a phone',
  folder: 'Taken in from a folder of the server',
};

/** One batch with every file and its fate. */
export function BatchPage({ id }: { id: number }) {
  const router = useRouter();
  const wide = useWide();
  const set = useAsk((ask) => ask.set);
  const { data: batch, error, refetch } = useAnswer('batch', { params: { id } });
  const full = useAnswer('library', {}).data?.full ?? false;
  const sending = useSending((store) => store.sendings[id]);
  const [fate, setFate] = useState<Fate>('all');
  const [numbering, setNumbering] = useState(false);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!batch) return <Waiting />;
  const { counts } = batch;
  const out = counts.skipped + counts.aside + counts.failed;
  const tabs: [Fate, string, number][] = [
    ['all', 'All', counts.total],
    ['stored', 'Stored', counts.stored],
    ['known', 'Here already', counts.known],
    ['out', 'Left out', out],
    ['beside', 'Beside a picture', counts.beside],
    ['coming', 'Still coming', counts.waiting + counts.received],
  ];
  const again = () =>
    void call('retryBatch', { params: { id } }).then(
      ({ again: n }) => (
        say(n ? `${count(n, 'file is', 'files are')} tried again.` : 'There is nothing to try again.'),
        refresh('batch', 'batchItems')
      ),
      trouble,
    );
  return (
    <Page>
      <View className="mb-2 flex-row items-center gap-1 pt-4">
        <IconButton
          name="left"
          label="Back to Arrivals"
          onPress={() => router.navigate('/arrivals')}
          className="-ml-3"
        />
        <Words kind="title" className="min-w-0 flex-1 text-title" numberOfLines={3}>
          {batch.name}
        </Words>
      </View>
      <View className={wide ? 'flex-row items-start gap-8' : 'gap-6'}>
        <View className="gap-3" style={wide ? { width: 360 } : {}}>
          <View className="gap-2 rounded-card border border-line bg-card p-4">
            <Words kind="strong" aria-live={batch.state === 'coming' ? 'polite' : undefined}>
              {standing(batch, sending, full)}
            </Words>
            {batch.state !== 'done' ? (
              <DoubleBar
                tone={batch.state === 'coming' && !full ? 'settled' : 'waiting'}
                share={batch.share}
                width={'100%' as unknown as number}
                label={`${batch.name}: ${Math.floor(batch.share * 100)} per cent`}
              />
            ) : null}
            <Words kind="small">{`${WAYS[batch.way]}, ${sayWhen(batch.createdAt)} · ${sayBytes(batch.bytes)}`}</Words>
            <BatchActs batch={batch} />
          </View>
          <AlbumOffer batch={batch} />
          {counts.stored ? (
            <Button
              label="Look at the pictures"
              weight="second"
              icon="browse"
              onPress={() => {
                set({ batch: id });
                router.push('/browse');
              }}
            />
          ) : null}
          <View className="flex-row flex-wrap items-center gap-x-4">
            {counts.stored || batch.state !== 'done' ? (
              <Button
                label="Number the files"
                weight="quiet"
                icon="numbers"
                className="min-h-touch px-1"
                onPress={() => setNumbering(true)}
              />
            ) : null}
            {counts.failed || out ? (
              <Button
                label="Try the failed ones again"
                weight="quiet"
                icon="again"
                className="min-h-touch px-1"
                onPress={again}
              />
            ) : null}
            <a
              href={`/api/batches/${id}/report`}
              download
              style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center', padding: '0 4px' }}
            >
              <Words className="font-semi text-body text-juniper">Save this list</Words>
            </a>
          </View>
        </View>
        <View className="min-w-0 flex-1 gap-4">
          {batch.conflicts ? <Conflicts batch={id} /> : null}
          <View>
            <Heading right={count(counts.total, 'file')}>Every file</Heading>
            <View className="flex-row flex-wrap gap-x-2">
              {tabs
                .filter(([key, , n]) => n > 0 || key === 'all')
                .map(([key, label, n]) => (
                  <Chip key={key} label={`${label} ${sayNumber(n)}`} on={fate === key} onPress={() => setFate(key)} />
                ))}
            </View>
            {(sending?.unread ?? []).map((one) => (
              <Row key={one.path} path={one.path} said={one.reason} bad />
            ))}
            <Items key={fate} batch={id} fate={fate} />
          </View>
        </View>
      </View>
      {numbering ? (
        <NumberSheet of={{ batch: id, coming: batch.state !== 'done' }} onClose={() => setNumbering(false)} />
      ) : null}
    </Page>
  );
}

const PAGE = 100;

/** The files of one fate, a page at a time. */
function Items({ batch, fate, after = 0 }: { batch: number; fate: Fate; after?: number }) {
  const [more, setMore] = useState(false);
  const { data, error, refetch } = useAnswer('batchItems', {
    params: { id: batch },
    body: { fate, after, limit: PAGE },
  });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  return (
    <>
      {data.items.map((item) => (
        <ItemRow key={item.id} item={item} />
      ))}
      {data.items.length === 0 && after === 0 ? (
        <Words className="py-4 text-soft">There is no such file in it.</Words>
      ) : null}
      {data.after === null ? null : more ? (
        <Items batch={batch} fate={fate} after={data.after} />
      ) : (
        <Button label="Show more" weight="quiet" className="self-start" onPress={() => setMore(true)} />
      )}
    </>
  );
}

const ROLES: Record<BatchItem['role'], string> = {
  main: '',
  raw: 'The negative of its picture',
  clip: 'The moving half of its picture',
  before: 'The shot before it was edited',
  notes: 'Kept beside its picture',
  said: 'What was said of its picture',
};

function fateOf(item: BatchItem): string {
  if (item.reason) return `${item.reason[0]!.toUpperCase()}${item.reason.slice(1)}`;
  if (item.state === 'stored') {
    if (item.role !== 'main') return ROLES[item.role];
    return item.alike ? 'Stored; nearly the same as an earlier one' : 'Stored';
  }
  return item.state === 'waiting' ? 'Not arrived yet' : 'Coming in';
}

function ItemRow({ item }: { item: BatchItem }) {
  const bad = item.state === 'skipped' || item.state === 'aside' || item.state === 'failed';
  const row = (
    <Row
      path={item.path}
      said={`${fateOf(item)} · ${sayBytes(item.bytes)}`}
      bad={bad}
      sha={item.sha}
      marked={item.alike}
    />
  );
  return item.picture ? (
    <Link href={{ pathname: '/picture/[id]', params: { id: item.picture } }} style={{ display: 'flex' }}>
      {row}
    </Link>
  ) : (
    row
  );
}

function Row({
  path,
  said,
  bad,
  sha = null,
  marked = false,
}: {
  path: string;
  said: string;
  bad: boolean;
  sha?: string | null;
  marked?: boolean;
}) {
  const cut = path.lastIndexOf('/');
  return (
    <View className="min-h-16 w-full flex-row items-center gap-3 border-t border-line py-2">
      <View className="h-touch w-16 shrink-0 items-center justify-center overflow-hidden rounded-picture bg-mist">
        {sha ? (
          <img src={smallOf(sha)} alt="" loading="lazy" style={{ maxWidth: 60, maxHeight: 44, objectFit: 'contain' }} />
        ) : null}
      </View>
      <View className="min-w-0 flex-1">
        <Words className="text-body">{path.slice(cut + 1)}</Words>
        <Words kind="small" className={bad ? 'text-brick' : marked ? 'text-marigold' : ''}>
          {said}
        </Words>
        {cut > 0 ? <Words kind="tiny">{path.slice(0, cut)}</Words> : null}
      </View>
    </View>
  );
}
