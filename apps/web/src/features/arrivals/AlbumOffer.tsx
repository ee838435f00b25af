import { plural, t } from '@lingui/core/macro';
import type { Batch } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Words } from '@/ui/Words';
import { sayNumber } from '@/ui/say';
import { batchName } from '@/words/said';

/** The offer to make an album of a batch, or one for each of its folders. It stays until it is answered. */
export function AlbumOffer({ batch }: { batch: Batch }) {
  const router = useRouter();
  const [asking, setAsking] = useState(false);
  const [name, setName] = useState(batchName(batch));
  const { counts, folders } = batch;
  const open = (id: number) => router.push({ pathname: '/albums/[id]', params: { id } });
  const answer = async (album: string | null) => {
    await act(
      () => call('batchAlbum', { params: { id: batch.id }, body: { name: album } }),
      album === null ? t`No album made` : [t`Album “${album}” made`, t`The pictures stay where they are.`],
      'batches',
      'albums',
    );
  };
  const perFolder = async () => {
    await act(
      () => call('folderAlbums', { params: { id: batch.id } }),
      ({ albumIds }) => plural(albumIds.length, { one: '# album made', other: '# albums made, one for each folder' }),
      'batches',
      'albums',
    );
  };
  if (batch.offer === 'made' && batch.albums.length === 1)
    return (
      <Button
        label={t`Open its album`}
        weight="quiet"
        className="min-h-touch self-start px-0"
        onPress={() => open(batch.albums[0]!.id)}
      />
    );
  if (batch.offer === 'made' && batch.albums.length)
    return (
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`Albums from ${batchName(batch)}`}>
        {batch.albums.map((album) => (
          <Chip key={album.id} label={album.name} icon="album" onPress={() => open(album.id)} />
        ))}
      </View>
    );
  if (batch.state !== 'done' || counts.stored + counts.known === 0) return null;
  if (!asking)
    return (
      <View className="flex-row items-center gap-1">
        <Button
          label={t`Make an album`}
          weight={batch.offer === 'open' ? 'second' : 'quiet'}
          icon="album"
          className="min-h-touch flex-1"
          onPress={() => setAsking(true)}
        />
        {batch.offer === 'open' ? (
          <IconButton name="away" label={t`No album for ${batchName(batch)}`} onPress={() => void answer(null)} />
        ) : null}
      </View>
    );
  return (
    <View className="gap-3">
      <Field
        label={t`Name of the album`}
        value={name}
        onChangeText={setName}
        maxLength={160}
        autoFocus
        onSubmitEditing={() => name.trim() && void answer(name.trim())}
      />
      <View className="flex-row gap-3">
        <Button
          className="flex-1"
          label={t`Make album`}
          onPress={() => void answer(name.trim())}
          disabled={!name.trim()}
        />
        <Button label={t`Not now`} weight="quiet" onPress={() => setAsking(false)} />
      </View>
      {folders.length > 1 ? (
        <View className="gap-1">
          <Button
            label={t`One album for each of ${sayNumber(folders.length)} folders`}
            weight="second"
            onPress={() => void perFolder()}
          />
          <Words kind="small" numberOfLines={3}>
            {folders.map((f) => `${f.folder.split('/').pop()} (${f.pictures})`).join(', ')}
          </Words>
        </View>
      ) : null}
    </View>
  );
}
