import { t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import type { Where } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { useAsk } from '@/state/ask';
import { Words } from '@/ui/Words';
import { sayCountry } from '@/words/said';

/** Country, region and place, each leading to all pictures from there. */
export function WhereLine({ where }: { where: NonNullable<Picture['where']> }) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const { country, region, place } = where;
  const steps: [string, Where][] = [
    [sayCountry(country), { country }],
    ...(region ? [[t`around ${region}`, { country, region }] as [string, Where]] : []),
    ...(place ? [[place, { country, ...(region ? { region } : {}), place }] as [string, Where]] : []),
  ];
  return (
    <View className="flex-row flex-wrap items-center gap-x-1.5">
      {steps.map(([name, asked], i) => (
        <Pressable
          key={name}
          role="button"
          aria-label={t`All pictures from ${name}`}
          onPress={() => {
            set({ where: asked });
            router.push('/browse');
          }}
          className="min-h-touch justify-center"
        >
          <Words kind="small" className="font-semi text-juniper">
            {i ? `› ${name}` : name}
          </Words>
        </Pressable>
      ))}
    </View>
  );
}
