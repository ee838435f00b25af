import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Words } from '@/ui/Words';
import { wholeNumber } from './numbering';

/** Where a running number begins, as it is typed, and how many digits it has. */
export function NumberFields({
  start,
  digits,
  onStart,
  onChange,
}: {
  start: string;
  digits: number;
  onStart: (typed: string) => void;
  /** Told only of numbers that are ones. */
  onChange: (change: { start: number } | { digits: number }) => void;
}) {
  return (
    <View className="flex-row gap-3">
      <View className="flex-1">
        <Field
          label={t`First number`}
          value={start}
          inputMode="numeric"
          maxLength={6}
          onChangeText={(typed) => {
            onStart(typed);
            const n = wholeNumber(typed, 0, 999_999);
            if (n !== null) onChange({ start: n });
          }}
        />
      </View>
      <View className="flex-1 gap-1.5">
        <Words kind="small" className="pt-1">{t`Digits`}</Words>
        <View className="flex-row gap-1">
          {[2, 3, 4].map((one) => (
            <Chip key={one} label={`${one}`} on={digits === one} onPress={() => onChange({ digits: one })} />
          ))}
        </View>
      </View>
    </View>
  );
}
