import { plural, t } from '@lingui/core/macro';
import { Pressable, View } from 'react-native';
import { Icon } from './Icon';

/** Nought to five stars; pressing the one that is set takes the rating away. */
export function Stars({
  value,
  onChange,
  size = 21,
}: {
  value: number;
  onChange: (stars: number) => void;
  size?: number;
}) {
  return (
    <View className="flex-row" role="radiogroup" aria-label={t`Stars`}>
      {[1, 2, 3, 4, 5].map((n) => (
        <Pressable
          key={n}
          role="radio"
          aria-checked={value === n}
          aria-label={plural(n, { one: '# star', other: '# stars' })}
          onPress={() => onChange(value === n ? 0 : n)}
          className="h-11 items-center justify-center"
          style={{ width: Math.max(30, size + 8) }}
        >
          <Icon name="star" tone={n <= value ? 'glow' : 'soft'} filled={n <= value} size={size} />
        </Pressable>
      ))}
    </View>
  );
}
