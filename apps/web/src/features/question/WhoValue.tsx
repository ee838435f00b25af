import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Condition } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { PeoplePicker } from '@/ui/PeoplePicker';
import { Button, Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';

type WhoPart = Extract<Condition, { who: unknown }>['who'];
const MODES: [WhoPart['mode'], MessageDescriptor][] = [
  ['all', msg`All of them`],
  ['any', msg`Any of them`],
  ['among', msg`Nobody but these`],
  ['only', msg`All of these, nobody else`],
];

/** Who is in it, and how the people asked for belong together. */
export function WhoValue({ before, onTake }: { before: WhoPart | null; onTake: (made: Condition) => void }) {
  const people = useAnswer('people', {}).data?.people ?? [];
  const [chosen, setChosen] = useState<number[]>(before?.people ?? []);
  const [mode, setMode] = useState<WhoPart['mode']>(before?.mode ?? 'all');
  return (
    <>
      <PeoplePicker people={people} chosen={chosen} onChange={setChosen} tone="plum" />
      {people.length === 0 ? <Words className="text-soft">{t`Nobody has a name yet.`}</Words> : null}
      <View className="flex-row flex-wrap gap-2">
        {MODES.map(([value, name]) => (
          <Chip key={value} tone="plum" on={mode === value} label={i18n._(name)} onPress={() => setMode(value)} />
        ))}
      </View>
      <Button label={t`Add`} disabled={!chosen.length} onPress={() => onTake({ who: { people: chosen, mode } })} />
    </>
  );
}
