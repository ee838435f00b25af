import { plural, t } from '@lingui/core/macro';
import type { From } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { act as perform } from '@/state/acts';
import { flat, useShelved } from '@/state/shelves';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** From so many albums on the list can be searched. */
const MANY = 8;

/**
 * Puts pictures, or all of something, into an album that is there or into a new one. `count` is how many they are, as far as that is known; `name`
 * is what a new album is called at first.
 */
export function IntoAlbum({
  from,
  count,
  name: first = '',
  stay = false,
  onClose,
  onMade,
}: {
  from: From;
  count: number;
  name?: string;
  /** Whether somebody stays where they are when a new album was made. */
  stay?: boolean;
  onClose: () => void;
  /** Told what was done when they are in an album. */
  onMade?: (made: number | null) => void;
}) {
  const router = useRouter();
  const { root } = useShelved();
  const [name, setName] = useState(first);
  const [typed, setTyped] = useState('');
  const albums = root
    ? flat(root).flatMap((one) => ('album' in one && one.album.kind === 'plain' ? [one.album] : []))
    : [];
  const shelves = new Map(
    (root ? flat(root) : []).flatMap((one) => ('shelf' in one ? [[one.shelf.shelf!.id, one.shelf.shelf!.name]] : [])),
  );
  const hits = albums.filter((album) => fold(album.name).includes(fold(typed)));
  const make = async () => {
    const done = await perform(
      () => call('makeAlbum', { body: { name: name.trim(), from } }),
      [t`Album “${name.trim()}” made`, t`Each picture is still kept once.`],
      'albums',
    );
    if (!done) return;
    onClose();
    onMade?.(done.act);
    if (!stay) router.push({ pathname: '/albums/[id]', params: { id: done.id } });
  };
  const put = async (id: number, album: string) => {
    const done = await perform(
      () => call('putIntoAlbum', { params: { id }, body: from }),
      ({ added }) => {
        const there = Math.max(0, count - added.length);
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
      title={plural(count, { one: 'Add # picture to an album', other: 'Add # pictures to an album' })}
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
          {albums.length > MANY ? (
            <View className="py-2">
              <Field
                label={t`Find an album`}
                shown={false}
                placeholder={t`Find an album`}
                value={typed}
                onChangeText={setTyped}
              />
            </View>
          ) : null}
          {hits.map((album) => (
            <Pressable
              key={album.id}
              role="button"
              onPress={() => void put(album.id, album.name)}
              className="min-h-field flex-row items-center justify-between gap-3 border-t border-line"
            >
              <View className="min-w-0 flex-1">
                <Words numberOfLines={2}>{album.name}</Words>
                {album.shelf !== null && shelves.has(album.shelf) ? (
                  <Words kind="small">{t`on ${shelves.get(album.shelf)!}`}</Words>
                ) : null}
              </View>
              <Words kind="small">{album.pictures}</Words>
            </Pressable>
          ))}
        </View>
      ) : null}
    </Sheet>
  );
}
