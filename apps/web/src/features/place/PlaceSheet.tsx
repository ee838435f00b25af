import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { count } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { give, type Spot } from './acts';
import { usePlaceInHand } from './inHand';
import { PlaceSearch } from './PlaceSearch';
import { SpotMap } from './SpotMap';
import { TrackPart } from './TrackPart';

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
  const n = count(ids.length, 'picture');
  const put = (to: Spot, called: string, source: 'hand' | 'copied' = 'hand') => {
    onClose();
    void give(ids, to, called, source);
  };
  return (
    <Sheet title={ids.length === 1 ? 'Where was it taken?' : `Where were ${n} taken?`} onClose={onClose}>
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
          label={`As copied: ${copied.name}`}
          weight="second"
          icon="place"
          onPress={() => put(copied, `at ${copied.name}`, 'copied')}
        />
      ) : null}
      <SpotMap
        spot={spot}
        onMove={(to) => {
          setSpot(to);
          setMoved(true);
        }}
      />
      <Words kind="small">{spot ? 'Drag the pin to be exact.' : 'Touch the map to put the pin down.'}</Words>
      <Button
        label={
          name ? `Put ${ids.length === 1 ? 'it' : 'them'} at ${name}` : `Put ${ids.length === 1 ? 'it' : 'them'} there`
        }
        disabled={!spot || !moved}
        onPress={() => spot && put(spot, name ? `at ${name}` : 'on the map')}
      />
      <TrackPart ids={ids} onDone={onClose} />
      {position ? (
        <View className="flex-row flex-wrap gap-2">
          <Button
            label="Copy this place"
            weight="quiet"
            onPress={() => {
              copy({ ...position, name: here?.place ?? 'a spot on the map' });
              onClose();
            }}
          />
          <Button
            label="Take the place away"
            weight="quiet"
            onPress={() => {
              onClose();
              void give(ids, null, '');
            }}
          />
        </View>
      ) : ids.length > 1 ? (
        <Button
          label="Take their places away"
          weight="quiet"
          onPress={() => {
            onClose();
            void give(ids, null, '');
          }}
        />
      ) : null}
    </Sheet>
  );
}
