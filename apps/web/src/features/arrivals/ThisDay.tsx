import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { useLook } from '@/state/look';
import { IconButton } from '@/ui/Button';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';

/** This day in other years, quietly: the best picture of each. It can be put away for the day, or for good under Household. */
export function ThisDay() {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const { thisDay, awayOn, setAwayOn } = useLook();
  const { data } = useAnswer('thisDay', {}, { enabled: thisDay });
  if (!thisDay || !data || data.years.length === 0 || awayOn === data.day) return null;
  const open = () => {
    set(data.question);
    router.push('/browse');
  };
  return (
    <View className="gap-2 rounded-card border border-line bg-card p-4">
      <View className="flex-row items-center justify-between">
        <Words kind="strong">{t`This day in other years`}</Words>
        <IconButton name="away" size={16} label={t`Not today`} onPress={() => setAwayOn(data.day)} />
      </View>
      <View className="flex-row gap-2">
        {data.years.slice(0, 4).map((year) => (
          <Pressable
            key={year.year}
            role="button"
            aria-label={plural(year.pictures, { one: `${year.year}, # picture`, other: `${year.year}, # pictures` })}
            onPress={open}
            className="min-w-0 flex-1 gap-1 active:opacity-80"
          >
            <img
              src={smallOf(year.sha)}
              alt=""
              style={{ width: '100%', height: 84, objectFit: 'cover', borderRadius: CORNER.picture }}
            />
            <Words kind="small">{year.year}</Words>
          </Pressable>
        ))}
      </View>
    </View>
  );
}
