import { plural, t } from '@lingui/core/macro';
import { BIN_DAYS, type Binned } from '@gemmel/contract';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useMe } from '@/features/account/session';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Rings } from '@/ui/Rings';
import { sayBytes } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { placeholder } from '@/ui/thumb';
import { Words } from '@/ui/Words';
import { bringBack, setDays } from './acts';
import { BinnedSheet } from './BinnedSheet';
import { ForGood, type Going } from './ForGood';
import { sayUntil } from './words';

/** How many days something still stays, in words. */
function sayFor(until: string): string {
  const days = Math.max(0, Math.ceil((Date.parse(until) - Date.now()) / 86_400_000));
  return plural(days, { one: '# day left', other: '# days left' });
}

/** "For 30 days", or that nothing goes by itself. */
const sayDays = (days: number | null): string =>
  days === null ? t`Never` : days === 365 ? t`A year` : plural(days, { one: '# day', other: '# days' });

/** What was binned, until when, and the ways out of the bin: back to where it was, or away for good. */
export function BinPage() {
  const wide = useWide();
  const keeper = useMe().data?.member?.part === 'keeper';
  const pages = useInfiniteQuery({
    queryKey: ['bin', {}],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) => call('bin', { query: pageParam ? { before: pageParam } : {} }, signal),
    getNextPageParam: (page) => page.before ?? undefined,
  });
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [open, setOpen] = useState<Binned | null>(null);
  const [going, setGoing] = useState<Going | null>(null);
  const all = pages.data?.pages ?? [];
  const [first] = all;
  if (pages.error) return <Failed error={pages.error} again={() => void pages.refetch()} />;
  if (!first) return <Waiting />;
  const binned = all.flatMap((page) => page.binned);
  const picked = binned.filter((one) => chosen.has(one.id));
  const toggle = (id: number) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  const which: Going = picked.length
    ? {
        what: { ids: picked.map((one) => one.id) },
        pictures: picked.length,
        bytes: picked.reduce((sum, one) => sum + one.bytes, 0),
      }
    : { what: { all: true }, pictures: first.pictures, bytes: first.bytes };
  const back = async () => {
    if (await bringBack(which.what)) setChosen(new Set());
  };
  const acts = (
    <View className="my-3 flex-row flex-wrap items-center gap-2">
      <Button
        icon="again"
        label={
          picked.length
            ? plural(picked.length, { one: 'Bring # picture back', other: 'Bring # pictures back' })
            : t`Bring all back`
        }
        onPress={() => void back()}
      />
      {keeper ? (
        <Button
          weight="brick"
          label={
            picked.length
              ? plural(picked.length, { one: 'Remove # for good', other: 'Remove # for good' })
              : t`Empty the bin`
          }
          onPress={() => setGoing(which)}
        />
      ) : null}
    </View>
  );
  return (
    <Page title={t`The bin`}>
      <Words className="max-w-note text-soft">{t`What you bin waits here and can be brought back just as it was, with its names, albums and words.`}</Words>
      {first.going ? (
        <Words className="mt-2 text-brick" role="status">
          {plural(first.going, {
            one: '# picture is being removed for good',
            other: '# pictures are being removed for good',
          })}
        </Words>
      ) : null}
      {first.pictures === 0 ? (
        <Empty
          title={t`The bin is empty`}
          text={t`Pictures that you move here leave every album and share, and can be brought back.`}
        />
      ) : (
        <>
          <View className="mt-4">
            <Heading right={sayBytes(first.bytes)}>
              {plural(first.pictures, { one: '# picture', other: '# pictures' })}
            </Heading>
          </View>
          {acts}
          <div style={{ display: 'flex', flexWrap: 'wrap', gap: wide ? 16 : 12 }}>
            {binned.map((one) => (
              <BinTile
                key={one.id}
                binned={one}
                chosen={chosen.has(one.id)}
                onOpen={() => setOpen(one)}
                onChoose={() => toggle(one.id)}
              />
            ))}
          </div>
          {pages.hasNextPage ? (
            <Button
              label={t`Show more`}
              weight="quiet"
              className="self-start"
              onPress={() => void pages.fetchNextPage()}
            />
          ) : null}
        </>
      )}
      {keeper ? (
        <View className="mt-8">
          <Heading>{t`How long it stays`}</Heading>
          <Words className="text-soft">{t`After this long, a picture in the bin is removed for good by itself:`}</Words>
          <View className="mt-1 flex-row flex-wrap gap-x-2" role="group" aria-label={t`How long it stays`}>
            {BIN_DAYS.map((days) => (
              <Chip
                key={String(days)}
                label={sayDays(days)}
                on={first.days === days}
                onPress={() => void setDays(days)}
              />
            ))}
          </View>
        </View>
      ) : null}
      {open ? (
        <BinnedSheet
          binned={open}
          onClose={() => setOpen(null)}
          onRemove={
            keeper
              ? () => {
                  setGoing({ what: { ids: [open.id] }, pictures: 1, bytes: open.bytes });
                  setOpen(null);
                }
              : undefined
          }
        />
      ) : null}
      {going ? (
        <ForGood
          {...going}
          onClose={(done) => {
            setGoing(null);
            if (done) setChosen(new Set());
          }}
        />
      ) : null}
    </Page>
  );
}

/** A picture in the bin: a touch shows it large, the mark at its corner chooses it. */
function BinTile({
  binned,
  chosen,
  onOpen,
  onChoose,
}: {
  binned: Binned;
  chosen: boolean;
  onOpen: () => void;
  onChoose: () => void;
}) {
  const wide = useWide();
  const height = wide ? SIZE.tileWide : SIZE.tile;
  const width = Math.round(height * Math.min(2, Math.max(0.6, binned.width / binned.height)));
  return (
    <div style={{ width, position: 'relative' }}>
      <button
        type="button"
        aria-label={`${binned.name}, ${sayUntil(binned)}`}
        onClick={onOpen}
        style={{
          width,
          height,
          padding: 0,
          border: 0,
          cursor: 'pointer',
          borderRadius: CORNER.picture,
          overflow: 'hidden',
          background: `${placeholder(binned.thumb)} center / cover`,
          outlineOffset: 2,
        }}
      >
        <img
          src={smallOf(binned.sha)}
          alt=""
          loading="lazy"
          style={{ width: '100%', height: '100%', objectFit: 'cover', opacity: chosen ? 0.55 : 1 }}
        />
      </button>
      <button
        type="button"
        role="checkbox"
        aria-checked={chosen}
        aria-label={t`Choose ${binned.name}`}
        onClick={onChoose}
        style={{
          position: 'absolute',
          top: 0,
          left: 0,
          width: SIZE.touch,
          height: SIZE.touch,
          border: 0,
          background: 'none',
          cursor: 'pointer',
          padding: 0,
          display: 'grid',
          placeItems: 'center',
        }}
      >
        <span
          style={{
            display: 'grid',
            placeItems: 'center',
            padding: SIZE.hair,
            borderRadius: CORNER.small,
            background: 'rgb(var(--card) / 0.92)',
          }}
        >
          <Rings size={24} joined={chosen} />
        </span>
      </button>
      <Words kind="tiny" numberOfLines={2}>
        {binned.until ? sayFor(binned.until) : t`stays`}
      </Words>
    </div>
  );
}
