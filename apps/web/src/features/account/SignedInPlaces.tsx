import type { SignedIn } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { sayWhen } from '@/ui/say';
import { Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

/** A browser and what it runs on, as far as it says. */
function deviceWords(device: SignedIn['device']): string {
  const { browser, system } = device ?? { browser: null, system: null };
  if (browser && system) return t`${browser} on ${system}`;
  return browser ?? system ?? t`A device that doesn’t say what it is`;
}

/** Where somebody is signed in, with a way out of each and of all others. */
export function SignedInPlaces({ onClose }: { onClose: () => void }) {
  const places = useAnswer('signedIn', {}).data?.places;
  const end = (id: number | null) =>
    (id === null ? call('signOutElsewhere', {}) : call('signOutAt', { params: { id } })).then(
      () => (say(t`Signed out there`), refresh('signedIn')),
      trouble,
    );
  return (
    <Sheet title={t`Where you’re signed in`} onClose={onClose}>
      {places ? null : <Waiting />}
      {places && places.length > 2 ? (
        <Button label={t`Sign out everywhere but here`} weight="second" onPress={() => void end(null)} />
      ) : null}
      {places?.map((place) => (
        <View key={place.id} className="flex-row items-center gap-3 border-t border-line py-2">
          <View className="min-w-0 flex-1">
            <Words kind="strong">{deviceWords(place.device)}</Words>
            <Words kind="small">{place.here ? t`Here, now` : t`Last here ${sayWhen(place.seen)}`}</Words>
          </View>
          {place.here ? null : <Button label={t`Sign out`} weight="second" onPress={() => void end(place.id)} />}
        </View>
      ))}
    </Sheet>
  );
}
