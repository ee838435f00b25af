import { plural, t } from '@lingui/core/macro';
import { useMemo } from 'react';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel } from '@/words/said';

/** How many pictures of a pin are shown; the rest is counted. */
const MOST = 200;

/** The pictures of a pin, in a row below the map; the map follows the one in hand. */
export function PinRow({
  ids,
  onFollow,
  onOpen,
  onOnly,
  onAway,
}: {
  ids: readonly number[];
  onFollow: (id: number | null) => void;
  onOpen: (id: number) => void;
  onOnly: () => void;
  onAway: () => void;
}) {
  const wide = useWide();
  const some = useMemo(() => ids.slice(0, MOST), [ids]);
  const tiles = useTiles(some);
  return (
    <div role="region" aria-label={t`Pictures at this pin`} className="rise" style={{ paddingBottom: 10 }}>
      <View className="flex-row items-center gap-2">
        <Words kind="strong" className="min-w-0 flex-1" numberOfLines={1} aria-live="polite">
          {wide
            ? plural(ids.length, { one: '# picture here', other: '# pictures here' })
            : plural(ids.length, { one: '# here', other: '# here' })}
        </Words>
        <Button label={t`Only these`} weight="quiet" className="min-h-touch px-2" onPress={onOnly} />
        <Button
          label={t`Put on the pile`}
          weight="quiet"
          className="min-h-touch px-2"
          onPress={() => usePile.getState().add([...ids])}
        />
        <IconButton name="away" label={t`Close this row`} onPress={onAway} />
      </View>
      <div style={{ display: 'flex', gap: SIZE.hair, overflowX: 'auto' }}>
        {some.map((id) => {
          const tile = tiles.get(id);
          return (
            <button
              key={id}
              type="button"
              aria-label={(tile ? tileLabel(tile) : null) ?? t`A picture`}
              onClick={() => onOpen(id)}
              onPointerEnter={() => onFollow(id)}
              onFocus={() => onFollow(id)}
              style={{
                all: 'unset',
                cursor: 'pointer',
                flexShrink: 0,
                width: 84,
                height: 84,
                borderRadius: CORNER.picture,
                background: `rgb(var(--line)) center / cover ${tile ? `url(${smallOf(tile.sha)})` : ''}`,
              }}
              className="focus-visible:outline"
            />
          );
        })}
        {ids.length > some.length ? (
          <Words kind="small" className="self-center px-3">{t`and ${sayNumber(ids.length - some.length)} more`}</Words>
        ) : null}
      </div>
    </div>
  );
}
