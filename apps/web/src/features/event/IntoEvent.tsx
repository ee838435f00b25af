import { fold } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { count, sayLongDay } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { moveTo } from './acts';

/** Files pictures under an event that is there, or under a new one. */
export function IntoEvent({ ids, onClose }: { ids: readonly number[]; onClose: () => void }) {
  const events = useAnswer('events', {}).data?.events ?? [];
  const [typed, setTyped] = useState('');
  const n = count(ids.length, 'picture');
  const hits = events.filter((event) => fold(event.title ?? sayLongDay(event.start)).includes(fold(typed)));
  const file = (to: { event: number } | { title: string }, name: string) => {
    onClose();
    void moveTo(ids, to, `${n} filed under ${name}; the folder on disk follows.`);
  };
  return (
    <Sheet title={`The event of ${n}`} onClose={onClose}>
      <Field
        label="Its name"
        placeholder="Kite day, first snow …"
        value={typed}
        onChangeText={setTyped}
        maxLength={160}
      />
      <Button
        label="Make it an event"
        disabled={!typed.trim()}
        onPress={() => file({ title: typed.trim() }, `“${typed.trim()}”`)}
      />
      {hits.length ? (
        <View>
          <Words kind="small">Or one that is there</Words>
          {hits.slice(0, 40).map((event) => (
            <Pressable
              key={event.id}
              role="button"
              onPress={() => file({ event: event.id }, event.title ? `“${event.title}”` : sayLongDay(event.start))}
              className="min-h-field flex-row items-center justify-between gap-3 border-t border-line"
            >
              <Words className="min-w-0 flex-1" numberOfLines={2}>
                {event.title ?? sayLongDay(event.start)}
              </Words>
              <Words kind="small">{event.pictures}</Words>
            </Pressable>
          ))}
        </View>
      ) : null}
    </Sheet>
  );
}
