import type { MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act as perform } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import type { IconName } from '@/ui/Icon';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { IntoEvent } from '../event/IntoEvent';
import { TogetherSheet } from './TogetherSheet';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { ShareSheet } from '../share/ShareSheet';

/** What can be done with pictures by a sheet of its own. */
export type SheetAct = 'said' | 'dates' | 'place' | 'album' | 'event' | 'share';
export const SHEET_ACTS: readonly [SheetAct, MessageDescriptor, IconName][] = [
  ['said', msg`Describe`, 'star'],
  ['album', msg`Album`, 'album'],
  ['dates', msg`Date`, 'clock'],
  ['place', msg`Place`, 'place'],
  ['event', msg`Event`, 'date'],
  ['share', msg`Share`, 'send'],
];

/** The keys that open a sheet. */
export const SHEET_KEYS: Readonly<Record<string, SheetAct>> = { t: 'said', e: 'event' };

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
  if (act === 'said') return <TogetherSheet ids={ids} onClose={onClose} />;
  if (act === 'album') return <IntoAlbum ids={ids} onClose={onClose} {...(onMade ? { onMade } : {})} />;
  if (act === 'dates') return <DatesSheet ids={ids} onClose={onClose} />;
  if (act === 'place') return <PlaceSheet ids={ids} position={null} onClose={onClose} />;
  if (act === 'event') return <IntoEvent ids={ids} onClose={onClose} />;
  if (act === 'share')
    return (
      <ShareSheet
        what={{ ids }}
        title={plural(ids.length, { one: '# picture', other: '# pictures' })}
        onClose={onClose}
      />
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
      [t`Album “${name.trim()}” made`, t`Each picture is still kept once.`],
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
          ? t`All of them are already in “${album}”`
          : [
              plural(added.length, { one: `# picture added to “${album}”`, other: `# pictures added to “${album}”` }),
              there ? plural(there, { one: '# was already there.', other: '# were already there.' }) : '',
            ];
      },
      'albums',
    );
    if (!done) return;
    onClose();
    onMade?.(done.act);
  };
  return (
    <Sheet
      title={plural(ids.length, { one: 'Add # picture to an album', other: 'Add # pictures to an album' })}
      onClose={onClose}
    >
      <Field
        label={t`Name of a new album`}
        placeholder={t`Summer at the lake`}
        value={name}
        onChangeText={setName}
        maxLength={160}
        onSubmitEditing={() => name.trim() && void make()}
      />
      <Button label={t`Make album`} onPress={() => void make()} disabled={!name.trim()} />
      {albums.length ? (
        <View>
          <Words kind="small">{t`Or an existing one`}</Words>
          {albums.map((album) => (
            <Pressable
              key={album.id}
              role="button"
              onPress={() => void put(album.id, album.name)}
              className="min-h-field flex-row items-center justify-between gap-3 border-t border-line"
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
