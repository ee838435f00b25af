import { plural, t } from '@lingui/core/macro';
import type { Album } from '@gemmel/contract';
import { plainStrip, type Strip } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { forget, refresh, useAnswer } from '@/api/query';
import { PictureGrid } from '@/features/browse/Grid';
import { useStrip } from '@/state/useStrip';
import { act } from '@/state/acts';
import { usePile } from '@/state/pile';
import { Button, Chip, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { NamesSheet } from '../gather/NamesSheet';
import { saveZip } from '../pile/zip';
import { Panel, TilesPanel } from '../question/LookPanel';
import { ShareSheet } from '../share/ShareSheet';
import { Arrange } from './Arrange';
import { albumSentence } from '@/words/said';

/** The album's own order with the shapes that its pictures have in the library. */
function useAlbumStrip(id: number, ids: readonly number[] | undefined, album: Album | undefined): Strip | null {
  const { strip } = useStrip(album?.question ?? { album: id });
  return useMemo(() => {
    if (!ids || !strip) return null;
    const shape = new Map(Array.from(strip.ids, (picture, i) => [picture, strip.ratios[i]!]));
    return plainStrip(
      ids,
      ids.map((picture) => shape.get(picture) ?? 1.33),
    );
  }, [ids, strip]);
}

/** One album: its pictures in their order, and what can be done with it. */
export function AlbumPage({ id }: { id: number }) {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('album', { params: { id } });
  const strip = useAlbumStrip(id, data?.ids, data?.album);
  const [arranging, setArranging] = useState(false);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data || !strip) return <Waiting />;
  if (arranging) return <Arrange album={data.album} ids={data.ids} onDone={() => setArranging(false)} />;
  return (
    <PictureGrid
      strip={strip}
      screen="album"
      from={`/albums/${id}`}
      header={<AlbumHeader album={data.album} ids={data.ids} onArrange={() => setArranging(true)} />}
      empty={
        data.album.kind === 'smart' ? (
          <Empty title={t`No pictures fit yet`} text={t`Those that do will appear here by themselves.`} />
        ) : (
          <Empty title={t`Nothing in this album yet`} text={t`Put pictures on the pile, then add them from there.`}>
            <Button label={t`Browse the library`} onPress={() => router.push('/browse')} />
          </Empty>
        )
      }
    />
  );
}

function AlbumHeader({ album, ids, onArrange }: { album: Album; ids: number[]; onArrange: () => void }) {
  const router = useRouter();
  const pile = usePile();
  const [sheet, setSheet] = useState<'more' | 'name' | 'share' | 'names' | null>(null);
  const [sizing, setSizing] = useState(false);
  const smart = album.kind === 'smart';
  const chosenHere = ids.filter((id) => pile.has.has(id));
  const notHere = pile.ids.filter((id) => !ids.includes(id));
  const putIn = () =>
    act(
      () => call('putIntoAlbum', { params: { id: album.id }, body: { ids: pile.ids } }),
      ({ added }) =>
        plural(added.length, {
          one: `# picture added to “${album.name}”`,
          other: `# pictures added to “${album.name}”`,
        }),
      'albums',
    );
  const takeOut = () =>
    act(
      () => call('takeOutOfAlbum', { params: { id: album.id }, body: { ids: chosenHere } }),
      [
        plural(chosenHere.length, {
          one: '# picture taken out of the album',
          other: '# pictures taken out of the album',
        }),
        t`They stay in the library.`,
      ],
      'albums',
    );
  const remove = async () => {
    const done = await act(
      () => call('removeAlbum', { params: { id: album.id } }),
      [t`Album “${album.name}” removed`, t`All its pictures are still in the library.`],
    );
    if (!done) return;
    router.replace('/albums');
    forget('album', album.id);
    refresh('albums', 'picture');
  };
  return (
    <View className="gap-2 pb-3 pt-3">
      <View className="flex-row items-center justify-between">
        <Pressable role="button" onPress={() => router.navigate('/albums')} className="min-h-touch justify-center">
          <Words className="text-small text-soft">{`‹ ${t`Albums`}`}</Words>
        </Pressable>
        <View className="flex-row">
          <IconButton
            name="sizes"
            label={t`How pictures are shown`}
            pressed={sizing}
            onPress={() => setSizing(!sizing)}
          />
          <IconButton name="send" label={t`Share this album`} onPress={() => setSheet('share')} />
          <IconButton name="more" label={t`More for this album`} onPress={() => setSheet('more')} />
        </View>
      </View>
      <View className="flex-row items-start gap-2.5">
        <View className="pt-3.5">
          <DoubleBar tone={smart ? 'rule' : 'settled'} />
        </View>
        <View className="min-w-0 flex-1">
          <Words kind="title" className="text-title">
            {album.name}
          </Words>
          <Words className="text-body text-soft">
            {[plural(album.pictures, { one: '# picture', other: '# pictures' }), albumSentence(album)]
              .filter(Boolean)
              .join(' · ')}
          </Words>
          {smart ? <Words kind="small" className="text-plum">{t`Fills itself and follows every change.`}</Words> : null}
          {album.description ? <Words className="mt-1">{album.description}</Words> : null}
        </View>
      </View>
      <View className="flex-row flex-wrap gap-2">
        {smart ? (
          <Chip
            label={t`Change the question`}
            icon="edit"
            tone="plum"
            onPress={() => router.push({ pathname: '/albums/[id]/question', params: { id: album.id } })}
          />
        ) : null}
        {!smart && ids.length > 1 ? <Chip label={t`Order by hand`} icon="grip" onPress={onArrange} /> : null}
        {!smart && notHere.length ? (
          <Chip label={t`Add ${notHere.length} from the pile`} icon="pile" onPress={() => void putIn()} />
        ) : null}
        {!smart && chosenHere.length ? (
          <Chip
            label={plural(chosenHere.length, {
              one: 'Take out the one on the pile',
              other: 'Take out the # on the pile',
            })}
            icon="minus"
            onPress={() => void takeOut()}
          />
        ) : null}
      </View>
      {sizing ? (
        <Panel>
          <TilesPanel screen="album" />
        </Panel>
      ) : null}
      {sheet === 'share' ? (
        <ShareSheet what={{ album: album.id }} title={album.name} onClose={() => setSheet(null)} />
      ) : null}
      {sheet === 'names' ? <NamesSheet of={{ album: album.id }} onClose={() => setSheet(null)} /> : null}
      {sheet === 'name' ? <NameSheet album={album} onClose={() => setSheet(null)} /> : null}
      {sheet === 'more' ? (
        <Sheet title={album.name} onClose={() => setSheet(null)}>
          <Button label={t`Name and description`} icon="edit" weight="second" onPress={() => setSheet('name')} />
          <Button
            label={t`Put all ${ids.length} on the pile`}
            icon="pile"
            weight="second"
            disabled={!ids.length}
            onPress={() => {
              pile.add(ids);
              setSheet(null);
            }}
          />
          <Button
            label={t`Names of the files`}
            icon="numbers"
            weight="second"
            disabled={!ids.length}
            onPress={() => setSheet('names')}
          />
          <Button
            label={t`Save as ZIP`}
            icon="download"
            weight="second"
            disabled={!ids.length}
            onPress={() => {
              setSheet(null);
              void saveZip({ album: album.id });
            }}
          />
          <Button label={t`Remove album`} weight="brick" onPress={() => void remove()} />
          <Words kind="small">
            {plural(album.pictures, {
              one: 'Removing an album never removes a picture: its one picture stays in the library.',
              other: 'Removing an album never removes a picture: all # stay in the library.',
            })}
          </Words>
        </Sheet>
      ) : null}
    </View>
  );
}

function NameSheet({ album, onClose }: { album: Album; onClose: () => void }) {
  const [name, setName] = useState(album.name);
  const [description, setDescription] = useState(album.description ?? '');
  const keep = async () => {
    const done = await act(
      () =>
        call('changeAlbum', {
          params: { id: album.id },
          body: { name: name.trim(), description: description.trim() || null },
        }),
      t`Album changed`,
      'albums',
      'shares',
    );
    if (done) onClose();
  };
  return (
    <Sheet title={t`Name and description`} onClose={onClose}>
      <Field label={t`Name`} value={name} onChangeText={setName} maxLength={160} />
      <Field
        label={t`Description`}
        value={description}
        onChangeText={setDescription}
        multiline
        numberOfLines={4}
        maxLength={2000}
      />
      <Button label={t`Save`} onPress={() => void keep()} disabled={!name.trim()} />
    </Sheet>
  );
}
