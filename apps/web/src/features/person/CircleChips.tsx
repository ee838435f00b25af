import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';

/** The circles somebody is in; with none made yet it says where they are made. */
export function CircleChips({ chosen, onChange }: { chosen: readonly number[]; onChange: (chosen: number[]) => void }) {
  const circles = useAnswer('people', {}).data?.circles ?? [];
  return (
    <View>
      <Words kind="small">{t`Circles`}</Words>
      <View className="flex-row flex-wrap gap-2">
        {circles.map(({ id, name }) => {
          const on = chosen.includes(id);
          return (
            <Chip
              key={id}
              label={name}
              on={on}
              onPress={() => onChange(on ? chosen.filter((other) => other !== id) : [...chosen, id])}
            />
          );
        })}
        {circles.length === 0 ? <Words className="text-soft">{t`You can make circles on Who.`}</Words> : null}
      </View>
    </View>
  );
}
