import type { Tile } from '@gemmel/contract';
import type { Stack } from '@gemmel/core';
import { plural, t } from '@lingui/core/macro';
import { memo, useEffect, useRef, useState } from 'react';
import { movingOf, smallOf } from '@/api/client';
import { noteShown } from '@/device/seen';
import type { Tells } from '@/state/look';
import { usePile } from '@/state/pile';
import { useRush } from '@/state/rush';
import { broughtAs } from '@/state/brought';
import { fetchInTurn, throughLine } from '@/state/inTurn';
import { isInSight } from '@/state/sight';
import { useTileStore } from '@/state/tiles';
import { Rings } from '@/ui/Rings';
import { sayClock } from '@/ui/say';
import { placeholder, tint } from '@/ui/thumb';
import { TYPE } from '@/ui/tokens';
import { tileDay, tileLabel } from '@/words/said';

interface Props {
  id: number;
  index: number;
  left: number;
  top: number;
  width: number;
  height: number;
  tells: Tells;
  /** What run it stands for. */
  stack?: Stack | undefined;
  /** The one tile the Tab key stops at. */
  stop: boolean;
}

/** Blurred placeholders are made when nothing else is to be done, for pictures that let one wait; scrolling goes first. */
const whenIdle = window.requestIdleCallback ?? ((work: () => void) => window.setTimeout(work, 120));
const notThen = window.cancelIdleCallback ?? window.clearTimeout;

/** Pictures that have been on screen appear at once the next time. */
const seen = new Set<string>();

const nothing = () => undefined;

/**
 * Puts its picture into a tile, by hand: a grid that hears of each of its pictures through React loses its frames. Takes it out again when
 * what it answers is called.
 */
function putPicture(tile: HTMLElement, sha: string, inWindow: boolean): () => void {
  const image = new Image();
  image.alt = '';
  image.draggable = false;
  image.decoding = 'async';
  if (seen.has(sha)) image.className = 'here';
  image.addEventListener('load', () => {
    seen.add(sha);
    noteShown(throughLine(smallOf(sha)));
    image.className = 'here';
  });
  const at = broughtAs(sha);
  if (at) image.src = at;
  const end = at ? nothing : fetchInTurn(image, smallOf(sha), inWindow);
  // One that has come ahead is there at once; others come in softly.
  if (image.complete && image.naturalWidth > 0) image.className = 'here';
  tile.prepend(image);
  return () => {
    end();
    // Whoever leaps on does not wait for what they have left behind.
    if (!image.complete) image.removeAttribute('src');
    image.remove();
  };
}

/** How long the pointer or a finger rests on a clip before it begins to move, in ms. */
const REST = 220;

/** Whether a clip's silent preview is playing: under the pointer, or as long as a finger holds it. */
function useMoving(clip: boolean) {
  const [moving, setMoving] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const begin = () => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => setMoving(true), REST);
  };
  const end = () => {
    clearTimeout(timer.current);
    setMoving(false);
  };
  const over = clip
    ? {
        onPointerEnter: (event: { pointerType: string }) => event.pointerType === 'mouse' && begin(),
        onPointerDown: (event: { pointerType: string }) => event.pointerType !== 'mouse' && begin(),
        onPointerUp: (event: { pointerType: string }) => event.pointerType !== 'mouse' && end(),
        onPointerLeave: end,
        onPointerCancel: end,
      }
    : {};
  return { moving, over };
}

/** What stands on a tile in words. */
const SAID: Record<Tells, (tile: Tile) => string> = {
  nothing: () => '',
  stars: () => '',
  tags: ({ tags }) => tags.join(' · '),
  title: ({ title }) => title ?? '',
  name: ({ file }) => file,
  date: (tile) => tileDay(tile) ?? '',
};

/** One picture in the grid, in its own shape; details come in a moment later. */
export const PictureTile = memo(function PictureTile({
  id,
  index,
  left,
  top,
  width,
  height,
  tells,
  stack,
  stop,
}: Props) {
  const tile = useTileStore((store) => store.tiles.get(id));
  const chosen = usePile((pile) => pile.has.has(id));
  const said = tile ? SAID[tells](tile) : '';
  const sha = tile?.sha ?? '';
  const loaded = seen.has(sha);
  const wait = useRush((rush) => rush.rushing && !loaded);
  const button = useRef<HTMLButtonElement>(null);
  const { moving, over } = useMoving(tile?.kind === 'video');
  // Hardly any tile shows its mark, and drawing it takes longer than all the rest of the tile.
  const picking = usePile((pile) => pile.choosing);
  const [near, setNear] = useState(false);
  const marked = chosen || picking || near;
  const thumb = tile?.thumb;
  const shown = tile !== undefined && !wait;
  useEffect(() => {
    if (shown && button.current) return putPicture(button.current, sha, loaded || isInSight(top, height));
    // Where it lies is looked at once, when it is asked for.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown, sha]);
  useEffect(() => {
    if (!thumb || loaded) return;
    let idle: number | undefined;
    const late = setTimeout(() => {
      idle = whenIdle(() => {
        if (button.current && !seen.has(sha)) button.current.style.backgroundImage = placeholder(thumb);
      });
    }, 140);
    return () => {
      clearTimeout(late);
      if (idle !== undefined) notThen(idle);
    };
  }, [thumb, sha, loaded]);
  return (
    <button
      ref={button}
      type="button"
      className="tile"
      {...over}
      onPointerOver={() => setNear(true)}
      onFocus={() => setNear(true)}
      data-index={index}
      data-id={id}
      tabIndex={stop ? 0 : -1}
      aria-pressed={chosen}
      aria-label={
        tile
          ? [
              tileLabel(tile),
              tile.kind === 'video' ? t`clip` : '',
              tile.rating ? plural(tile.rating, { one: '# star', other: '# stars' }) : '',
              stack ? plural(stack.shots, { one: 'a run of # shot', other: 'a run of # shots' }) : '',
              chosen ? t`on the pile` : '',
            ]
              .filter(Boolean)
              .join(', ')
          : t`A picture`
      }
      style={{
        transform: `translate(${left}px, ${top}px)`,
        width,
        height,
        backgroundColor: tile ? tint(tile.thumb) : 'rgb(var(--line))',
      }}
    >
      {tile && moving ? (
        <video src={movingOf(sha)} autoPlay muted loop playsInline disablePictureInPicture aria-hidden tabIndex={-1} />
      ) : null}
      {tile && (said || tile.kind === 'video' || (tells === 'stars' && (tile.rating > 0 || tile.favourite))) ? (
        <span
          style={{
            position: 'absolute',
            left: 0,
            right: 0,
            bottom: 0,
            padding: '14px 6px 4px',
            display: 'flex',
            gap: 4,
            alignItems: 'center',
            color: '#fffbf3',
            fontSize: TYPE.tiny,
            fontFamily: 'Figtree_600SemiBold',
            background: 'linear-gradient(transparent, rgb(11 16 15 / 0.72))',
          }}
        >
          {tells === 'stars' && tile.rating > 0 ? <span>{`★ ${tile.rating}`}</span> : null}
          {tells === 'stars' && tile.favourite ? <span>♥</span> : null}
          {said ? (
            <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{said}</span>
          ) : null}
          {tile.kind === 'video' ? (
            <span style={{ marginLeft: 'auto' }}>{`▸ ${sayClock(tile.seconds ?? 0)}`}</span>
          ) : null}
        </span>
      ) : null}
      {stack ? (
        <span
          className="stack"
          data-stack={stack.run}
          title={stack.open ? t`Show one of them` : t`Show all of them`}
          aria-hidden
        >
          {stack.shots}
        </span>
      ) : null}
      <span className="mark" data-choose title={chosen ? t`Take off the pile` : t`Put on the pile`}>
        {marked ? <Rings size={24} joined={chosen} /> : null}
      </span>
    </button>
  );
});
