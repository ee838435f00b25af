import { plural, t } from '@lingui/core/macro';
import type { EventDetail } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { capital, sayList, sayLongDay } from '@/ui/say';
import { nameIt, remove } from '../event/acts';
import { Card } from './Card';
import type { OnDone } from './questions';
import { sayEventPlace, saySpan } from '@/words/said';

/** Asks for the name of an event. */
export function NameEvent({ detail, onDone }: { detail: EventDetail; onDone: OnDone }) {
  const { event, best, names } = detail;
  const [typed, setTyped] = useState('');
  const when = event.start === event.end ? capital(sayLongDay(event.start)) : saySpan(event.start, event.end);
  const call = (name: string) => {
    onDone('named', nameIt(event, name));
  };
  const facts = [
    plural(event.pictures, { one: '# picture', other: '# pictures' }),
    sayEventPlace(event),
    event.people.length ? sayList(event.people) : null,
  ];
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
        label={t`Or your own name`}
        placeholder={t`Kite day, first snow …`}
        value={typed}
        onChangeText={setTyped}
        maxLength={160}
        onSubmitEditing={() => typed.trim() && call(typed.trim())}
      />
      <View className="flex-row flex-wrap gap-2">
        <Button label={t`Use this name`} disabled={!typed.trim()} onPress={() => call(typed.trim())} />
        <Button label={t`Later`} weight="second" onPress={() => onDone('skipped')} />
        <Button label={t`Not an event`} weight="quiet" onPress={() => onDone('named', remove(event.id, when))} />
      </View>
    </Card>
  );
}
