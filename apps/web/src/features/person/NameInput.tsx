import { t } from '@lingui/core/macro';
import type { Circle, Person } from '@gemmel/contract';
import { fold } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Cameo } from '@/ui/Cameo';
import { Words } from '@/ui/Words';

/** Who it is, as it can be typed: somebody known, or a new name. */
export type Typed = { person: number } | { newPerson: string };

/** People whose name, nickname or circle begins with what is typed, those in most pictures first. */
export function whoBegins(people: readonly Person[], circles: readonly Circle[], typed: string): Person[] {
  const asked = fold(typed);
  if (!asked) return [];
  const begins = (text: string | null) =>
    text !== null &&
    fold(text)
      .split(' ')
      .some((_, i, all) => all.slice(i).join(' ').startsWith(asked));
  const inCircle = new Set(circles.filter((c) => begins(c.name)).map((c) => c.id));
  const byName = people.filter((p) => begins(p.name) || begins(p.nickname));
  return [...byName, ...people.filter((p) => !byName.includes(p) && p.circles.some((id) => inCircle.has(id)))];
}

/** A line for a name with type-ahead: Enter takes the completed name, or makes somebody new. */
export function NameInput({
  label,
  onName,
  onTyped,
}: {
  label: string;
  onName: (is: Typed) => void;
  onTyped?: (typed: string) => void;
}) {
  const [typed, setTyped] = useState('');
  const { people = [], circles = [] } = useAnswer('people', {}).data ?? {};
  const hits = whoBegins(people, circles, typed).slice(0, 5);
  const first = hits[0];
  const exact = people.find((p) => fold(p.name) === fold(typed));
  const rest = first && first.name.toLowerCase().startsWith(typed.toLowerCase()) ? first.name.slice(typed.length) : '';
  const circleNames = (person: Person) =>
    person.circles.flatMap((id) => circles.find((c) => c.id === id)?.name ?? []).join(', ');
  const write = (text: string) => {
    setTyped(text);
    onTyped?.(text);
  };
  const take = () => {
    const name = typed.trim();
    if (!name) return;
    const person = exact ?? (rest !== '' ? first : undefined);
    write('');
    onName(person ? { person: person.id } : { newPerson: name });
  };
  return (
    <View className="gap-1">
      <View className="min-h-field justify-center rounded-act border border-juniper bg-card">
        {typed && rest ? (
          <div
            aria-hidden
            style={{
              position: 'absolute',
              left: 17,
              right: 90,
              pointerEvents: 'none',
              whiteSpace: 'pre',
              overflow: 'hidden',
            }}
          >
            <Words className="text-lead">
              <Words className="text-lead" style={{ color: 'transparent' }}>
                {typed}
              </Words>
              <Words className="text-lead text-soft">{rest}</Words>
            </Words>
          </div>
        ) : null}
        <TextInput
          aria-label={label}
          placeholder={label}
          value={typed}
          onChangeText={write}
          onSubmitEditing={take}
          autoCapitalize="words"
          autoComplete="off"
          maxLength={160}
          className="min-h-field bg-transparent px-4 font-sans text-lead text-ink"
          style={{ outlineStyle: 'none' } as object}
        />
        {typed.trim() ? (
          <Pressable role="button" onPress={take} className="absolute bottom-0 right-1 top-0 justify-center px-3">
            <Words kind="small">{exact || rest ? t`↵ to accept` : t`↵ somebody new`}</Words>
          </Pressable>
        ) : null}
      </View>
      {typed
        ? hits.map((person) => (
            <Pressable
              key={person.id}
              role="button"
              onPress={() => {
                write('');
                onName({ person: person.id });
              }}
              className="min-h-button flex-row items-center gap-3 border-b border-line px-2 py-1"
            >
              <Cameo face={person.portrait} width={26} />
              <Words className="min-w-0 flex-1" numberOfLines={1}>
                {person.name}
              </Words>
              <Words kind="small" numberOfLines={1} className="max-w-[50%]">
                {[person.nickname !== person.name ? person.nickname : null, circleNames(person)]
                  .filter(Boolean)
                  .join(' · ')}
              </Words>
            </Pressable>
          ))
        : null}
    </View>
  );
}
