import type { Circle, Person } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { changeCircle, makeCircle, refreshPeople, removeCircle } from './acts';

/** A circle: its name, its place in the order, who is in it. `circle` null makes a new one. */
export function CircleSheet({
  circle,
  circles,
  people,
  onClose,
}: {
  circle: Circle | null;
  circles: readonly Circle[];
  people: readonly Person[];
  onClose: () => void;
}) {
  const [name, setName] = useState(circle?.name ?? '');
  const [members, setMembers] = useState<ReadonlySet<number>>(
    new Set(circle ? people.filter((p) => p.circles.includes(circle.id)).map((p) => p.id) : []),
  );
  const at = circle ? circles.findIndex((c) => c.id === circle.id) : -1;
  const called = name.trim();
  const flip = (id: number) =>
    setMembers((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const keep = async () => {
    onClose();
    if (!circle) return void makeCircle(called, [...members]);
    try {
      for (const person of people)
        if (person.circles.includes(circle.id) !== members.has(person.id))
          await call('changePerson', {
            params: { id: person.id },
            body: {
              circles: members.has(person.id)
                ? [...person.circles, circle.id]
                : person.circles.filter((id) => id !== circle.id),
            },
          });
      if (called !== circle.name) await changeCircle(circle.id, { name: called }, `The circle is called “${called}”`);
      refreshPeople();
    } catch (error) {
      trouble(error);
    }
  };
  const move = (by: number) => {
    onClose();
    void changeCircle(circle!.id, { position: at + by }, `“${circle!.name}” is moved ${by < 0 ? 'up' : 'down'}`);
  };
  return (
    <Sheet title={circle ? circle.name : 'A new circle'} onClose={onClose}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        maxLength={160}
        placeholder="The cousins, the neighbours …"
      />
      <Words kind="small">Who is in it? A person may be in several.</Words>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(84px, 1fr))', gap: 10 }}>
        {people.map((person) => {
          const on = members.has(person.id);
          return (
            <Pressable
              key={person.id}
              role="checkbox"
              aria-checked={on}
              aria-label={person.name}
              onPress={() => flip(person.id)}
              className={`items-center rounded-[14px] border py-2 ${on ? 'border-juniper bg-mist' : 'border-transparent'}`}
            >
              <Cameo face={person.portrait} width={52} faded={!on} />
              <Words kind="small" className={on ? 'font-bold text-juniper' : 'text-soft'} numberOfLines={1}>
                {person.nickname ?? person.name}
              </Words>
            </Pressable>
          );
        })}
      </div>
      <Button label="Keep" disabled={!called} onPress={() => void keep()} />
      {circle ? (
        <View className="flex-row flex-wrap justify-center gap-1">
          {at > 0 ? <Button label="Further up" weight="quiet" icon="up" onPress={() => move(-1)} /> : null}
          {at < circles.length - 1 ? (
            <Button label="Further down" weight="quiet" icon="down" onPress={() => move(1)} />
          ) : null}
          <Button
            label="Remove the circle"
            weight="quiet"
            onPress={() => {
              onClose();
              void removeCircle(circle.id, circle.name);
            }}
          />
        </View>
      ) : null}
    </Sheet>
  );
}
