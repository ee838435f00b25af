import type { LucideIcon } from 'lucide-react-native';
import album from 'lucide-react-native/icons/book-image';
import left from 'lucide-react-native/icons/chevron-left';
import below from 'lucide-react-native/icons/chevron-down';
import right from 'lucide-react-native/icons/chevron-right';
import bin from 'lucide-react-native/icons/trash';
import away from 'lucide-react-native/icons/x';
import browse from 'lucide-react-native/icons/layout-grid';
import date from 'lucide-react-native/icons/calendar-days';
import clock from 'lucide-react-native/icons/clock';
import compass from 'lucide-react-native/icons/compass';
import down from 'lucide-react-native/icons/arrow-down';
import download from 'lucide-react-native/icons/download';
import edit from 'lucide-react-native/icons/pencil';
import again from 'lucide-react-native/icons/rotate-ccw';
import sides from 'lucide-react-native/icons/repeat';
import box from 'lucide-react-native/icons/square-dashed';
import circle from 'lucide-react-native/icons/circle-dashed';
import flat from 'lucide-react-native/icons/rows-3';
import map from 'lucide-react-native/icons/map';
import camera from 'lucide-react-native/icons/camera';
import card from 'lucide-react-native/icons/memory-stick';
import faces from 'lucide-react-native/icons/scan-face';
import folder from 'lucide-react-native/icons/folder-up';
import grip from 'lucide-react-native/icons/grip-vertical';
import heart from 'lucide-react-native/icons/heart';
import inbox from 'lucide-react-native/icons/inbox';
import link from 'lucide-react-native/icons/link';
import look from 'lucide-react-native/icons/maximize-2';
import minus from 'lucide-react-native/icons/minus';
import more from 'lucide-react-native/icons/ellipsis';
import pause from 'lucide-react-native/icons/pause';
import phone from 'lucide-react-native/icons/smartphone';
import pile from 'lucide-react-native/icons/layers';
import pictures from 'lucide-react-native/icons/images';
import numbers from 'lucide-react-native/icons/list-ordered';
import place from 'lucide-react-native/icons/map-pin';
import play from 'lucide-react-native/icons/play';
import plus from 'lucide-react-native/icons/plus';
import copy from 'lucide-react-native/icons/copy';
import chapter from 'lucide-react-native/icons/heading';
import shelf from 'lucide-react-native/icons/list-tree';
import why from 'lucide-react-native/icons/circle-question-mark';
import frozen from 'lucide-react-native/icons/snowflake';
import search from 'lucide-react-native/icons/search';
import send from 'lucide-react-native/icons/send';
import sizes from 'lucide-react-native/icons/sliders-horizontal';
import star from 'lucide-react-native/icons/star';
import tag from 'lucide-react-native/icons/tag';
import tick from 'lucide-react-native/icons/check';
import touch from 'lucide-react-native/icons/contrast';
import up from 'lucide-react-native/icons/arrow-up';
import warn from 'lucide-react-native/icons/triangle-alert';
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
} satisfies Record<string, LucideIcon>;

export type IconName = keyof typeof ICONS;

/** A colour of the house for places where classes do not reach, such as the strokes of drawings. */
export const colour = (token: Token): string => `rgb(var(--${token}))`;

/** A line drawing; it says nothing to screen readers, the control around it does. */
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
  const Drawing = ICONS[name];
  return (
    <Drawing size={size} color={colour(tone)} strokeWidth={1.7} fill={filled ? colour(tone) : 'none'} aria-hidden />
  );
}
