import type { MessageDescriptor } from '@lingui/core';
import { msg, plural } from '@lingui/core/macro';
import type { IconName } from '@/ui/Icon';
import { IntoEvent } from '../event/IntoEvent';
import { IntoAlbum } from '../filing/IntoAlbum';
import { TogetherSheet } from './TogetherSheet';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { AudienceSheet } from '../sight/AudienceSheet';
import { ShareSheet } from '../share/ShareSheet';

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
