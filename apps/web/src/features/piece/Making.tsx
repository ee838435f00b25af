import { t } from '@lingui/core/macro';
import type { Piece } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { sayFar } from '@/features/keep/words';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { sayWhen } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { kindWords, KINDS } from './words';

/** How a piece stands, in short. */
function standing({ making, made }: Piece): string {
  if (making && making.state !== 'failed') return sayFar(making);
  if (making) return t`It didn’t finish.`;
  return made ? t`Made ${sayWhen(made.at)}` : t`Not made yet`;
}

/** What can be made of pictures, and what was. */
export function MakingPage() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('pieces', {});
  return (
    <Page title={t`Put to use`} narrow>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.pieces.length === 0 ? (
        <Empty
          title={t`Nothing made yet`}
          text={t`Open an album, an event, a person or the pile and choose “Make something”. What you make is kept here, to be changed and made again.`}
        >
          <Button label={t`Go to Albums`} onPress={() => router.push('/albums')} />
        </Empty>
      ) : null}
      {data?.pieces.map((piece) => (
        <Pressable
          key={piece.id}
          role="link"
          onPress={() => router.push({ pathname: '/piece/[id]', params: { id: piece.id } })}
          className="min-h-field flex-row items-center gap-3 border-t border-line py-2 active:opacity-70"
        >
          {piece.cover ? (
            <img
              src={smallOf(piece.cover)}
              alt=""
              loading="lazy"
              style={{ width: SIZE.strip, height: SIZE.field, objectFit: 'cover', borderRadius: CORNER.picture }}
            />
          ) : null}
          <View className="min-w-0 flex-1">
            <Words kind="strong" numberOfLines={2}>
              {piece.name}
            </Words>
            <Words kind="small" numberOfLines={2}>
              {[kindWords(piece.settings.kind).name, standing(piece)].join(' · ')}
            </Words>
          </View>
        </Pressable>
      ))}
      {data ? (
        <View className="mt-8 gap-3">
          <Heading>{t`What can be made`}</Heading>
          {KINDS.map((kind) => (
            <View key={kind}>
              <Words kind="strong">{kindWords(kind).name}</Words>
              <Words className="text-soft">{kindWords(kind).about}</Words>
            </View>
          ))}
        </View>
      ) : null}
    </Page>
  );
}
