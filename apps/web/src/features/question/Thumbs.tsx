import { smallOf } from '@/api/client';
import { useTiles } from '@/state/tiles';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel } from '@/words/said';

/** Some pictures in a small grid: what a question finds now. */
export function Thumbs({ ids }: { ids: readonly number[] }) {
  const tiles = useTiles(ids);
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: SIZE.hair }}>
      {ids.map((picture) => {
        const tile = tiles.get(picture);
        return (
          <div
            key={picture}
            style={{ height: 92, background: 'rgb(var(--line))', borderRadius: CORNER.picture, overflow: 'hidden' }}
          >
            {tile ? (
              <img
                src={smallOf(tile.sha)}
                alt={tileLabel(tile)}
                style={{ width: '100%', height: '100%', objectFit: 'cover' }}
              />
            ) : null}
          </div>
        );
      })}
    </div>
  );
}
