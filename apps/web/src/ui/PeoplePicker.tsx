import type { Person } from '@gemmel/contract';
import { Pressable } from 'react-native';
import { Cameo } from './Cameo';
import { Words } from './Words';

const ON = {
  juniper: { box: 'border-juniper bg-mist', text: 'font-bold text-juniper' },
  plum: { box: 'border-plum bg-lilac', text: 'font-bold text-plum' },
} as const;

/** People to tick, as cameos: any number of them. */
export function PeoplePicker({
  people,
  chosen,
  onChange,
  tone = 'juniper',
}: {
  people: readonly Person[];
  chosen: readonly number[];
  onChange: (chosen: number[]) => void;
  tone?: keyof typeof ON;
}) {
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(84px, 1fr))', gap: 10 }}>
      {people.map((person) => {
        const on = chosen.includes(person.id);
        return (
          <Pressable
            key={person.id}
            role="checkbox"
            aria-checked={on}
            aria-label={person.name}
            onPress={() => onChange(on ? chosen.filter((id) => id !== person.id) : [...chosen, person.id])}
            className={`items-center rounded-act border py-2 ${on ? ON[tone].box : 'border-transparent'}`}
          >
            <Cameo face={person.portrait} width={52} />
            <Words kind="small" className={on ? ON[tone].text : 'text-ink'} numberOfLines={1}>
              {person.nickname ?? person.name}
            </Words>
          </Pressable>
        );
      })}
    </div>
  );
}
