import { plural, t } from '@lingui/core/macro';
import type { Event } from '@gemmel/contract';
import { memo } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { capital, sayMonth, sayShortDay } from '@/ui/say';
import { Words } from '@/ui/Words';
import type { HeadingBlock } from './Grid';
import { EventHeading } from './EventHeading';
import { sayEdtf } from '@/words/said';

/** What stands above pictures in the grid: a month, an event or a day. */
export const Above = memo(function Above({ block, ids }: { block: HeadingBlock; ids: Int32Array }) {
  if (block.kind === 'event') return <EventAbove block={block} ids={ids} />;
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

/** Events by their number. */
export const eventsById = (answer: { events: Event[] }) => new Map(answer.events.map((e) => [e.id, e]));

function EventAbove({ block, ids }: { block: Extract<HeadingBlock, { kind: 'event' }>; ids: Int32Array }) {
  const events = useAnswer('events', {}, { select: eventsById }).data;
  return <EventHeading block={block} event={events?.get(block.event) ?? null} ids={ids} />;
}
