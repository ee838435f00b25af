import type { TownHit } from '@gemmel/contract';
import { useEffect, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import type { Spot } from './acts';

/** A line to type a place's name on, with what begins like it below, the nearest and largest first. */
export function PlaceSearch({ near, onPick }: { near: Spot | null; onPick: (hit: TownHit) => void }) {
  const [typed, setTyped] = useState('');
  const [hits, setHits] = useState<TownHit[]>([]);
  useEffect(() => {
    let here = true;
    const wanted = typed.trim();
    const timer = setTimeout(() => {
      if (wanted.length < 2) return setHits([]);
      call('searchPlaces', { body: { typed: wanted, near } }).then(
        ({ places }) => here && setHits(places),
        () => here && setHits([]),
      );
    }, 180);
    return () => {
      here = false;
      clearTimeout(timer);
    };
  }, [typed, near]);
  return (
    <View>
      <Field
        label="Search a place by its name"
        placeholder="A town, or a place of your own"
        value={typed}
        onChangeText={setTyped}
        maxLength={120}
        onSubmitEditing={() => hits[0] && (onPick(hits[0]), setTyped(''))}
      />
      <div role="listbox" aria-label="Places found">
        {hits.map((hit) => (
          <Pressable
            key={`${hit.name}${hit.lat}${hit.lon}`}
            role="option"
            onPress={() => {
              onPick(hit);
              setTyped('');
            }}
            className="min-h-[48px] flex-row items-center justify-between gap-3 border-b border-line py-1.5"
          >
            <View className="min-w-0 flex-1">
              <Words className="font-medium">{hit.name}</Words>
              <Words kind="small">{hit.sub}</Words>
            </View>
            {hit.km === null ? null : <Words kind="small">{hit.km < 1 ? 'here' : `${sayNumber(hit.km)} km`}</Words>}
          </Pressable>
        ))}
      </div>
    </View>
  );
}
