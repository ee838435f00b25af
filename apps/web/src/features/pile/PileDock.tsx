import { plural, t } from '@lingui/core/macro';
import { Link, usePathname } from 'expo-router';
import { useMemo, useRef, useState } from 'react';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { usePile } from '@/state/pile';
import { useKeepFree } from '@/state/room';
import { useTiles } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import { DRAGGED } from '../place/acts';
import { PileActs } from './PileActs';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel } from '@/words/said';

/** Pages of a wide screen where pictures are not picked. */
const NOTHING_TO_PICK = [
  '/household',
  '/introductions',
  '/sitting',
  '/sharing',
  '/devices',
  '/done',
  '/arrivals',
  '/card',
];

/** The pile, always in sight: docked with its pictures and acts on a wide screen, a bar while choosing on a phone. */
export function PileDock() {
  const { ids, choosing, setChoosing } = usePile();
  const wide = useWide();
  const path = usePathname();
  const [folded, setFolded] = useState(false);
  const shown = useMemo(() => ids.slice(-12).reverse(), [ids]);
  const tiles = useTiles(shown);
  const box = useRef<HTMLDivElement>(null);
  const hidden = path === '/pile' || (!ids.length && !choosing) || (!wide && !choosing);
  // Where nothing can be picked the pile waits as a small tab, and leaves the page its room.
  const small = wide && !hidden && (folded || NOTHING_TO_PICK.some((start) => path.startsWith(start)));
  useKeepFree('pile', box, !hidden && !small);
  if (hidden) return null;
  if (small)
    return (
      <Link
        href="/pile"
        aria-label={plural(ids.length, { one: 'Open the pile: # picture', other: 'Open the pile: # pictures' })}
        className="rise"
        style={{
          position: 'absolute',
          zIndex: 20,
          right: 26,
          bottom: 18,
          display: 'flex',
          alignItems: 'center',
          gap: 8,
          minHeight: SIZE.touch,
          paddingHorizontal: 16,
          borderRadius: CORNER.act,
          backgroundColor: 'rgb(var(--veil))',
        }}
      >
        <Icon name="pile" size={18} tone="bright" />
        <Words className="font-semi text-small text-bright">{sayNumber(ids.length)}</Words>
      </Link>
    );
  const pictures = (size: number, most: number) => (
    <div style={{ display: 'flex', minWidth: 0, overflow: 'hidden', paddingLeft: 6 }}>
      {shown.slice(0, most).map((id) => {
        const tile = tiles.get(id);
        return tile ? (
          <img
            key={id}
            src={smallOf(tile.sha)}
            alt={tileLabel(tile)}
            draggable={wide}
            onDragStart={(event) => event.dataTransfer.setData(DRAGGED, JSON.stringify(ids))}
            style={{
              width: size,
              height: size,
              objectFit: 'cover',
              borderRadius: CORNER.picture,
              marginLeft: -4,
              border: '2px solid rgb(var(--veil))',
              flexShrink: 0,
            }}
          />
        ) : (
          <div key={id} style={{ width: size, height: size }} />
        );
      })}
    </div>
  );
  return (
    <div
      ref={box}
      className="rise"
      role="region"
      aria-label={t`The pile`}
      style={{
        position: 'absolute',
        zIndex: 20,
        left: wide ? 26 : 0,
        right: wide ? 56 : 0,
        bottom: wide ? 18 : 0,
        background: 'rgb(var(--veil))',
        borderRadius: wide ? 18 : 0,
        padding: wide ? '12px 18px' : '8px 12px',
        display: 'flex',
        alignItems: 'center',
        gap: wide ? 18 : 10,
        border: '1px solid rgb(var(--line) / 0.25)',
      }}
    >
      <Link
        href="/pile"
        aria-label={plural(ids.length, { one: 'Open the pile: # picture', other: 'Open the pile: # pictures' })}
        style={{ display: 'flex', alignItems: 'center', gap: 12, flexShrink: 0, minHeight: SIZE.touch }}
      >
        <Words kind="number" className="text-title text-bright" aria-live="polite">
          {sayNumber(ids.length)}
        </Words>
        <Words className="text-small text-bright">{t`on the pile`}</Words>
      </Link>
      <View className="min-w-0 flex-1">{pictures(wide ? 48 : 38, wide ? 12 : 4)}</View>
      {wide ? (
        <>
          <PileActs tone="bright" />
          <IconButton name="minus" tone="bright" label={t`Fold the pile away`} onPress={() => setFolded(true)} />
        </>
      ) : (
        <Button label={t`Done`} className="min-h-touch" onPress={() => setChoosing(false)} />
      )}
    </div>
  );
}
