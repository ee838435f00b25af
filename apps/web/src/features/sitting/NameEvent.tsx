import type { EventDetail } from '@gemmel/contract';
import { saySpan } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { count, sayLongDay } from '@/ui/say';
import { nameIt, remove } from '../event/acts';
import { Card } from './Card';
import type { OnDone } from './questions';

/** Asks for the name of an event. */
export function NameEvent({ detail, onDone }: { detail: EventDetail; onDone: OnDone }) {
  const { event, best, names } = detail;
  const [typed, setTyped] = useState('');
  const when = event.start === event.end ? sayLongDay(event.start) : saySpan(event.start, event.end);
  const call = (name: string) => {
    onDone('named', nameIt(event, name));
  };
  const facts = [count(event.pictures, 'picture'), event.place, event.people.length ? event.people.join(', ') : null];
  return (
    <Card title={when} text={facts.filter(Boolean).join(' · ')} pictures={best}>
      {names.length ? (
        <View className="flex-row flex-wrap gap-x-2">
          {names.map((name) => (
            <Chip key={name} label={name} onPress={() => call(name)} />
          ))}
        </View>
      ) : null}
      <Field
        label="Or in your words"
        placeholder="Kite day, first snow …"
        value={typed}
        onChangeText={setTyped}
        maxLength={160}
        onSubmitEditing={() => typed.trim() && call(typed.trim())}
      />
      <View className="flex-row flex-wrap gap-2">
        <Button label="Call it that" disabled={!typed.trim()} onPress={() => call(typed.trim())} />
        <Button label="Later" weight="second" onPress={() => onDone('skipped')} />
        <Button label="No event" weight="quiet" onPress={() => onDone('named', remove(event.id, when))} />
      </View>
    </Card>
  );
}
