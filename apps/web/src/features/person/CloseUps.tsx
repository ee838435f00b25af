import { plural, t } from '@lingui/core/macro';
import type { Person, PersonDetail } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Words } from '@/ui/Words';
import { answerFaces, changePerson } from './acts';
import { sayDay, sayNumber } from '@/ui/say';

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
          ? plural(some.length, { one: '# face chosen', other: '# faces chosen' })
          : t`Tap faces that aren’t them, or one to use as the portrait. Dotted edge: named automatically.`}
      </Words>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(80px, 1fr))', gap: 10 }}>
        {all.slice(0, most).map((face) => {
          const on = chosen.has(face.id);
          return (
            <Pressable
              key={face.id}
              role="checkbox"
              aria-checked={on}
              aria-label={[called, face.day ? sayDay(face.day) : '', face.byMachine ? t`named automatically` : '']
                .filter(Boolean)
                .join(', ')}
              onPress={() => flip(face.id)}
              className={`items-center rounded-act border-2 py-1.5 ${on ? 'border-juniper bg-mist' : face.byMachine ? 'border-dashed border-line' : 'border-transparent'}`}
            >
              <Cameo face={face.id} width={58} />
            </Pressable>
          );
        })}
      </div>
      {all.length > most ? (
        <Button
          label={t`Show more of ${sayNumber(all.length)}`}
          weight="quiet"
          onPress={() => setMost(most + AT_ONCE)}
        />
      ) : null}
      {some.length ? (
        <View
          className="flex-row flex-wrap gap-2 rounded-card border border-line bg-card p-3"
          style={{ position: 'sticky' as 'absolute', bottom: 8 }}
        >
          <Button
            label={plural(some.length, { one: `Not ${called}: remove it`, other: `Not ${called}: remove #` })}
            onPress={() => {
              setChosen(new Set());
              void answerFaces(some, [], 'unnamed');
            }}
          />
          {some.length === 1 ? (
            <Button
              weight="second"
              label={t`Use as the portrait`}
              onPress={() => {
                setChosen(new Set());
                void changePerson(person.id, { portrait: some[0]! }, t`New portrait of ${called}`);
              }}
            />
          ) : null}
          <Button label={t`Clear selection`} weight="quiet" onPress={() => setChosen(new Set())} />
        </View>
      ) : null}
    </View>
  );
}
