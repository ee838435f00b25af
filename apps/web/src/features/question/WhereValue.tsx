import { t } from '@lingui/core/macro';
import type { Place } from '@gemmel/contract';
import type { Condition } from '@gemmel/core';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Words } from '@/ui/Words';
import { sayCountry } from '@/words/said';

/** The towns of a country with their counts, each once, also where some of its pictures lie in a place of the household's own. */
function towns(places: readonly Place[], country: string): [string, number][] {
  const found = new Map<string, number>();
  for (const p of places)
    if (p.country === country && p.place) found.set(p.place, (found.get(p.place) ?? 0) + p.pictures);
  return [...found].sort((a, b) => b[1] - a[1]);
}

/** Where it was taken: a place of the household’s own, a country, a town. */
export function WhereValue({ onTake }: { onTake: (made: Condition) => void }) {
  const places = (useAnswer('places', {}).data?.places ?? []).filter((p) => p.country);
  const own = useAnswer('ownPlaces', {}).data?.places ?? [];
  const countries = [...new Map(places.map((p) => [p.country, sayCountry(p.country)]))];
  return (
    <View>
      {own.map((place) => (
        <Pressable
          key={place.id}
          role="button"
          onPress={() => onTake({ where: { own: place.id } })}
          className="min-h-button justify-center border-t border-line"
        >
          <Words kind="strong">{place.name}</Words>
        </Pressable>
      ))}
      {countries.map(([country, name]) => (
        <View key={country}>
          <Pressable
            role="button"
            onPress={() => onTake({ where: { country } })}
            className="min-h-button justify-center border-t border-line"
          >
            <Words kind="strong">{t`Anywhere in ${name}`}</Words>
          </Pressable>
          {towns(places, country).map(([place, pictures]) => (
            <Pressable
              key={place}
              role="button"
              onPress={() => onTake({ where: { country, place } })}
              className="min-h-touch flex-row items-center justify-between border-t border-line pl-4"
            >
              <Words>{place}</Words>
              <Words kind="small">{pictures}</Words>
            </Pressable>
          ))}
        </View>
      ))}
      {places.length === 0 ? <Words className="text-soft">{t`No pictures have a place yet.`}</Words> : null}
    </View>
  );
}
