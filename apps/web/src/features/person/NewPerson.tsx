import { t } from '@lingui/core/macro';
import type { FaceAnswer } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { Words } from '@/ui/Words';
import { CircleChips } from './CircleChips';
import { firstName } from '@/features/person/names';

/** Somebody new: a name, and if known the birth date and circles. */
export function NewPerson({ onName, onBack }: { onName: (is: FaceAnswer['is']) => void; onBack: () => void }) {
  const people = useAnswer('people', {}).data?.people ?? [];
  const [name, setName] = useState('');
  const [born, setBorn] = useState<string | null>(null);
  const [circles, setCircles] = useState<number[]>([]);
  const called = name.trim();
  const known = people.find((p) => p.name.toLowerCase() === called.toLowerCase());
  const take = () => called && onName(known ? { person: known.id } : { newPerson: called, born, circles });
  return (
    <View className="gap-3.5 rounded-card border border-line bg-card p-4">
      <Field
        label={t`Name`}
        value={name}
        onChangeText={setName}
        onSubmitEditing={take}
        autoFocus
        autoCapitalize="words"
        autoComplete="off"
        maxLength={160}
      />
      <DayField label={t`Born, if you know (helps with ages)`} value={born} onChange={setBorn} />
      <CircleChips chosen={circles} onChange={setCircles} />
      {known ? (
        <Words kind="small">{t`You already know ${known.name}: these faces will be added to them.`}</Words>
      ) : null}
      <View className="flex-row gap-2.5 bg-card pb-1" style={{ position: 'sticky' as 'absolute', bottom: 0 }}>
        <Button
          className="flex-1"
          disabled={!called}
          label={called ? t`This is ${firstName(called)}` : t`This is …`}
          onPress={take}
        />
        <Button weight="second" label={t`Back`} onPress={onBack} />
      </View>
    </View>
  );
}
