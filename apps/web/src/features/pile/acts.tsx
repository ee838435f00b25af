import type { MessageDescriptor } from '@lingui/core';
import { msg, plural } from '@lingui/core/macro';
import type { IconName } from '@/ui/Icon';
import { IntoEvent } from '../event/IntoEvent';
import { lazily } from '@/ui/lazily';

const IntoAlbum = lazily(async () => (await import('../filing/IntoAlbum')).IntoAlbum);
const TogetherSheet = lazily(async () => (await import('./TogetherSheet')).TogetherSheet);
const PlaceSheet = lazily(async () => (await import('../place/PlaceSheet')).PlaceSheet);
const DatesSheet = lazily(async () => (await import('../time/DatesSheet')).DatesSheet);
const AudienceSheet = lazily(async () => (await import('../sight/AudienceSheet')).AudienceSheet);
const ShareSheet = lazily(async () => (await import('../share/ShareSheet')).ShareSheet);

/** What can be done with pictures by a sheet of its own. */
export type SheetAct = 'said' | 'dates' | 'place' | 'album' | 'event' | 'audience' | 'share';
export const SHEET_ACTS: readonly [SheetAct, MessageDescriptor, IconName][] = [
  ['said', msg`Describe`, 'star'],
  ['album', msg`Album`, 'album'],
  ['dates', msg`Date`, 'clock'],
  ['place', msg`Place`, 'place'],
  ['event', msg`Event`, 'date'],
  ['audience', msg`Who it’s for`, 'circle'],
  ['share', msg`Share`, 'send'],
];

/** The keys that open a sheet. */
export const SHEET_KEYS: Readonly<Record<string, SheetAct>> = { t: 'said', e: 'event' };

/** The sheet of one thing that can be done with some pictures. `onMade` is told when they were put into an album. */
export function ActSheet({
  act,
  ids,
  onClose,
  onMade,
}: {
  act: SheetAct;
  ids: readonly number[];
  onClose: () => void;
  onMade?: (made: number | null) => void;
}) {
  if (act === 'said') return <TogetherSheet ids={ids} onClose={onClose} />;
  if (act === 'album')
    return <IntoAlbum from={{ ids: [...ids] }} count={ids.length} onClose={onClose} {...(onMade ? { onMade } : {})} />;
  if (act === 'dates') return <DatesSheet ids={ids} onClose={onClose} />;
  if (act === 'place') return <PlaceSheet ids={ids} position={null} onClose={onClose} />;
  if (act === 'audience') return <AudienceSheet ids={ids} onClose={onClose} />;
  if (act === 'event') return <IntoEvent ids={ids} onClose={onClose} />;
  if (act === 'share')
    return (
      <ShareSheet
        what={{ ids: [...ids] }}
        title={plural(ids.length, { one: '# picture', other: '# pictures' })}
        onClose={onClose}
      />
    );
}
