import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { Album, AlbumOrder } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { Button, Chip } from '@/ui/Button';
import { Field, SpanFields } from '@/ui/Field';
import type { IconName } from '@/ui/Icon';
import { sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { NamesSheet } from '../gather/NamesSheet';
import { IntoAlbum } from '../filing/IntoAlbum';
import { saveZip } from '../pile/zip';
import { chooseCover, copyAlbum, joinAlbums, orderAlbum, removeAlbum } from './acts';
import type { AlbumAnswer } from './AlbumPage';
import { OtherAlbum } from './MoveSheet';
import { KeepHere } from '@/features/device/KeepHere';
import { ForWhomOf } from '@/features/sight/ForWhomOf';
import { PutOnShelfSheet } from './ShelfSheets';

const ORDERS: Record<AlbumOrder, MessageDescriptor> = {
  hand: msg`By hand`,
  date: msg`By date`,
  name: msg`By name`,
  stars: msg`By stars`,
  size: msg`By size`,
};
const ORDER_NAMES: readonly AlbumOrder[] = ['hand', 'date', 'name', 'stars', 'size'];

type Part = 'whom' | 'words' | 'order' | 'shelf' | 'names' | 'copy' | 'freeze' | 'join' | 'put';

/** Everything that can be done with an album. */
export function AlbumMenu({
  answer,
  onArrange,
  onChapter,
  onClose,
}: {
  answer: AlbumAnswer;
  onArrange: () => void;
  onChapter: () => void;
  onClose: () => void;
}) {
  const router = useRouter();
  const pile = usePile();
  const ask = useAsk((state) => state.set);
  const helps = useMe().data?.member?.part !== 'relative';
  const [part, setPart] = useState<Part | null>(null);
  const { album, ids } = answer;
  const smart = album.kind === 'smart';
  if (part === 'words') return <WordsSheet album={album} onClose={onClose} />;
  if (part === 'whom')
    return (
      <Sheet title={album.name} onClose={onClose}>
        <ForWhomOf
          of="album"
          id={album.id}
          name={album.name}
          text={t`Everything put into this album, unless you set the picture otherwise.`}
        />
      </Sheet>
    );
  if (part === 'order') return <OrderSheet album={album} onClose={onClose} />;
  if (part === 'shelf') return <PutOnShelfSheet what={{ album }} onClose={onClose} />;
  if (part === 'names') return <NamesSheet of={{ album: album.id }} onClose={onClose} />;
  if (part === 'put')
    return <IntoAlbum from={{ album: album.id }} count={ids.length} name={album.name} onClose={onClose} />;
  if (part === 'copy' || part === 'freeze')
    return <CopySheet album={album} frozen={part === 'freeze'} onClose={onClose} />;
  if (part === 'join')
    return (
      <Sheet title={t`Join “${album.name}” into …`} onClose={onClose}>
        <Words className="text-soft">{t`All its pictures and chapters go to the end of the other album, which then stands for both.`}</Words>
        <OtherAlbum
          but={album.id}
          onTake={(into) =>
            void joinAlbums(album, into).then((done) => {
              if (!done) return;
              onClose();
              router.replace({ pathname: '/albums/[id]', params: { id: into.id } });
            })
          }
        />
      </Sheet>
    );
  const line = (label: string, icon: IconName, press: () => void, disabled = false) => (
    <Button
      key={label}
      label={label}
      icon={icon}
      weight="quiet"
      className="min-h-touch justify-start px-2"
      disabled={disabled}
      onPress={press}
    />
  );
  const then = (press: () => void) => () => {
    onClose();
    press();
  };
  const remove = async () => {
    if (!(await removeAlbum(album))) return;
    onClose();
    if (album.shelf === null) router.replace('/albums');
    else router.replace({ pathname: '/albums/shelf/[id]', params: { id: album.shelf } });
  };
  return (
    <Sheet title={album.name} onClose={onClose}>
      <View>
        <KeepHere wanted={{ kind: 'album', id: album.id, name: album.name }} onDone={onClose} />
        {helps ? line(t`Name, words and days`, 'edit', () => setPart('words')) : null}
        {helps && !smart ? line(t`Say who it’s for`, 'circle', () => setPart('whom')) : null}
        {helps ? line(t`In which order`, 'numbers', () => setPart('order')) : null}
        {helps && !smart && album.sorted === 'hand' && ids.length > 1
          ? line(t`Arrange by hand`, 'grip', then(onArrange))
          : null}
        {helps && !smart && album.sorted === 'hand' && !album.backwards
          ? line(t`Add a chapter at the end`, 'chapter', then(onChapter))
          : null}
        {helps ? line(t`Put it on a shelf`, 'shelf', () => setPart('shelf')) : null}
        {helps && album.chosenCover !== null
          ? line(
              t`Let the best picture be the cover`,
              'star',
              then(() => void chooseCover(album, null)),
            )
          : null}
        {smart && helps ? line(t`Freeze it as a plain album`, 'frozen', () => setPart('freeze')) : null}
        {helps ? line(t`Make one like it`, 'copy', () => setPart('copy')) : null}
        {helps && ids.length ? line(t`Put all into an album`, 'album', () => setPart('put')) : null}
        {helps && !smart ? line(t`Join it into another`, 'link', () => setPart('join')) : null}
        {ids.length > 1
          ? line(
              t`Narrow it down in Browse`,
              'search',
              then(() => {
                ask(album.question ?? { album: album.id });
                router.push('/browse');
              }),
            )
          : null}
        {helps && ids.length > 1
          ? line(
              t`Propose the best of it`,
              'star',
              then(() => router.push({ pathname: '/albums/best', params: { album: album.id } })),
            )
          : null}
        {line(
          t`Put all ${sayNumber(ids.length)} on the pile`,
          'pile',
          then(() => pile.add(ids)),
          !ids.length,
        )}
        {helps ? line(t`Names of the files`, 'numbers', () => setPart('names'), !ids.length) : null}
        {line(
          t`Save as ZIP`,
          'download',
          then(() => void saveZip({ album: album.id })),
          !ids.length,
        )}
      </View>
      {helps ? (
        <>
          <Button label={t`Remove album`} weight="brick" onPress={() => void remove()} />
          <Words kind="small">
            {plural(album.pictures, {
              one: 'Removing an album never removes a picture: its one picture stays in the library.',
              other: 'Removing an album never removes a picture: all # stay in the library.',
            })}
          </Words>
        </>
      ) : null}
    </Sheet>
  );
}

/** The name of an album, what is written on it, and its days. */
function WordsSheet({ album, onClose }: { album: Album; onClose: () => void }) {
  const [name, setName] = useState(album.name);
  const [description, setDescription] = useState(album.description ?? '');
  const [own, setOwn] = useState(album.ownDays);
  const [from, setFrom] = useState(album.from);
  const [to, setTo] = useState(album.to);
  const keep = async () => {
    const first = from ?? to;
    const last = to ?? from;
    const done = await act(
      () =>
        call('changeAlbum', {
          params: { id: album.id },
          body: {
            name: name.trim(),
            description: description.trim() || null,
            ...(own && first && last ? { days: { from: first, to: last } } : album.ownDays ? { days: null } : {}),
          },
        }),
      t`Album changed`,
      'albums',
      'shares',
    );
    if (done) onClose();
  };
  return (
    <Sheet title={t`Name, words and days`} onClose={onClose}>
      <Field label={t`Name`} value={name} onChangeText={setName} maxLength={160} />
      <Field
        label={t`Words`}
        value={description}
        onChangeText={setDescription}
        multiline
        numberOfLines={4}
        maxLength={2000}
        placeholder={t`We took the wrong ferry and found the right beach.`}
      />
      <Switch label={t`Days of its own, not those of its pictures`} shown on={own} onTurn={() => setOwn(!own)} />
      {own ? <SpanFields from={from} to={to} onFrom={setFrom} onTo={setTo} /> : null}
      <Button label={t`Save`} onPress={() => void keep()} disabled={!name.trim()} />
    </Sheet>
  );
}

/** In which order the pictures of an album stand. */
function OrderSheet({ album, onClose }: { album: Album; onClose: () => void }) {
  const orders = album.kind === 'smart' ? ORDER_NAMES.filter((one) => one !== 'hand') : ORDER_NAMES;
  return (
    <Sheet title={t`In which order`} onClose={onClose}>
      <View className="flex-row flex-wrap gap-x-2">
        {orders.map((order) => (
          <Chip
            key={order}
            label={i18n._(ORDERS[order])}
            on={album.sorted === order}
            onPress={() => void orderAlbum(album, order, album.sorted === order && album.backwards)}
          />
        ))}
      </View>
      <Switch
        label={t`The other way round`}
        shown
        on={album.backwards}
        onTurn={() => void orderAlbum(album, album.sorted, !album.backwards)}
      />
      {album.kind === 'plain' ? (
        <Words kind="small">{t`The order by hand is kept while another one is shown. Chapters belong to it.`}</Words>
      ) : null}
      <Button label={t`Done`} weight="second" onPress={onClose} />
    </Sheet>
  );
}

function CopySheet({ album, frozen, onClose }: { album: Album; frozen: boolean; onClose: () => void }) {
  const router = useRouter();
  const [name, setName] = useState(frozen ? t`${album.name}, kept` : t`${album.name}, again`);
  const make = async () => {
    const made = await copyAlbum(album, name.trim(), frozen);
    if (!made) return;
    onClose();
    router.push({ pathname: '/albums/[id]', params: { id: made.id } });
  };
  return (
    <Sheet title={frozen ? t`Freeze it as a plain album` : t`Make one like it`} onClose={onClose}>
      <Words className="text-soft">
        {frozen
          ? plural(album.pictures, {
              one: 'The new album holds the # picture that is in it now. The smart album goes on by itself.',
              other: 'The new album holds the # pictures that are in it now. The smart album goes on by itself.',
            })
          : t`The new album has the same pictures, order, chapters and words. Each picture is still kept once.`}
      </Words>
      <Field label={t`Name of a new album`} value={name} onChangeText={setName} maxLength={160} />
      <Button label={t`Make album`} disabled={!name.trim()} onPress={() => void make()} />
    </Sheet>
  );
}
