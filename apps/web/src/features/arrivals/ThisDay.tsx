import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { useLook } from '@/state/look';
import { Button, IconButton } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';

/** This day in other years, quietly: the best picture of each. It can be put away for the day, or for good under Household. */
export function ThisDay() {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const { thisDay, awayOn, setAwayOn } = useLook();
  const [more, setMore] = useState(false);
  const helps = useMe().data?.member?.part !== 'relative';
  const { data } = useAnswer('thisDay', {}, { enabled: thisDay });
  if (!thisDay || !data || data.years.length === 0 || awayOn === data.day) return null;
  const never = (what: { picture: number } | { event: number }) =>
    act(() => call('notAgain', { body: what }), t`Not shown here again`, 'said');
  const open = () => {
    set(data.question);
    router.push('/browse');
  };
  return (
    <View className="gap-2 rounded-card border border-line bg-card p-4">
      <View className="flex-row items-center justify-between">
        <Words kind="strong">{t`This day in other years`}</Words>
        <View className="flex-row">
          {helps ? (
            <IconButton name="more" size={16} label={t`More for this day`} onPress={() => setMore(true)} />
          ) : null}
          <IconButton name="away" size={16} label={t`Not today`} onPress={() => setAwayOn(data.day)} />
        </View>
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
      {more ? (
        <Sheet title={t`This day in other years`} onClose={() => setMore(false)}>
          <Words className="text-soft">{t`What you’d rather not meet again stays in the library; it is just not shown here.`}</Words>
          {data.years.map((year) => (
            <View key={year.id} className="flex-row items-center gap-3 border-b border-line py-2">
              <img
                src={smallOf(year.sha)}
                alt=""
                style={{ width: SIZE.field, height: SIZE.field, objectFit: 'cover', borderRadius: CORNER.picture }}
              />
              <View className="min-w-0 flex-1">
                <Words kind="strong" numberOfLines={1}>
                  {year.event?.title ? `${year.year} · ${year.event.title}` : year.year}
                </Words>
                <View className="flex-row flex-wrap gap-x-4">
                  <Button
                    label={t`Not this picture again`}
                    weight="quiet"
                    className="min-h-touch px-0"
                    onPress={() => void never({ picture: year.id })}
                  />
                  {year.event ? (
                    <Button
                      label={t`Nothing of this event again`}
                      weight="quiet"
                      className="min-h-touch px-0"
                      onPress={() => void never({ event: year.event!.id })}
                    />
                  ) : null}
                </View>
              </View>
            </View>
          ))}
        </Sheet>
      ) : null}
    </View>
  );
}
