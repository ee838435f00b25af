import { plural, t } from '@lingui/core/macro';
import type { Album } from '@gemmel/contract';
import { Link } from 'expo-router';
import { smallOf } from '@/api/client';
import { Words } from '@/ui/Words';
import { CORNER } from '@/ui/tokens';
import { useGradually } from '@/ui/useGradually';
import { albumSentence } from '@/words/said';

/** How many pictures an album holds, as it is counted. */
export const countWords = (album: Album): string =>
  album.counting && album.pictures === 0
    ? t`counting …`
    : plural(album.pictures, { one: '# picture', other: '# pictures' });

/** Albums as cards: what stands for each, its name, and what it is. */
export function Cards({ albums }: { albums: readonly Album[] }) {
  const some = useGradually(albums);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(158px, 1fr))', gap: '20px 14px' }}>
      {some.map((album) => (
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
            {[countWords(album), albumSentence(album)].filter(Boolean).join(' · ')}
          </Words>
        </Link>
      ))}
    </div>
  );
}
