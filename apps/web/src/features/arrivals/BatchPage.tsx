import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { Batch, BatchItem } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { inLibrary } from '@/api/library';
import { refresh, useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { say, trouble } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { sayBytes, sayNumber, sayShare, sayWhen } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { AlbumOffer } from './AlbumOffer';
import { BatchActs } from './BatchActs';
import { BinnedOffer } from '../bin/BinnedOffer';
import { Conflicts } from './Conflicts';
import { IntoAlbum } from '@/features/filing/IntoAlbum';
import { NamesSheet } from '@/features/gather/NamesSheet';
import { NumberSheet } from '@/features/gather/NumberSheet';
import { useSending } from './sending';
import { standing } from './standing';
import { SIZE } from '@/ui/tokens';
import { sayReason } from '@/words/problems';
import { batchName } from '@/words/said';

type Fate = 'all' | 'stored' | 'known' | 'out' | 'coming' | 'beside';

const WAYS: Record<Batch['way'], MessageDescriptor> = {
  browser: msg`Sent from a browser`,
  card: msg`Copied from a card`,
  watched: msg`From a watched folder`,
  phone: msg`Sent by a phone`,
  folder: msg`From a folder on the server`,
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
  const [filing, setFiling] = useState(false);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!batch) return <Waiting />;
  const { counts } = batch;
  const out = counts.skipped + counts.aside + counts.failed;
  const tabs: [Fate, string, number][] = [
    ['all', t`All`, counts.total],
    ['stored', t`Stored`, counts.stored],
    ['known', t`Already here`, counts.known],
    ['out', t`Left out`, out],
    ['beside', t`Kept beside a picture`, counts.beside],
    ['coming', t`Still coming`, counts.waiting + counts.received],
  ];
  const again = () =>
    void call('retryBatch', { params: { id } }).then(
      ({ again: n }) => (
        say(n ? plural(n, { one: 'Trying # file again', other: 'Trying # files again' }) : t`Nothing to try again`),
        refresh('batch', 'batchItems')
      ),
      trouble,
    );
  return (
    <Page>
      <View className="mb-2 flex-row items-center gap-1 pt-4">
        <IconButton
          name="left"
          label={t`Back to Arrivals`}
          onPress={() => router.navigate('/arrivals')}
          className="-ml-3"
        />
        <Words kind="title" className="min-w-0 flex-1 text-title" numberOfLines={3}>
          {batchName(batch)}
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
                label={`${batchName(batch)}: ${sayShare(batch.share)}`}
              />
            ) : null}
            <Words kind="small">{`${i18n._(WAYS[batch.way])}, ${sayWhen(batch.createdAt)} · ${sayBytes(batch.bytes)}`}</Words>
            <BatchActs batch={batch} />
          </View>
          <AlbumOffer batch={batch} />
          {counts.stored ? (
            <Button
              label={t`See the pictures`}
              weight="second"
              icon="browse"
              onPress={() => {
                set({ batch: id });
                router.push('/browse');
              }}
            />
          ) : null}
          {counts.stored ? (
            <Button label={t`Into an album`} weight="second" icon="album" onPress={() => setFiling(true)} />
          ) : null}
          <View className="flex-row flex-wrap items-center gap-x-4">
            {counts.stored || batch.state !== 'done' ? (
              <Button
                label={batch.state === 'done' ? t`Names of the files` : t`Number the files`}
                weight="quiet"
                icon="numbers"
                className="min-h-touch px-1"
                onPress={() => setNumbering(true)}
              />
            ) : null}
            {counts.failed || out ? (
              <Button
                label={t`Try the failed ones again`}
                weight="quiet"
                icon="again"
                className="min-h-touch px-1"
                onPress={again}
              />
            ) : null}
            <a
              href={inLibrary(`/api/batches/${id}/report`)}
              download
              style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center', padding: '0 4px' }}
            >
              <Words className="font-semi text-body text-juniper">{t`Save this list`}</Words>
            </a>
          </View>
        </View>
        <View className="min-w-0 flex-1 gap-4">
          {batch.binned ? <BinnedOffer batch={batch} /> : null}
          {batch.conflicts ? <Conflicts batch={id} /> : null}
          <View>
            <Heading right={plural(counts.total, { one: '# file', other: '# files' })}>{t`Every file`}</Heading>
            <View className="flex-row flex-wrap gap-x-2">
              {tabs
                .filter(([key, , n]) => n > 0 || key === 'all')
                .map(([key, label, n]) => (
                  <Chip key={key} label={`${label} ${sayNumber(n)}`} on={fate === key} onPress={() => setFate(key)} />
                ))}
            </View>
            {(sending?.unread ?? []).map((one) => (
              <Row key={one.path} path={one.path} said={sayReason(one.reason)} bad />
            ))}
            <Items key={fate} batch={id} fate={fate} />
          </View>
        </View>
      </View>
      {filing ? (
        <IntoAlbum
          from={{ batch: id }}
          count={counts.stored}
          name={batchName(batch)}
          onClose={() => setFiling(false)}
        />
      ) : null}
      {!numbering ? null : batch.state === 'done' ? (
        <NamesSheet of={{ batch: id }} onClose={() => setNumbering(false)} />
      ) : (
        <NumberSheet of={{ batch: id, coming: true }} onClose={() => setNumbering(false)} />
      )}
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
      {data.items.length === 0 && after === 0 ? <Words className="py-4 text-soft">{t`No files here.`}</Words> : null}
      {data.after === null ? null : more ? (
        <Items batch={batch} fate={fate} after={data.after} />
      ) : (
        <Button label={t`Show more`} weight="quiet" className="self-start" onPress={() => setMore(true)} />
      )}
    </>
  );
}

const ROLES: Record<Exclude<BatchItem['role'], 'main'>, MessageDescriptor> = {
  raw: msg`The raw file of a picture`,
  clip: msg`The moving part of a picture`,
  before: msg`The picture before it was edited`,
  notes: msg`Kept beside its picture`,
  said: msg`What was written about a picture`,
};

function fateOf(item: BatchItem): string {
  if (item.reason)
    return item.state === 'aside' ? t`${sayReason(item.reason)}; the file is kept aside` : sayReason(item.reason);
  if (item.state === 'stored') {
    if (item.role !== 'main') return i18n._(ROLES[item.role]);
    return item.alike ? t`Stored; a near double of an earlier one` : t`Stored`;
  }
  return item.state === 'waiting' ? t`Not arrived yet` : t`Coming in`;
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
