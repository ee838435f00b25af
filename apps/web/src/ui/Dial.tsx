import { View } from 'react-native';
import { Words } from './Words';

/** A dial between two words: what is at its left end, and what at its right. From 0 to 1. */
export function Dial({
  label,
  left,
  right,
  value,
  onChange,
}: {
  label: string;
  left: string;
  right: string;
  value: number;
  onChange: (value: number) => void;
}) {
  return (
    <View>
      <input
        type="range"
        aria-label={label}
        aria-valuetext={value < 0.35 ? left : value > 0.65 ? right : `${left} – ${right}`}
        min={0}
        max={20}
        step={1}
        value={Math.round(value * 20)}
        onChange={(event) => onChange(Number(event.target.value) / 20)}
        style={{ width: '100%', minHeight: 44, accentColor: 'rgb(var(--juniper))' }}
      />
      <View className="flex-row justify-between gap-4">
        <Words kind="small">{left}</Words>
        <Words kind="small" className="text-right">
          {right}
        </Words>
      </View>
    </View>
  );
}
