import type { ReactNode } from 'react';
import { View } from 'react-native';
import { Chip } from './Button';
import { Words } from './Words';

/** Chips below what they are about. */
export function Group({ label, children }: { label: string; children: ReactNode }) {
  return (
    <View className="gap-0.5">
      <Words kind="small">{label}</Words>
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={label}>
        {children}
      </View>
    </View>
  );
}

/** One of several, as chips. */
export function Choice<T extends string | number | null>({
  label,
  of,
  value,
  onChoose,
}: {
  label: string;
  of: readonly (readonly [T, string])[];
  value: T;
  onChoose: (value: T) => void;
}) {
  return (
    <Group label={label}>
      {of.map(([one, said]) => (
        <Chip key={String(one)} label={said} on={one === value} onPress={() => onChoose(one)} />
      ))}
    </Group>
  );
}
