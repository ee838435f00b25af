import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Words } from '@/ui/Words';

/** Those a share is for by name. */
export interface Chosen {
  members: number[];
  people: { name: string; email: string | null }[];
}

export const NOBODY: Chosen = { members: [], people: [] };

/** Members, and people by name, each of whom gets a link of their own; `there` has one already. */
export function PeopleFields({
  chosen,
  there = [],
  onChange,
}: {
  chosen: Chosen;
  there?: readonly (number | null)[];
  onChange: (chosen: Chosen) => void;
}) {
  const own = useMe().data?.member?.id;
  const members = (useAnswer('members', {}).data?.members ?? []).filter(({ id }) => id !== own && !there.includes(id));
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const relatives = members.filter(({ part }) => part === 'relative').map(({ id }) => id);
  // Members are known by the same names as the people in the pictures: a circle of those is one of these.
  const family = useAnswer('people', {}).data;
  const circles = (family?.circles ?? [])
    .map(({ id, name: called }) => {
      const names = new Set(
        family!.people.filter((one) => one.circles.includes(id)).map((one) => one.name.toLowerCase()),
      );
      return { id, called, of: members.filter((one) => names.has(one.name.toLowerCase())).map((one) => one.id) };
    })
    .filter(({ of }) => of.length > 1);
  const toggle = (id: number) =>
    onChange({
      ...chosen,
      members: chosen.members.includes(id) ? chosen.members.filter((one) => one !== id) : [...chosen.members, id],
    });
  const add = () => {
    onChange({ ...chosen, people: [...chosen.people, { name: name.trim(), email: email.trim() || null }] });
    setName('');
    setEmail('');
  };
  return (
    <View className="gap-2">
      {members.length ? (
        <View>
          <Words kind="small">{t`Members`}</Words>
          <View className="flex-row flex-wrap gap-x-2">
            {relatives.length > 1 ? (
              <Chip
                label={t`All relatives`}
                on={relatives.every((id) => chosen.members.includes(id))}
                onPress={() => onChange({ ...chosen, members: [...new Set([...chosen.members, ...relatives])] })}
              />
            ) : null}
            {circles.map(({ id, called, of }) => (
              <Chip
                key={`circle ${id}`}
                icon="circle"
                label={called}
                on={of.every((one) => chosen.members.includes(one))}
                onPress={() => onChange({ ...chosen, members: [...new Set([...chosen.members, ...of])] })}
              />
            ))}
            {members.map((one) => (
              <Chip key={one.id} label={one.name} on={chosen.members.includes(one.id)} onPress={() => toggle(one.id)} />
            ))}
          </View>
        </View>
      ) : null}
      {chosen.people.length ? (
        <View className="flex-row flex-wrap gap-x-2">
          {chosen.people.map((one, i) => (
            <Chip
              key={`${one.name} ${i}`}
              label={one.name}
              onAway={() => onChange({ ...chosen, people: chosen.people.filter((_, at) => at !== i) })}
            />
          ))}
        </View>
      ) : null}
      <Field label={t`Somebody else’s name`} value={name} onChangeText={setName} maxLength={80} />
      {name.trim() ? (
        <>
          <Field
            label={t`E-mail address, if you know it`}
            value={email}
            onChangeText={setEmail}
            inputMode="email"
            autoCapitalize="none"
          />
          <Button label={t`Add ${name.trim()}`} weight="second" onPress={add} />
        </>
      ) : null}
      <Words kind="small">{t`Everybody here gets a link of their own, which you can close without closing the others. They need no account.`}</Words>
    </View>
  );
}
