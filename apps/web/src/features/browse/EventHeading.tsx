import type { Event } from '@gemmel/contract';
import { list, saySpan, type Block } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { join, nameIt, remove } from '@/features/event/acts';
import { EventSheet } from '@/features/event/EventSheet';
import { usePile } from '@/state/pile';
import { act } from '@/state/acts';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { count, sayLongDay, sayShortDay } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** Over an event, or over a day that belongs to none: its name or the offer to give it one, its days, who is in it. */
export function EventHeading({
  block,
  event,
  ids,
}: {
  block: Extract<Block, { kind: 'event' }>;
  event: Event | null;
  ids: Int32Array;
}) {
  const wide = useWide();
  const router = useRouter();
  const [naming, setNaming] = useState(false);
  const [typed, setTyped] = useState('');
  const [more, setMore] = useState(false);
  const [shaping, setShaping] = useState(false);
  const when = !block.day
    ? 'Nobody knows the day'
    : block.until && block.until !== block.day
      ? saySpan(...([block.until, block.day].sort() as [string, string]))
      : wide || event?.title
        ? sayLongDay(block.day)
        : sayShortDay(block.day);
  const shown = block.to - block.from;
  const total = event?.pictures ?? shown;
  const counted = shown < total ? `${shown} of ${count(total, 'picture')}` : count(shown, 'picture');
  const begin = () => {
    setTyped(event?.title ?? '');
    setNaming(true);
    setMore(false);
  };
  const finish = () => {
    setNaming(false);
    const title = typed.trim() || null;
    if (event && title !== event.title) void nameIt(event, title);
  };
  const events = useAnswer('events', {}, { enabled: more }).data?.events ?? [];
  const place = event ? events.findIndex((e) => e.id === event.id) : -1;
  // Newest first: what comes after in the list came before in time.
  const neighbours = place < 0 ? [] : [events[place + 1], events[place - 1]].filter((e) => e !== undefined);
  const mine = () => Array.from(ids.subarray(block.from, block.to));
  const makeAlbum = async () => {
    setMore(false);
    const name = event?.title ?? when;
    const made = await act(
      () => call('makeAlbum', { body: event ? { name, event: event.id } : { name, ids: mine().reverse() } }),
      `The album “${name}” is made.`,
      'albums',
    );
    if (made) router.push({ pathname: '/albums/[id]', params: { id: made.id } });
  };
  const title = event?.title ?? when;
  const beside = [
    ...(event?.title ? [when] : []),
    ...(event?.place ? [event.place] : []),
    ...(event?.people.length ? [list(event.people)] : []),
  ];
  return (
    <View style={{ height: block.height }} className="flex-row items-center gap-2.5">
      <DoubleBar tone={event && !event.title ? 'waiting' : 'settled'} />
      <View className={`min-w-0 flex-1 ${wide ? 'flex-row items-baseline gap-3' : ''}`}>
        {naming ? (
          <TextInput
            autoFocus
            aria-label={`What to call the event of ${when}`}
            placeholder="Kite day, first snow …"
            value={typed}
            onChangeText={setTyped}
            onSubmitEditing={finish}
            onBlur={finish}
            onKeyPress={(e) => {
              if (e.nativeEvent.key !== 'Escape') return;
              setTyped(event?.title ?? '');
              setNaming(false);
            }}
            maxLength={160}
            className="min-h-[40px] flex-1 border-b-2 border-juniper font-serif text-[19px] text-ink"
            style={{ outlineStyle: 'none' } as object}
          />
        ) : (
          <>
            <Words kind="heading" aria-level={3} className="shrink text-[18.5px]" numberOfLines={1}>
              {title}
            </Words>
            {event && !event.title ? (
              <Pressable role="button" onPress={begin} hitSlop={8} className="shrink-0">
                <Words kind="small" className="font-semi text-marigold" numberOfLines={1}>
                  No name yet — call it something?
                </Words>
              </Pressable>
            ) : null}
            {beside.length && (wide || !event || event.title) ? (
              <Words kind="small" className="min-w-0 shrink" numberOfLines={1}>
                {beside.join(' · ')}
              </Words>
            ) : null}
          </>
        )}
      </View>
      <Words kind="small">{wide ? counted : shown}</Words>
      <IconButton name="more" label={`More for ${title}`} onPress={() => setMore(true)} />
      {more ? (
        <Sheet title={title} onClose={() => setMore(false)}>
          <Words className="text-soft">{`${event?.title ? `${when} · ` : ''}${counted}`}</Words>
          {event ? (
            <Button
              label={event.title ? 'Call it something else' : 'Give it a name'}
              weight="second"
              icon="edit"
              onPress={begin}
            />
          ) : null}
          {event
            ? neighbours.map((other) => {
                const name = other.title ?? sayLongDay(other.start);
                return (
                  <Button
                    key={other.id}
                    label={`Join with ${name}`}
                    weight="second"
                    icon="link"
                    onPress={() => {
                      setMore(false);
                      void join(event.id, other.id, name);
                    }}
                  />
                );
              })
            : null}
          {event ? (
            <Button
              label="Days, place and cover"
              weight="second"
              icon="date"
              onPress={() => {
                setMore(false);
                setShaping(true);
              }}
            />
          ) : null}
          <Button label="Make an album of it" weight="second" icon="album" onPress={() => void makeAlbum()} />
          <Button
            label={`Put all ${shown} on the pile`}
            weight="second"
            icon="pile"
            onPress={() => {
              usePile.getState().add(mine());
              setMore(false);
            }}
          />
          {event ? (
            <Button
              label="No event: let its pictures be"
              weight="quiet"
              onPress={() => {
                setMore(false);
                void remove(event.id, title);
              }}
            />
          ) : null}
        </Sheet>
      ) : null}
      {shaping && event ? <EventSheet id={event.id} onClose={() => setShaping(false)} /> : null}
    </View>
  );
}
