import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act as perform, whenUndone } from '@/state/acts';
import { usePile } from '@/state/pile';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Icon, type IconName } from '@/ui/Icon';
import { count } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Stars } from '@/ui/Stars';
import type { Token } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { IntoEvent } from '../event/IntoEvent';
import { ActMenu } from '../picture/ActMenu';
import { change, saidStars } from '../picture/acts';
import { TagAdder } from '../picture/TagAdder';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { ShareSheet } from '../share/ShareSheet';

/** What can be done with pictures by a sheet of its own. */
export type SheetAct = 'stars' | 'tags' | 'dates' | 'place' | 'album' | 'event' | 'share';
export const SHEET_ACTS: readonly [SheetAct, string, IconName][] = [
  ['stars', 'Rate', 'star'],
  ['tags', 'Tag', 'tag'],
  ['album', 'Album', 'album'],
  ['dates', 'Date', 'clock'],
  ['place', 'Place', 'place'],
  ['event', 'Event', 'date'],
  ['share', 'Share', 'send'],
];

/** The sheet of one thing that can be done with some pictures. `onMade` is told when they were put into an album. */
export function ActSheet({
  act,
  ids,
  onClose,
  onMade,
}: {
  act: SheetAct;
  ids: readonly number[];
  onClose: () => void;
  onMade?: (made: number | null) => void;
}) {
  const n = count(ids.length, 'picture');
  if (act === 'stars')
    return (
      <Sheet title={`Stars for ${n}`} onClose={onClose}>
        <View className="items-center gap-2">
          <Stars
            value={0}
            size={32}
            onChange={(rating) => {
              onClose();
              void change(ids, { rating }, saidStars(rating, ids.length));
            }}
          />
          <Button
            label="No stars"
            weight="quiet"
            onPress={() => {
              onClose();
              void change(ids, { rating: 0 }, saidStars(0, ids.length));
            }}
          />
          <Button
            label="A heart for all"
            weight="second"
            icon="heart"
            onPress={() => {
              onClose();
              void change(ids, { favourite: true }, `A heart for ${n}`);
            }}
          />
        </View>
      </Sheet>
    );
  if (act === 'tags')
    return (
      <Sheet title={`Tag ${n}`} onClose={onClose}>
        <TagAdder
          open
          onAdd={(tag) => {
            onClose();
            void change(ids, { addTags: [tag] }, `${n} tagged “${tag}”`);
          }}
        />
      </Sheet>
    );
  if (act === 'album') return <IntoAlbum ids={ids} onClose={onClose} {...(onMade ? { onMade } : {})} />;
  if (act === 'dates') return <DatesSheet ids={ids} onClose={onClose} />;
  if (act === 'place') return <PlaceSheet ids={ids} position={null} onClose={onClose} />;
  if (act === 'event') return <IntoEvent ids={ids} onClose={onClose} />;
  if (act === 'share')
    return <ShareSheet what={{ ids }} title={`${n[0]!.toUpperCase()}${n.slice(1)}`} onClose={onClose} />;
}

/** What can be done with the pile: a row of drawings with their words, and the sheets they open. */
export function PileActs({ tone = 'ink' }: { tone?: Token }) {
  const ids = usePile((pile) => pile.ids);
  const putDown = usePile((pile) => pile.putDown);
  const [open, setOpen] = useState<SheetAct | null>(null);
  const [more, setMore] = useState(false);
  const close = () => setOpen(null);
  // What lies in an album is safe there: it need not stay in hand. Taking the album back takes it up again.
  const made = (did: number | null) => {
    const before = [...ids];
    putDown(true);
    if (did !== null) whenUndone(did, () => usePile.getState().add(before));
  };
  // Two rows of four on a phone, one on a wide screen.
  const box = `min-h-[52px] items-center justify-center gap-0.5 px-1 active:opacity-70 ${tone === 'bright' ? 'min-w-[50px]' : 'min-w-[60px] basis-[22%]'}`;
  const word = tone === 'bright' ? 'text-bright' : 'text-ink';
  return (
    <View className={`flex-row items-center justify-between gap-1 ${tone === 'bright' ? '' : 'flex-wrap'}`}>
      {SHEET_ACTS.map(([name, label, icon]) => (
        <Pressable key={name} role="button" onPress={() => setOpen(name)} className={box}>
          <Icon name={icon} size={20} tone={tone} />
          <Words kind="tiny" className={word}>
            {label}
          </Words>
        </Pressable>
      ))}
      <Pressable role="button" aria-label="More for the pile" onPress={() => setMore(true)} className={box}>
        <Icon name="more" size={20} tone={tone} />
        <Words kind="tiny" className={word}>
          More
        </Words>
      </Pressable>
      <Pressable role="button" onPress={() => putDown()} className={box}>
        <Icon name="down" size={20} tone={tone} />
        <Words kind="tiny" className={word}>
          Put down
        </Words>
      </Pressable>
      {open ? <ActSheet act={open} ids={ids} onClose={close} onMade={made} /> : null}
      {more ? <ActMenu ids={ids} onClose={() => setMore(false)} /> : null}
    </View>
  );
}

/** Puts pictures into an album that is there, or into a new one. */
export function IntoAlbum({
  ids,
  onClose,
  onMade,
}: {
  ids: readonly number[];
  onClose: () => void;
  onMade?: (made: number | null) => void;
}) {
  const router = useRouter();
  const albums = (useAnswer('albums', {}).data?.albums ?? []).filter((album) => album.kind === 'plain');
  const [name, setName] = useState('');
  const make = async () => {
    const done = await perform(
      () => call('makeAlbum', { body: { name: name.trim(), ids: [...ids] } }),
      `The album “${name.trim()}” is made; each picture is still kept once.`,
      'albums',
    );
    if (!done) return;
    onClose();
    onMade?.(done.act);
    router.push({ pathname: '/albums/[id]', params: { id: done.id } });
  };
  const put = async (id: number, album: string) => {
    const done = await perform(
      () => call('putIntoAlbum', { params: { id }, body: { ids: [...ids] } }),
      ({ added }) => {
        const there = ids.length - added.length;
        return added.length === 0
          ? `All of them are in “${album}” already.`
          : `${count(added.length, 'picture')} put into “${album}”${there ? `; ${there} were there already` : ''}`;
      },
      'albums',
    );
    if (!done) return;
    onClose();
    onMade?.(done.act);
  };
  return (
    <Sheet title={`${count(ids.length, 'picture')} into an album`} onClose={onClose}>
      <Field
        label="A new album"
        placeholder="Its name"
        value={name}
        onChangeText={setName}
        maxLength={160}
        onSubmitEditing={() => name.trim() && void make()}
      />
      <Button label="Make the album" onPress={() => void make()} disabled={!name.trim()} />
      {albums.length ? (
        <View>
          <Words kind="small">Or one that is there</Words>
          {albums.map((album) => (
            <Pressable
              key={album.id}
              role="button"
              onPress={() => void put(album.id, album.name)}
              className="min-h-[50px] flex-row items-center justify-between gap-3 border-t border-line"
            >
              <Words className="min-w-0 flex-1" numberOfLines={2}>
                {album.name}
              </Words>
              <Words kind="small">{album.pictures}</Words>
            </Pressable>
          ))}
        </View>
      ) : null}
    </Sheet>
  );
}
