import type { Tile } from '@gemmel/contract';
import { useEffect, useMemo, useState } from 'react';
import { smallOf } from '@/api/client';
import { throughLine } from '@/state/inTurn';
import { useTileStore } from '@/state/tiles';
import type { Viewed } from '@/ui/Viewer';

/** As much of a picture as the grid knows: enough to look at it while all that is said about it is on its way. */
export type Opening = Viewed & Pick<Tile, 'sha' | 'touched'> & { small: string };

/** The size of a small copy that is on the device; null while it is not. */
function sizeOnDevice(src: string): { width: number; height: number } | null {
  const image = new Image();
  image.src = src;
  return image.complete && image.naturalWidth ? { width: image.naturalWidth, height: image.naturalHeight } : null;
}

/** What the grid knows of a picture; null when it does not know it, and for clips, which are not looked at before they are known. */
export function useOpening(id: number): Opening | null {
  const tile = useTileStore(({ tiles }) => tiles.get(id));
  const src = tile?.kind === 'photo' ? throughLine(smallOf(tile.sha)) : null;
  const [known, setKnown] = useState<{ src: string; width: number; height: number } | null>(null);
  const there = useMemo(() => (src === null ? null : sizeOnDevice(src)), [src]);
  const size = known?.src === src ? known : there;
  useEffect(() => {
    if (src === null || size) return;
    let left = false;
    const image = new Image();
    image.onload = () => {
      if (!left) setKnown({ src, width: image.naturalWidth, height: image.naturalHeight });
    };
    image.src = src;
    return () => void (left = true);
  }, [src, size]);
  if (!tile || !size) return null;
  const { sha, thumb, kind, touched, file: name } = tile;
  return { id, sha, thumb, kind, touched, name, small: src!, width: size.width, height: size.height };
}
