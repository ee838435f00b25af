import { type Block, places, type Stack, type Strip } from '@gemmel/core';
import { memo, useMemo } from 'react';
import type { Tells } from '@/state/look';
import { PictureTile } from './Tile';

/** The gap between tiles, in pixels. */
export const GAP = 3;

/** The tiles of one row; drawn again only when the row itself or the stop of the Tab key changes. */
export const TileRow = memo(function TileRow({
  row,
  strip,
  tells,
  stacks,
  stop,
}: {
  row: Block;
  strip: Strip;
  tells: Tells;
  stacks?: ReadonlyMap<number, Stack> | undefined;
  stop: number;
}) {
  const cells = useMemo(() => places(strip.ratios, row, GAP), [strip, row]);
  return cells.map((cell, i) => {
    const index = row.from + i;
    const id = strip.ids[index]!;
    return (
      <PictureTile
        key={id}
        id={id}
        index={index}
        left={cell.left}
        top={Math.round(row.top)}
        width={cell.width}
        height={Math.round(row.height)}
        tells={tells}
        stack={stacks?.get(id)}
        stop={stop === index}
      />
    );
  });
});
