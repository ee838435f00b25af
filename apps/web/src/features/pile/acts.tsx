import { useRouter } from 'expo-router';
import { useState, type ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
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
import { change, saidStars } from '../picture/acts';
import { TagAdder } from '../picture/TagAdder';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { ShareSheet } from '../share/ShareSheet';

type Act = 'stars' | 'tags' | 'dates' | 'place' | 'album' | 'event' | 'share';
const ACTS: [Act, string, IconName][] = [
  ['stars', 'Rate', 'star'],
  ['tags', 'Tag', 'tag'],
  ['album', 'Album', 'album'],
  ['dates', 'Date', 'clock'],
  ['place', 'Place', 'place'],
  ['event', 'Event', 'date'],
  ['share', 'Share', 'send'],
];

/** What can be done with the pile: a row of drawings with their words, and the sheets they open. */
export function PileActs({ tone = 'ink' }: { tone?: Token }) {
  const ids = usePile((pile) => pile.ids);
  const putDown = usePile((pile) => pile.putDown);
  const [open, setOpen] = useState<Act | null>(null);
  const close = () => setOpen(null);
  const n = count(ids.length, 'picture');
  let sheet: ReactNode = null;
  if (open === 'stars')
    sheet = (
      <Sheet title={`Stars for ${n}`} onClose={close}>
        <View className="items-center gap-2">
          <Stars
            value={0}
            size={32}
            onChange={(rating) => {
              close();
              void change(ids, { rating }, saidStars(rating, ids.length));
            }}
          />
          <Button
            label="No stars"
            weight="quiet"
            onPress={() => {
              close();
              void change(ids, { rating: 0 }, saidStars(0, ids.length));
            }}
          />
          <Button
            label="A heart for all"
            weight="second"
            icon="heart"
            onPress={() => {
              close();
              void change(ids, { favourite: true }, `A heart for ${n}`);
            }}
          />
        </View>
      </Sheet>
    );
  if (open === 'tags')
    sheet = (
      <Sheet title={`Tag ${n}`} onClose={close}>
        <TagAdder
          open
          onAdd={(tag) => {
            close();
            void change(ids, { addTags: [tag] }, `${n} tagged “${tag}”`);
          }}
        />
      </Sheet>
    );
  if (open === 'album') sheet = <IntoAlbum ids={ids} onClose={close} />;
  if (open === 'dates') sheet = <DatesSheet ids={ids} onClose={close} />;
  if (open === 'place') sheet = <PlaceSheet ids={ids} position={null} onClose={close} />;
  if (open === 'event') sheet = <IntoEvent ids={ids} onClose={close} />;
  if (open === 'share')
    sheet = <ShareSheet what={{ ids }} title={`${n[0]!.toUpperCase()}${n.slice(1)}`} onClose={close} />;
  // Two rows of four on a phone, one on a wide screen.
  const box = `min-h-[52px] items-center justify-center gap-0.5 px-1 active:opacity-70 ${tone === 'bright' ? 'min-w-[50px]' : 'min-w-[60px] basis-[22%]'}`;
  const word = tone === 'bright' ? 'text-bright' : 'text-ink';
  return (
    <View className={`flex-row items-center justify-between gap-1 ${tone === 'bright' ? '' : 'flex-wrap'}`}>
      {ACTS.map(([name, label, icon]) => (
        <Pressable key={name} role="button" onPress={() => setOpen(name)} className={box}>
          <Icon name={icon} size={20} tone={tone} />
          <Words kind="tiny" className={word}>
            {label}
          </Words>
        </Pressable>
      ))}
      <Pressable role="button" onPress={() => putDown()} className={box}>
        <Icon name="down" size={20} tone={tone} />
        <Words kind="tiny" className={word}>
          Put down
        </Words>
      </Pressable>
      {sheet}
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
  onMade?: () => void;
}) {
  const router = useRouter();
  const albums = (useAnswer('albums', {}).data?.albums ?? []).filter((album) => album.kind === 'plain');
  const [name, setName] = useState('');
  const make = async () => {
    const done = await act(
      () => call('makeAlbum', { body: { name: name.trim(), ids: [...ids] } }),
      `The album “${name.trim()}” is made; each picture is still kept once.`,
      'albums',
    );
    if (!done) return;
    onClose();
    onMade?.();
    router.push({ pathname: '/albums/[id]', params: { id: done.id } });
  };
  const put = async (id: number, album: string) => {
    const done = await act(
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
    onMade?.();
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
