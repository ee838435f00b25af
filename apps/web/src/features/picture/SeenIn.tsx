import { plural, t } from '@lingui/core/macro';
import type { Album, Picture } from '@gemmel/contract';
import { Link } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { WhySheet } from '@/features/album/WhySheet';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { sayDay } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { Fact } from '@/ui/Fact';

/** Every album a picture is seen in, those that fill themselves too; why it is in those, and why it isn’t in the others. */
export function SeenIn({ picture }: { picture: Picture }) {
  const { data } = useAnswer('albumsWith', { params: { id: picture.id } });
  const albums = useAnswer('albums', {}).data?.albums;
  const [why, setWhy] = useState<Album | null>(null);
  const [asking, setAsking] = useState(false);
  // Until the answer is here, what is known of those filled by hand.
  const all =
    data?.albums ?? picture.albums.map((album) => ({ ...album, kind: 'plain' as const, by: null, day: null }));
  const smart = albums?.filter((album) => album.kind === 'smart') ?? [];
  const others = smart.filter((album) => !all.some((one) => one.id === album.id));
  const whyOf = (id: number) => setWhy(smart.find((album) => album.id === id) ?? null);
  return (
    <Fact
      title={
        all.length
          ? plural(all.length, { one: 'Kept once, seen in # album', other: 'Kept once, seen in # albums' })
          : t`Kept once, in no album`
      }
    >
      {all.map((album) => (
        <View key={album.id} className="min-h-8 flex-row items-center gap-2">
          <DoubleBar tone={album.kind === 'smart' ? 'rule' : 'settled'} width={13} />
          <View className="min-w-0 flex-1">
            <Link
              href={{ pathname: '/albums/[id]', params: { id: album.id } }}
              style={{ maxWidth: '100%', display: 'flex' }}
            >
              <Words kind="small" className={`underline ${album.kind === 'smart' ? 'text-plum' : 'text-juniper'}`}>
                {album.name}
              </Words>
            </Link>
            {album.by && album.day ? <Words kind="tiny">{t`put in by ${album.by}, ${sayDay(album.day)}`}</Words> : null}
          </View>
          {album.kind === 'smart' ? (
            <Button label={t`Why?`} weight="quiet" className="min-h-touch px-2" onPress={() => whyOf(album.id)} />
          ) : null}
        </View>
      ))}
      {all.length === 0 ? <Words kind="small">{t`Albums point to pictures; they hold no copies.`}</Words> : null}
      {data && others.length ? (
        <Button
          label={t`Why isn’t it in another?`}
          weight="quiet"
          className="min-h-touch self-start px-0"
          onPress={() => setAsking(true)}
        />
      ) : null}
      {asking ? (
        <Sheet title={t`Why isn’t it in …`} onClose={() => setAsking(false)}>
          <View>
            {others.map((album) => (
              <Button
                key={album.id}
                label={album.name}
                weight="quiet"
                className="min-h-touch justify-start px-2"
                onPress={() => {
                  setAsking(false);
                  setWhy(album);
                }}
              />
            ))}
          </View>
        </Sheet>
      ) : null}
      {why ? <WhySheet album={why} picture={picture.id} onClose={() => setWhy(null)} /> : null}
    </Fact>
  );
}
