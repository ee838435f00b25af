import type { Event } from '@gemmel/contract';
import type { Block } from '@gemmel/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { count, sayMonth, sayShortDay } from '@/ui/say';
import { Words } from '@/ui/Words';
import { EventHeading } from './EventHeading';

/** All events by id. */
export function useEvents(): Map<number, Event> {
  const answer = useAnswer('events', {}).data;
  return useMemo(() => new Map(answer?.events.map((e) => [e.id, e])), [answer]);
}

/** What stands above pictures in the grid: a month, an event or a day. */
export function Above({ block, events, ids }: { block: Exclude<Block, { kind: 'row' }>; events: Map<number, Event>; ids: Int32Array }) {
  if (block.kind === 'month')
    return (
      <View style={{ height: block.height, justifyContent: 'center' }}>
        <Words kind="title" className="text-[26px] leading-[32px]" aria-level={2} numberOfLines={1}>
          {block.month ? sayMonth(block.month) : 'Without a date'}
        </Words>
        <Words kind="small">{`${count(block.to - block.from, 'picture')}${block.events ? ` · ${count(block.events, 'event')}` : ''}`}</Words>
      </View>
    );
  if (block.kind === 'day')
    return (
      <View style={{ height: block.height, justifyContent: 'center' }}>
        <Words kind="small" className="font-semi">
          {block.day ? sayShortDay(block.day) : 'Without a day'}
        </Words>
      </View>
    );
  return <EventHeading block={block} event={events.get(block.event) ?? null} ids={ids} />;
}
