import { plural, t } from '@lingui/core/macro';
import type { Event } from '@gemmel/contract';
import { type Condition, type Names, phrase, type Question } from '@gemmel/core';
import { memo } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { capital, sayMonth, sayShortDay } from '@/ui/say';
import { Words } from '@/ui/Words';
import type { HeadingBlock } from './Grid';
import { EventHeading, LETTER, LINE } from './EventHeading';
import { useNames } from '@/features/question/names';
import { useLook } from '@/state/look';
import { sayEdtf, words } from '@/words/said';

/** What stands above pictures in the grid: a month, an event or a day; people, a place or a folder. */
export const Above = memo(function Above({ block, ids }: { block: HeadingBlock; ids: Int32Array }) {
  if (block.kind === 'event') return <EventAbove block={block} ids={ids} />;
  if (block.kind === 'group') return <GroupAbove block={block} />;
  // Chapters stand in albums, which draw them themselves.
  if (block.kind === 'chapter') return null;
  return block.kind === 'month' ? (
    <View style={{ height: block.height, justifyContent: 'center' }}>
      <Words kind="title" className="text-title" aria-level={2} numberOfLines={1}>
        {block.said ? capital(sayEdtf(block.said)) : block.month ? capital(sayMonth(block.month)) : t`Without a date`}
      </Words>
      <Words kind="small">
        {[
          plural(block.to - block.from, { one: '# picture', other: '# pictures' }),
          block.events ? plural(block.events, { one: '# event', other: '# events' }) : '',
        ]
          .filter(Boolean)
          .join(' · ')}
      </Words>
    </View>
  ) : (
    <View style={{ height: block.height, justifyContent: 'center' }}>
      <Words kind="small" className="font-semi">
        {block.said ? capital(sayEdtf(block.said)) : block.day ? capital(sayShortDay(block.day)) : t`Day not known`}
      </Words>
    </View>
  );
});

/** What a group is called; nothing for those that belong to none. */
const groupName = (of: Question | null, names: Names): string | null =>
  of && capital(phrase(of as Condition, names, words()).value);

/** How high the heading of a group has to be for its name. `width` is that of the pictures' page. */
export const groupHeight = (of: Question | null, names: Names, width: number): number =>
  37 +
  LINE.name * Math.min(3, Math.ceil(((groupName(of, names) ?? '').length * LETTER.name) / Math.max(120, width)) || 1);

/** People, a place or a folder, by name. */
function GroupAbove({ block }: { block: Extract<HeadingBlock, { kind: 'group' }> }) {
  const names = useNames();
  const headed = useLook((look) => look.headed);
  const none = headed === 'person' ? t`Nobody named` : headed === 'place' ? t`No place` : t`No folder`;
  return (
    <View style={{ height: block.height, justifyContent: 'center' }}>
      <Words kind="heading" className="text-lead" aria-level={2} numberOfLines={3}>
        {groupName(block.of, names) ?? none}
      </Words>
      <Words kind="small">{plural(block.to - block.from, { one: '# picture', other: '# pictures' })}</Words>
    </View>
  );
}

/** Events by their number. */
export const eventsById = (answer: { events: Event[] }) => new Map(answer.events.map((e) => [e.id, e]));

function EventAbove({ block, ids }: { block: Extract<HeadingBlock, { kind: 'event' }>; ids: Int32Array }) {
  const events = useAnswer('events', {}, { select: eventsById }).data;
  return <EventHeading block={block} event={events?.get(block.event) ?? null} ids={ids} />;
}
