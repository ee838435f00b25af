import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { give, type Spot } from './acts';
import { usePlaceInHand } from './inHand';
import { PlaceSearch } from './PlaceSearch';
import { SpotMap } from './SpotMap';
import { TrackPart } from './TrackPart';
import { sayPlace } from '@/words/said';

/** Gives pictures a place: by its name, by a pin on the map, from a copied place, or from a recorded track. */
export function PlaceSheet({
  ids,
  position,
  onClose,
}: {
  ids: readonly number[];
  /** Where the one picture it is about is so far. */
  position: Spot | null;
  onClose: () => void;
}) {
  const [spot, setSpot] = useState<Spot | null>(position);
  const [name, setName] = useState('');
  const [moved, setMoved] = useState(false);
  const copied = usePlaceInHand((hand) => hand.place);
  const copy = usePlaceInHand((hand) => hand.copy);
  const here = useAnswer('picture', { params: { id: ids[0] ?? 0 } }, { enabled: ids.length === 1 }).data;
  const put = (to: Spot, called: string | null, source: 'hand' | 'copied' = 'hand') => {
    onClose();
    void give(ids, to, called, source);
  };
  return (
    <Sheet
      title={plural(ids.length, { one: 'Where was it taken?', other: 'Where were # pictures taken?' })}
      onClose={onClose}
    >
      <PlaceSearch
        near={spot}
        onPick={(hit) => {
          setSpot({ lat: hit.lat, lon: hit.lon });
          setName(hit.name);
          setMoved(true);
        }}
      />
      {copied ? (
        <Button
          label={t`Paste: ${copied.name}`}
          weight="second"
          icon="place"
          onPress={() => put(copied, copied.name, 'copied')}
        />
      ) : null}
      <SpotMap
        spot={spot}
        onMove={(to) => {
          setSpot(to);
          setMoved(true);
        }}
      />
      <Words kind="small">{spot ? t`Drag the pin to be exact.` : t`Tap the map to place the pin.`}</Words>
      <Button
        label={
          name
            ? plural(ids.length, { one: `Put it at ${name}`, other: `Put them at ${name}` })
            : plural(ids.length, { one: 'Put it there', other: 'Put them there' })
        }
        disabled={!spot || !moved}
        onPress={() => spot && put(spot, name || null)}
      />
      <TrackPart ids={ids} onDone={onClose} />
      {position ? (
        <View className="flex-row flex-wrap gap-2">
          <Button
            label={t`Copy this place`}
            weight="quiet"
            onPress={() => {
              copy({ ...position, name: (here && sayPlace(here)) ?? t`a spot on the map` });
              onClose();
            }}
          />
          <Button
            label={t`Remove the place`}
            weight="quiet"
            onPress={() => {
              onClose();
              void give(ids, null, null);
            }}
          />
        </View>
      ) : ids.length > 1 ? (
        <Button
          label={t`Remove their places`}
          weight="quiet"
          onPress={() => {
            onClose();
            void give(ids, null, null);
          }}
        />
      ) : null}
    </Sheet>
  );
}
