import { t } from '@lingui/core/macro';
import type { TownHit } from '@gemmel/contract';
import { useEffect, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { Field } from '@/ui/Field';
import { sayMetres } from '@/ui/say';
import { Words } from '@/ui/Words';
import type { Spot } from './acts';
import { sayCountry } from '@/words/said';

/** Where something that was found lies. */
function sayIn({ in: where }: TownHit): string {
  if (!where) return t`a place of your own`;
  const country = sayCountry(where.country);
  return where.region ? t`around ${where.region}, ${country}` : country;
}

/** A line to type a place's name on, with what begins like it below, the nearest and largest first. */
export function PlaceSearch({ near, onPick }: { near: Spot | null; onPick: (hit: TownHit) => void }) {
  const [typed, setTyped] = useState('');
  /** What was found; null while it is being looked for. */
  const [hits, setHits] = useState<TownHit[] | null>([]);
  const [trouble, setTrouble] = useState(false);
  useEffect(() => {
    const asking = new AbortController();
    const wanted = typed.trim();
    if (wanted.length < 2) return;
    const timer = setTimeout(() => {
      setHits(null);
      setTrouble(false);
      call('searchPlaces', { body: { typed: wanted, near } }, asking.signal).then(
        ({ places }) => setHits(places),
        () => {
          if (asking.signal.aborted) return;
          setHits([]);
          setTrouble(true);
        },
      );
    }, 120);
    return () => {
      asking.abort();
      clearTimeout(timer);
    };
  }, [typed, near]);
  const shown = typed.trim().length < 2 ? [] : (hits ?? []);
  const said =
    typed.trim().length < 2
      ? ''
      : hits === null
        ? t`Searching …`
        : trouble
          ? t`The search didn’t answer. Keep typing, or try again in a moment.`
          : hits.length === 0
            ? t`No place called “${typed.trim()}”.`
            : '';
  return (
    <View>
      <Field
        label={t`Find a place by name`}
        placeholder={t`A town, or a place of your own`}
        value={typed}
        onChangeText={setTyped}
        maxLength={120}
        onSubmitEditing={() => shown[0] && (onPick(shown[0]), setTyped(''))}
      />
      <Words kind="small" role="status" className={said ? 'pt-2' : ''}>
        {said}
      </Words>
      <div role="listbox" aria-label={t`Places found`}>
        {shown.map((hit) => (
          <Pressable
            key={`${hit.name}${hit.lat}${hit.lon}`}
            role="option"
            onPress={() => {
              onPick(hit);
              setTyped('');
            }}
            className="min-h-button flex-row items-center justify-between gap-3 border-b border-line py-1.5"
          >
            <View className="min-w-0 flex-1">
              <Words className="font-medium">{hit.name}</Words>
              <Words kind="small">{sayIn(hit)}</Words>
            </View>
            {hit.km === null ? null : <Words kind="small">{hit.km < 1 ? t`here` : sayMetres(1000 * hit.km)}</Words>}
          </Pressable>
        ))}
      </div>
    </View>
  );
}
