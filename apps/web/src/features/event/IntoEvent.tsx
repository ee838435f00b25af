import { plural, t } from '@lingui/core/macro';
import { fold } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayLongDay } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { moveTo } from './acts';

/** Files pictures under an event that is there, or under a new one. */
export function IntoEvent({ ids, onClose }: { ids: readonly number[]; onClose: () => void }) {
  const events = useAnswer('events', {}).data?.events ?? [];
  const [typed, setTyped] = useState('');
  const hits = events.filter((event) => fold(event.title ?? sayLongDay(event.start)).includes(fold(typed)));
  const file = (to: { event: number } | { title: string }, name: string) => {
    onClose();
    void moveTo(ids, to, [
      plural(ids.length, { one: `# picture moved to ${name}`, other: `# pictures moved to ${name}` }),
      t`The folder on disk follows.`,
    ]);
  };
  return (
    <Sheet
      title={plural(ids.length, { one: 'Put # picture in an event', other: 'Put # pictures in an event' })}
      onClose={onClose}
    >
      <Field
        label={t`Name of a new event`}
        placeholder={t`Kite day, first snow …`}
        value={typed}
        onChangeText={setTyped}
        maxLength={160}
      />
      <Button
        label={t`Make the event`}
        disabled={!typed.trim()}
        onPress={() => file({ title: typed.trim() }, t`“${typed.trim()}”`)}
      />
      {hits.length ? (
        <View>
          <Words kind="small">{t`Or an existing one`}</Words>
          {hits.slice(0, 40).map((event) => (
            <Pressable
              key={event.id}
              role="button"
              onPress={() => file({ event: event.id }, event.title ? t`“${event.title}”` : sayLongDay(event.start))}
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
