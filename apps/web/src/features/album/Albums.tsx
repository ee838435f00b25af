import { plural, t } from '@lingui/core/macro';
import type { Album } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { flat, shelfIn, useShelved, wayTo, type Standing } from '@/state/shelves';
import { SavedShows } from '@/features/show/SavedShows';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Icon } from '@/ui/Icon';
import { sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { Cards } from './Cards';
import { MakeSheet } from './MakeSheet';
import { ShelfOrderChips, ShelfSheet } from './ShelfSheets';

/** From so many albums on they can be searched by name. */
const MANY = 9;
/** How many albums of a shelf are shown where shelves are listed. */
const FEW = { phone: 4, wide: 6 };

/** Everything on a shelf, or with null all shelves and what stands on none. */
export function Albums({ shelf: id }: { shelf: number | null }) {
  const router = useRouter();
  const wide = useWide();
  const { data, root, error, refetch } = useShelved();
  const helps = useMe().data?.member?.part !== 'relative';
  const [making, setMaking] = useState(false);
  const [more, setMore] = useState(false);
  const [finding, setFinding] = useState(false);
  const [typed, setTyped] = useState('');
  const here = root && (id === null ? root : shelfIn(root, id));
  const way = data && id !== null ? wayTo(data.shelves, data.shelves.find((one) => one.id === id)?.shelf ?? null) : [];
  const all = root ? flat(root).flatMap((one) => ('album' in one ? [one.album] : [])) : [];
  const hits = typed.trim() ? all.filter((album) => fold(album.name).includes(fold(typed.trim()))) : null;
  const albums = here ? here.on.flatMap((one) => ('album' in one ? [one.album] : [])) : [];
  const shelves = here ? here.on.filter((one): one is Standing => !('album' in one)) : [];
  if (root && id !== null && !here)
    return (
      <Page>
        <Empty
          title={t`This shelf is no longer here`}
          text={t`It may have been removed; what stood on it is under Albums.`}
        >
          <Button label={t`Albums`} onPress={() => router.replace('/albums')} />
        </Empty>
      </Page>
    );
  return (
    <Page
      {...(id === null ? { title: wide ? t`All shelves` : t`Albums` } : {})}
      right={
        <View className="flex-row">
          {all.length >= MANY ? (
            <IconButton name="search" label={t`Find an album`} pressed={finding} onPress={() => setFinding(!finding)} />
          ) : null}
          {helps ? (
            <IconButton name="plus" tone="juniper" size={24} label={t`Make an album`} onPress={() => setMaking(true)} />
          ) : null}
        </View>
      }
    >
      {id !== null && here ? (
        <View className="mb-3 pt-3">
          <Way way={way} />
          <View className="min-h-touch flex-row items-center gap-2">
            <Words kind="title" className="min-w-0 flex-1">
              {here.shelf!.name}
            </Words>
            {helps ? (
              <>
                <IconButton name="more" label={t`More for this shelf`} onPress={() => setMore(true)} />
                <IconButton
                  name="plus"
                  tone="juniper"
                  size={24}
                  label={t`Make an album on this shelf`}
                  onPress={() => setMaking(true)}
                />
              </>
            ) : null}
          </View>
          <Words className="text-body text-soft">{plural(here.albums, { one: '# album', other: '# albums' })}</Words>
        </View>
      ) : (
        <Words className="mb-3 text-body text-soft">{t`Albums point to pictures; each picture is kept once.`}</Words>
      )}
      {finding ? (
        <View className="mb-4">
          <Field
            label={t`Find an album`}
            shown={false}
            placeholder={t`Find an album`}
            value={typed}
            onChangeText={setTyped}
            autoFocus
          />
        </View>
      ) : null}
      {error ? <Failed error={error} again={() => void refetch()} /> : !root ? <Waiting /> : null}
      {root && hits ? (
        hits.length ? (
          <Cards albums={hits} />
        ) : (
          <Words className="text-soft">{t`No album has “${typed.trim()}” in its name.`}</Words>
        )
      ) : null}
      {root && here && !hits ? (
        <>
          {id === null ? <LooseLine /> : null}
          {id === null && data!.albums.length === 0 && shelves.length === 0 ? (
            <Empty
              title={t`No albums yet`}
              text={t`Make one from the pile, an event or a batch, or let a question fill one.`}
            >
              {helps ? <Button label={t`Make the first album`} onPress={() => setMaking(true)} /> : null}
            </Empty>
          ) : null}
          {id !== null && here.on.length === 0 ? (
            <Empty
              title={t`Nothing on this shelf yet`}
              text={t`Make an album here, or put one on it from its own page.`}
            >
              {helps ? <Button label={t`Make an album`} onPress={() => setMaking(true)} /> : null}
            </Empty>
          ) : null}
          {shelves.map((one) => (
            <ShelfSection key={one.shelf!.id} standing={one} />
          ))}
          {albums.length ? (
            <View className="mb-7">
              {shelves.length ? (
                <Heading right={albums.length}>{id === null ? t`On no shelf` : t`Right on this shelf`}</Heading>
              ) : null}
              <Cards albums={albums} />
            </View>
          ) : null}
          {id === null ? <SavedShows /> : null}
          {helps && here.on.length > 1 ? (
            <View className="mb-4">
              <ShelfOrderChips id={id} sorted={here.shelf?.sorted ?? data!.sorted} />
            </View>
          ) : null}
        </>
      ) : null}
      {making ? <MakeSheet shelf={id} onClose={() => setMaking(false)} /> : null}
      {more && here?.shelf ? (
        <ShelfSheet
          standing={here}
          onClose={() => setMore(false)}
          onGone={() =>
            here.shelf!.shelf === null
              ? router.replace('/albums')
              : router.replace({ pathname: '/albums/shelf/[id]', params: { id: here.shelf!.shelf } })
          }
        />
      ) : null}
    </Page>
  );
}

/** The shelves something stands on, each leading there. */
export function Way({ way }: { way: readonly { id: number; name: string }[] }) {
  const router = useRouter();
  const wide = useWide();
  const step = (label: string, go: () => void, key: string) => (
    <Pressable key={key} role="button" onPress={go} className="min-h-touch max-w-full shrink justify-center">
      <Words className="text-small text-soft" numberOfLines={1}>
        {label}
      </Words>
    </Pressable>
  );
  const onto = (shelf: { id: number; name: string }, mark: string) =>
    step(
      `${mark} ${shelf.name}`,
      () => router.navigate({ pathname: '/albums/shelf/[id]', params: { id: shelf.id } }),
      String(shelf.id),
    );
  const last = way.at(-1);
  // A phone has room for one step back.
  if (!wide && last) return onto(last, '‹');
  return (
    <View className="flex-row flex-wrap items-center gap-x-1.5">
      {step(`‹ ${t`Albums`}`, () => router.navigate('/albums'), 'albums')}
      {way.map((shelf) => onto(shelf, '›'))}
    </View>
  );
}

/** How many pictures are in no album, and the way to begin with them. */
function LooseLine() {
  const count = useAnswer('count', { body: { question: { inNoAlbum: true } } }).data?.count ?? 0;
  if (count === 0) return null;
  return (
    <Link href="/albums/loose" style={{ display: 'flex' }}>
      <View className="mb-5 min-h-field w-full flex-row items-center gap-3 rounded-card border border-line bg-card px-4 py-2">
        <Words className="min-w-0 flex-1">{t`In no album yet`}</Words>
        <Words className="text-soft">{sayNumber(count)}</Words>
        <Icon name="right" size={18} tone="soft" />
      </View>
    </Link>
  );
}

/** A shelf where shelves are listed: its first albums, and the shelves that stand on it. */
function ShelfSection({ standing }: { standing: Standing }) {
  const router = useRouter();
  const few = useWide() ? FEW.wide : FEW.phone;
  const albums = standing.on.flatMap((one): Album[] => ('album' in one ? [one.album] : []));
  const shelves = standing.on.filter((one): one is Standing => !('album' in one));
  const go = (id: number) => router.push({ pathname: '/albums/shelf/[id]', params: { id } });
  return (
    <View className="mb-7">
      <Pressable role="button" onPress={() => go(standing.shelf!.id)}>
        <Heading right={plural(standing.albums, { one: 'shelf · # album', other: 'shelf · # albums' })}>
          {standing.shelf!.name}
        </Heading>
      </Pressable>
      {albums.length ? <Cards albums={albums.slice(0, few)} /> : null}
      {standing.on.length === 0 ? <Words kind="small">{t`Nothing on it yet`}</Words> : null}
      <View className={albums.length && (shelves.length || albums.length > few) ? 'mt-3' : ''}>
        {shelves.map((one) => (
          <Pressable
            key={one.shelf!.id}
            role="button"
            onPress={() => go(one.shelf!.id)}
            className="min-h-button flex-row items-center gap-2 border-t border-line"
          >
            <Icon name="shelf" size={17} tone="soft" />
            <Words className="min-w-0 flex-1" numberOfLines={1}>
              {one.shelf!.name}
            </Words>
            <Words kind="small">{plural(one.albums, { one: '# album', other: '# albums' })}</Words>
          </Pressable>
        ))}
        {albums.length > few ? (
          <View className="flex-row">
            <Chip label={t`All ${sayNumber(albums.length)} albums`} onPress={() => go(standing.shelf!.id)} />
          </View>
        ) : null}
      </View>
    </View>
  );
}
