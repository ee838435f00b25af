import type { Person, PersonDetail } from '@gemmel/contract';
import { sayDay } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { count } from '@/ui/say';
import { Words } from '@/ui/Words';
import { answerFaces, changePerson } from './acts';

const AT_ONCE = 120;

/** Every face of a person as a close-up: touch some to take them back out, or one to make it the portrait. */
export function CloseUps({
  person,
  faces,
  year,
}: {
  person: Person;
  faces: PersonDetail['faces'];
  year: number | null;
}) {
  const [most, setMost] = useState(AT_ONCE);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const called = person.nickname ?? person.name.split(' ')[0]!;
  const all = faces.ids
    .map((id, i) => ({ id, day: faces.days[i] ?? null, byMachine: faces.byMachine[i] ?? false }))
    .filter((face) => year === null || face.day?.startsWith(String(year)));
  const some = [...chosen].filter((id) => all.some((face) => face.id === id));
  const flip = (id: number) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  return (
    <View className="gap-3">
      <Words kind="small">
        {some.length
          ? `${count(some.length, 'face')} chosen`
          : 'Touch faces that are somebody else, or one that should be the portrait. A dotted edge: filed by itself.'}
      </Words>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(80px, 1fr))', gap: 10 }}>
        {all.slice(0, most).map((face) => {
          const on = chosen.has(face.id);
          return (
            <Pressable
              key={face.id}
              role="checkbox"
              aria-checked={on}
              aria-label={`${called}${face.day ? `, ${sayDay(face.day)}` : ''}${face.byMachine ? ', filed by itself' : ''}`}
              onPress={() => flip(face.id)}
              className={`items-center rounded-act border-2 py-1.5 ${on ? 'border-juniper bg-mist' : face.byMachine ? 'border-dashed border-line' : 'border-transparent'}`}
            >
              <Cameo face={face.id} width={58} />
            </Pressable>
          );
        })}
      </div>
      {all.length > most ? (
        <Button label={`Show more of ${all.length}`} weight="quiet" onPress={() => setMost(most + AT_ONCE)} />
      ) : null}
      {some.length ? (
        <View
          className="flex-row flex-wrap gap-2 rounded-card border border-line bg-card p-3"
          style={{ position: 'sticky' as 'absolute', bottom: 8 }}
        >
          <Button
            label={`Not ${called}: take ${some.length === 1 ? 'it' : `${some.length}`} back out`}
            onPress={() => {
              setChosen(new Set());
              void answerFaces(some, [], 'unnamed');
            }}
          />
          {some.length === 1 ? (
            <Button
              weight="second"
              label="Make it the portrait"
              onPress={() => {
                setChosen(new Set());
                void changePerson(person.id, { portrait: some[0]! }, `A new portrait of ${called}`);
              }}
            />
          ) : null}
          <Button label="Choose none" weight="quiet" onPress={() => setChosen(new Set())} />
        </View>
      ) : null}
    </View>
  );
}
