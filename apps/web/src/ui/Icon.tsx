import type { IconNode } from 'lucide';
import album from 'lucide/dist/esm/icons/book-image.mjs';
import left from 'lucide/dist/esm/icons/chevron-left.mjs';
import below from 'lucide/dist/esm/icons/chevron-down.mjs';
import right from 'lucide/dist/esm/icons/chevron-right.mjs';
import bin from 'lucide/dist/esm/icons/trash.mjs';
import away from 'lucide/dist/esm/icons/x.mjs';
import browse from 'lucide/dist/esm/icons/layout-grid.mjs';
import date from 'lucide/dist/esm/icons/calendar-days.mjs';
import clock from 'lucide/dist/esm/icons/clock.mjs';
import compass from 'lucide/dist/esm/icons/compass.mjs';
import down from 'lucide/dist/esm/icons/arrow-down.mjs';
import download from 'lucide/dist/esm/icons/download.mjs';
import edit from 'lucide/dist/esm/icons/pencil.mjs';
import again from 'lucide/dist/esm/icons/rotate-ccw.mjs';
import sides from 'lucide/dist/esm/icons/repeat.mjs';
import box from 'lucide/dist/esm/icons/square-dashed.mjs';
import circle from 'lucide/dist/esm/icons/circle-dashed.mjs';
import flat from 'lucide/dist/esm/icons/rows-3.mjs';
import map from 'lucide/dist/esm/icons/map.mjs';
import camera from 'lucide/dist/esm/icons/camera.mjs';
import card from 'lucide/dist/esm/icons/memory-stick.mjs';
import faces from 'lucide/dist/esm/icons/scan-face.mjs';
import folder from 'lucide/dist/esm/icons/folder-up.mjs';
import grip from 'lucide/dist/esm/icons/grip-vertical.mjs';
import heart from 'lucide/dist/esm/icons/heart.mjs';
import inbox from 'lucide/dist/esm/icons/inbox.mjs';
import link from 'lucide/dist/esm/icons/link.mjs';
import look from 'lucide/dist/esm/icons/maximize-2.mjs';
import minus from 'lucide/dist/esm/icons/minus.mjs';
import more from 'lucide/dist/esm/icons/ellipsis.mjs';
import pause from 'lucide/dist/esm/icons/pause.mjs';
import phone from 'lucide/dist/esm/icons/smartphone.mjs';
import pile from 'lucide/dist/esm/icons/layers.mjs';
import pictures from 'lucide/dist/esm/icons/images.mjs';
import numbers from 'lucide/dist/esm/icons/list-ordered.mjs';
import place from 'lucide/dist/esm/icons/map-pin.mjs';
import play from 'lucide/dist/esm/icons/play.mjs';
import plus from 'lucide/dist/esm/icons/plus.mjs';
import copy from 'lucide/dist/esm/icons/copy.mjs';
import chapter from 'lucide/dist/esm/icons/heading.mjs';
import shelf from 'lucide/dist/esm/icons/list-tree.mjs';
import why from 'lucide/dist/esm/icons/circle-question-mark.mjs';
import frozen from 'lucide/dist/esm/icons/snowflake.mjs';
import search from 'lucide/dist/esm/icons/search.mjs';
import send from 'lucide/dist/esm/icons/send.mjs';
import sizes from 'lucide/dist/esm/icons/sliders-horizontal.mjs';
import star from 'lucide/dist/esm/icons/star.mjs';
import tag from 'lucide/dist/esm/icons/tag.mjs';
import tick from 'lucide/dist/esm/icons/check.mjs';
import touch from 'lucide/dist/esm/icons/contrast.mjs';
import up from 'lucide/dist/esm/icons/arrow-up.mjs';
import warn from 'lucide/dist/esm/icons/triangle-alert.mjs';
import { createElement } from 'react';
import type { Token } from './tokens';

const ICONS = {
  again,
  sides,
  album,
  bin,
  box,
  camera,
  circle,
  flat,
  map,
  card,
  clock,
  compass,
  numbers,
  pause,
  phone,
  left,
  right,
  away,
  below,
  browse,
  date,
  down,
  download,
  edit,
  faces,
  folder,
  grip,
  heart,
  inbox,
  link,
  look,
  minus,
  more,
  pile,
  pictures,
  place,
  play,
  plus,
  search,
  shelf,
  chapter,
  copy,
  why,
  frozen,
  send,
  sizes,
  star,
  tag,
  tick,
  touch,
  up,
  warn,
} satisfies Record<string, IconNode>;

export type IconName = keyof typeof ICONS;

/** A colour of the house for places where classes do not reach, such as the strokes of drawings. */
export const colour = (token: Token): string => `rgb(var(--${token}))`;

/** A line drawing, as plain SVG: pages have dozens of them, and first pages should not wait for more. It says nothing to screen readers, the control around it does. */
export function Icon({
  name,
  size = 20,
  tone = 'ink',
  filled = false,
}: {
  name: IconName;
  size?: number;
  tone?: Token;
  filled?: boolean;
}) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill={filled ? colour(tone) : 'none'}
      stroke={colour(tone)}
      strokeWidth={1.7}
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden
    >
      {ICONS[name].map(([shape, attributes], i) => createElement(shape, { key: i, ...attributes }))}
    </svg>
  );
}
