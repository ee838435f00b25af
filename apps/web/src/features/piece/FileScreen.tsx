import { plural, t } from '@lingui/core/macro';
import type { Piece } from '@gemmel/contract';
import { View } from 'react-native';
import { sayBytes, sayClock } from '@/ui/say';
import { Page } from '@/ui/State';
import { CORNER } from '@/ui/tokens';
import { fileOf } from './MakingBar';
import { PieceTop } from './PieceHeader';

/** A piece that is looked at once it is made: a film, copies. */
export function FileScreen({ piece }: { piece: Piece }) {
  const { expects, made, settings } = piece;
  const film = settings.kind === 'film';
  const [file] = made?.files ?? [];
  return (
    <Page>
      <PieceTop
        piece={piece}
        label={film ? t`Make the film` : 'folder' in settings && settings.folder ? t`Copy them there` : t`Make the ZIP`}
        about={
          expects
            ? [
                plural(expects.pictures, { one: '# picture', other: '# pictures' }),
                expects.seconds === null ? '' : sayClock(expects.seconds),
                t`about ${sayBytes(expects.bytes)}`,
              ]
                .filter(Boolean)
                .join(' · ')
            : ''
        }
      />
      {film && file ? (
        <View className="w-full" style={{ maxWidth: 860 }}>
          <video
            key={made!.at}
            src={fileOf(piece.id, file.name)}
            controls
            playsInline
            preload="metadata"
            aria-label={piece.name}
            style={{
              width: '100%',
              maxHeight: '70vh',
              background: '#131A19',
              borderRadius: CORNER.picture,
              aspectRatio: settings.shape === 'wide' ? '16 / 9' : '9 / 16',
            }}
          />
        </View>
      ) : null}
    </Page>
  );
}
