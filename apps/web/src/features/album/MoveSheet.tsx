import { plural, t } from '@lingui/core/macro';
import type { Album } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { flat, useShelved } from '@/state/shelves';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { moveTo } from './acts';

/** Chooses another album that is filled by hand. */
export function OtherAlbum({ but, onTake }: { but: number; onTake: (album: Album) => void }) {
  const { root } = useShelved();
  const [typed, setTyped] = useState('');
  const albums = root
    ? flat(root).flatMap((one) =>
        'album' in one && one.album.kind === 'plain' && one.album.id !== but ? [one.album] : [],
      )
    : [];
  const hits = albums.filter((album) => fold(album.name).includes(fold(typed)));
  return (
    <View>
      {albums.length > 8 ? (
        <View className="pb-2">
          <Field
            label={t`Find an album`}
            shown={false}
            placeholder={t`Find an album`}
            value={typed}
            onChangeText={setTyped}
          />
        </View>
      ) : null}
      {albums.length === 0 ? <Words className="text-soft">{t`There is no other album yet.`}</Words> : null}
      {hits.map((album) => (
        <Pressable
          key={album.id}
          role="button"
          onPress={() => onTake(album)}
          className="min-h-field flex-row items-center justify-between gap-3 border-t border-line"
        >
          <Words className="min-w-0 flex-1" numberOfLines={2}>
            {album.name}
          </Words>
          <Words kind="small">{album.pictures}</Words>
        </Pressable>
      ))}
    </View>
  );
}

/** Moves pictures from an album into another. */
export function MoveSheet({ album, ids, onClose }: { album: Album; ids: readonly number[]; onClose: () => void }) {
  return (
    <Sheet
      title={plural(ids.length, { one: 'Move # picture to another album', other: 'Move # pictures to another album' })}
      onClose={onClose}
    >
      <OtherAlbum but={album.id} onTake={(into) => void moveTo(album, into, ids).then((done) => done && onClose())} />
    </Sheet>
  );
}
