import { t } from '@lingui/core/macro';
import type { Answer, Api, Did, OwnPlaceShape } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Icon } from '@/ui/Icon';
import { sayMetres, sayNumber } from '@/ui/say';
import { ShareSheet } from '@/features/share/ShareSheet';
import { ForWhomOf } from '@/features/sight/ForWhomOf';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { PlaceSearch } from './PlaceSearch';
import { SpotMap } from './SpotMap';
import { SIZE } from '@/ui/tokens';

type Own = Answer<Api['ownPlaces']>['places'][number];

/** Places with names of the household's own: the allotment, home, school; some hidden from guests. */
export function OwnPlaces({ onAsk }: { onAsk: (id: number) => void }) {
  const places = useAnswer('ownPlaces', {}).data?.places ?? [];
  const counts = useAnswer('places', {}).data?.places ?? [];
  const [open, setOpen] = useState<Own | 'new' | null>(null);
  const inIt = (id: number) => counts.filter((p) => p.own === id).reduce((sum, p) => sum + p.pictures, 0);
  return (
    <View>
      <Heading right={places.length || ''}>{t`Places of your own`}</Heading>
      {places.length === 0 ? (
        <Words className="mb-2 text-soft">{t`Give a spot the name you use for it, such as the allotment. Guests never see hidden ones, such as home.`}</Words>
      ) : null}
      {places.map((place) => (
        <View key={place.id} className="min-h-field flex-row items-center gap-1 border-t border-line">
          <Pressable
            role="button"
            onPress={() => onAsk(place.id)}
            className="min-h-field min-w-0 flex-1 justify-center"
          >
            <Words className="font-medium">{place.name}</Words>
            <Words kind="small">
              {[t`${sayMetres(place.metres)} around`, place.hidden ? t`hidden from guests` : '']
                .filter(Boolean)
                .join(' · ')}
            </Words>
          </Pressable>
          <Words kind="small">{sayNumber(inIt(place.id))}</Words>
          <Pressable
            role="button"
            aria-label={t`Change ${place.name}`}
            onPress={() => setOpen(place)}
            className="h-11 w-11 items-center justify-center"
          >
            <Icon name="edit" size={18} tone="soft" />
          </Pressable>
        </View>
      ))}
      <Button
        label={t`Name a place`}
        weight="second"
        icon="plus"
        className="mt-2 self-start"
        onPress={() => setOpen('new')}
      />
      {open ? <OwnSheet place={open === 'new' ? null : open} onClose={() => setOpen(null)} /> : null}
    </View>
  );
}

function OwnSheet({ place, onClose }: { place: Own | null; onClose: () => void }) {
  const [name, setName] = useState(place?.name ?? '');
  const [spot, setSpot] = useState(place ? { lat: place.lat, lon: place.lon } : null);
  const [metres, setMetres] = useState(place?.metres ?? 200);
  const [hidden, setHidden] = useState(place?.hidden ?? false);
  const [sharing, setSharing] = useState(false);
  const shape = (): OwnPlaceShape => ({ name: name.trim(), ...spot!, metres, hidden });
  const keep = async () => {
    onClose();
    await act<Did>(
      () =>
        place
          ? call('changeOwnPlace', { params: { id: place.id }, body: shape() })
          : call('makeOwnPlace', { body: shape() }),
      place ? t`“${name.trim()}” changed` : [t`“${name.trim()}” named`, t`Pictures taken there say so now.`],
      'pictures',
      'events',
    );
  };
  const remove = async () => {
    onClose();
    await act(
      () => call('removeOwnPlace', { params: { id: place!.id } }),
      [t`“${place!.name}” is no longer a place`, t`Its pictures keep their spot.`],
      'pictures',
      'events',
    );
  };
  // From 20 m to 20 km by the root of ten, so that small circles can be set finely.
  const toSlider = (m: number) => Math.round((Math.log10(m / 20) / 3) * 100);
  const fromSlider = (value: number) => {
    const m = 20 * 10 ** ((3 * value) / 100);
    const unit = 10 ** (Math.floor(Math.log10(m)) - 1);
    return Math.max(20, Math.round(m / unit) * unit);
  };
  if (sharing)
    return <ShareSheet what={{ question: { where: { own: place!.id } } }} title={place!.name} onClose={onClose} />;
  return (
    <Sheet title={place ? place.name : t`Name a place`} onClose={onClose}>
      <Field
        label={t`What you call it`}
        placeholder={t`The allotment`}
        value={name}
        onChangeText={setName}
        maxLength={120}
      />
      <PlaceSearch near={spot} onPick={(hit) => setSpot({ lat: hit.lat, lon: hit.lon })} />
      <SpotMap spot={spot} onMove={setSpot} metres={metres} />
      <label style={{ display: 'flex', flexDirection: 'column', gap: 4 }}>
        <Words kind="small">{t`Reaches ${sayMetres(metres)} around the pin`}</Words>
        <input
          type="range"
          min={0}
          max={100}
          value={toSlider(metres)}
          onChange={(event) => setMetres(fromSlider(Number(event.target.value)))}
          style={{ minHeight: SIZE.touch, accentColor: 'rgb(var(--juniper))' }}
        />
      </label>
      <View className="flex-row flex-wrap gap-2">
        <Chip label={t`Guests may see it`} on={!hidden} onPress={() => setHidden(false)} />
        <Chip label={t`Hidden from guests`} on={hidden} onPress={() => setHidden(true)} />
      </View>
      <Button label={t`Save`} disabled={!name.trim() || !spot} onPress={() => void keep()} />
      {place ? (
        <ForWhomOf
          of="place"
          id={place.id}
          name={place.name}
          text={t`Every picture taken here, unless you set the picture otherwise.`}
        />
      ) : null}
      {place ? (
        <View className="flex-row flex-wrap gap-2">
          {place.hidden ? null : (
            <Button label={t`Share its pictures`} weight="second" icon="send" onPress={() => setSharing(true)} />
          )}
          <Button label={t`Remove the name`} weight="quiet" onPress={() => void remove()} />
        </View>
      ) : null}
    </Sheet>
  );
}
