import { plural, t } from '@lingui/core/macro';
import type { Album } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { act } from '@/state/acts';
import { usePile } from '@/state/pile';
import { Button, IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { CORNER } from '@/ui/tokens';
import { sayNumber } from '@/ui/say';
import { albumSentence } from '@/words/said';

/** Albums that fill themselves, and those filled by hand. */
export function Albums() {
  const { data, error, refetch } = useAnswer('albums', {});
  const [making, setMaking] = useState(false);
  const smart = data?.albums.filter((a) => a.kind === 'smart') ?? [];
  const plain = data?.albums.filter((a) => a.kind === 'plain') ?? [];
  return (
    <Page
      title={t`Albums`}
      right={
        <IconButton name="plus" tone="juniper" size={24} label={t`Make an album`} onPress={() => setMaking(true)} />
      }
    >
      <Words className="mb-4 text-body text-soft">{t`Albums point to pictures; each picture is kept once.`}</Words>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data && data.albums.length === 0 ? (
        <Empty
          title={t`No albums yet`}
          text={t`Make one from the pile, an event or a batch, or let a question fill one.`}
        >
          <Button label={t`Make the first album`} onPress={() => setMaking(true)} />
        </Empty>
      ) : null}
      {smart.length ? <Shelf title={t`Filling themselves`} albums={smart} /> : null}
      {plain.length ? <Shelf title={t`Filled by hand`} albums={plain} /> : null}
      {making ? <MakeSheet onClose={() => setMaking(false)} /> : null}
    </Page>
  );
}

function Shelf({ title, albums }: { title: string; albums: Album[] }) {
  return (
    <View className="mb-7">
      <Heading tone={albums[0]!.kind === 'smart' ? 'rule' : 'settled'} right={albums.length}>
        {title}
      </Heading>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(158px, 1fr))', gap: '20px 14px' }}>
        {albums.map((album) => (
          <Link
            key={album.id}
            href={{ pathname: '/albums/[id]', params: { id: album.id } }}
            style={{ display: 'flex', flexDirection: 'column', minWidth: 0 }}
          >
            <div
              style={{
                height: 7,
                margin: '0 8px',
                borderRadius: '8px 8px 0 0',
                background: `rgb(var(--${album.kind === 'smart' ? 'lilac' : 'mist'}))`,
              }}
            />
            <div
              style={{
                aspectRatio: '171 / 121',
                borderRadius: CORNER.small,
                overflow: 'hidden',
                background: 'rgb(var(--mist))',
              }}
            >
              {album.cover ? (
                <img
                  src={smallOf(album.cover)}
                  alt=""
                  loading="lazy"
                  style={{ width: '100%', height: '100%', objectFit: 'cover' }}
                />
              ) : null}
            </div>
            <Words kind="strong" className="mt-1.5" numberOfLines={2}>
              {album.name}
            </Words>
            <Words kind="small" className={album.kind === 'smart' ? 'text-plum' : ''} numberOfLines={3}>
              {[plural(album.pictures, { one: '# picture', other: '# pictures' }), albumSentence(album)]
                .filter(Boolean)
                .join(' · ')}
            </Words>
          </Link>
        ))}
      </div>
    </View>
  );
}

function MakeSheet({ onClose }: { onClose: () => void }) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const pile = usePile((p) => p.ids);
  const [name, setName] = useState('');
  const make = async (ids: readonly number[]) => {
    const made = await act(
      () => call('makeAlbum', { body: { name: name.trim(), ids: [...ids] } }),
      t`Album “${name.trim()}” made`,
      'albums',
    );
    if (!made) return;
    onClose();
    router.push({ pathname: '/albums/[id]', params: { id: made.id } });
  };
  return (
    <Sheet title={t`A new album`} onClose={onClose}>
      <Field label={t`Name`} value={name} onChangeText={setName} maxLength={160} />
      {pile.length ? (
        <Button
          label={t`Make it from the pile (${sayNumber(pile.length)})`}
          icon="pile"
          disabled={!name.trim()}
          onPress={() => void make(pile)}
        />
      ) : null}
      <Button
        label={t`Make it empty`}
        weight={pile.length ? 'second' : 'main'}
        disabled={!name.trim()}
        onPress={() => void make([])}
      />
      <Words kind="small">{t`Or one that fills itself with every picture that fits, now and later:`}</Words>
      <Button
        label={t`A smart album`}
        weight="plum"
        onPress={() => {
          onClose();
          set({ all: [] });
          router.push('/albums/new');
        }}
      />
    </Sheet>
  );
}
