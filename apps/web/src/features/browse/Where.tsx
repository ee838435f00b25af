import { useHelps } from '@/features/account/session';
import { t } from '@lingui/core/macro';
import type { Place } from '@gemmel/contract';
import type { Where as Asked } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { Heading } from '@/ui/DoubleBar';
import { sayNumber } from '@/ui/say';
import { useRest } from '@/ui/useGradually';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { MapPane } from '../place/MapPage';
import { OwnPlaces } from '../place/OwnPlaces';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { sayCountry } from '@/words/said';

/** A line to press with a count at its end. */
export function CountRow({
  name,
  sub,
  n,
  onPress,
  inset = 0,
}: {
  name: string;
  sub?: string | undefined;
  n: number;
  onPress: () => void;
  inset?: number;
}) {
  return (
    <Pressable
      role="button"
      onPress={onPress}
      style={{ paddingLeft: inset }}
      className="min-h-field flex-row items-center gap-3 border-t border-line py-2 active:bg-mist"
    >
      <View className="min-w-0 flex-1">
        <Words className="font-medium">{name}</Words>
        {sub ? <Words kind="small">{sub}</Words> : null}
      </View>
      <Words kind="small">{sayNumber(n)}</Words>
      <Icon name="right" size={16} tone="soft" />
    </Pressable>
  );
}

const sum = (places: readonly Place[]) => places.reduce((n, p) => n + p.pictures, 0);

/** Places by a name of theirs, the fullest first. */
function grouped(places: readonly Place[], key: (place: Place) => string): [string, Place[]][] {
  const groups = new Map<string, Place[]>();
  for (const place of places) {
    const group = groups.get(key(place));
    if (group) group.push(place);
    else groups.set(key(place), [place]);
  }
  return [...groups].sort((a, b) => sum(b[1]) - sum(a[1]));
}

/** The library by place: countries, regions in them, places in those, with how many pictures each holds. */
export function Where() {
  const helps = useHelps();
  const router = useRouter();
  const wide = useWide();
  const { narrow } = useAsk();
  const { data, error, refetch } = useAnswer('places', {});
  const ask = (part: Parameters<typeof narrow>[0]) => {
    narrow(part);
    router.push('/browse');
  };
  const go = (where: Asked) => ask({ where });
  const named = (data?.places ?? []).filter((p) => p.country);
  const far = (data?.places ?? []).filter((p) => !p.country);
  const list = (
    <>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.places.length === 0 ? (
        <Empty
          title={t`No pictures have a place yet`}
          text={t`Pictures whose camera or phone noted a position are listed here by country and place. You can give others a place from the pile.`}
        >
          <Button label={t`Pictures without a place`} onPress={() => ask({ lacks: 'place' })} />
        </Empty>
      ) : null}
      <View className="gap-6">
        {data && helps ? <OwnPlaces onAsk={(own) => go({ own })} /> : null}
        {grouped(named, (p) => p.country).map(([country, places]) => (
          <Country key={country} country={country} places={places} onGo={go} />
        ))}
        {far.length ? (
          <View>
            <Heading right={sayNumber(sum(far))}>{t`At sea or far from any town`}</Heading>
            <Words kind="small">{t`These have a spot on the map, but no town within 50 km.`}</Words>
          </View>
        ) : null}
        {data?.places.length ? (
          <Button
            label={t`Pictures without a place`}
            weight="second"
            className="self-start"
            onPress={() => ask({ lacks: 'place' })}
          />
        ) : null}
      </View>
    </>
  );
  if (!wide)
    return (
      <Page>
        <BrowseHeader way="where" />
        {list}
      </Page>
    );
  // A wide screen has room for both: the list at the left, the map at the right.
  return (
    <View style={{ flex: 1, paddingHorizontal: 26 }}>
      <BrowseHeader way="where" />
      <View style={{ flex: 1, minHeight: 0, flexDirection: 'row', gap: 26 }}>
        <ScrollView style={{ flex: 1, maxWidth: 520 }} contentContainerStyle={{ paddingBottom: 130 }}>
          {list}
        </ScrollView>
        <View style={{ flex: 1 }}>{data?.places.length ? <MapBeside /> : null}</View>
      </View>
    </View>
  );
}

/** The map beside the list, which it does not keep waiting. */
function MapBeside() {
  return useRest() ? <MapPane beside={false} /> : null;
}

/** A country with its regions; each opens to its places, and closes again where it was. */
function Country({
  country,
  places,
  onGo,
}: {
  country: string;
  places: readonly Place[];
  onGo: (where: Asked) => void;
}) {
  const regions = grouped(places, (p) => p.region ?? '');
  const [open, setOpen] = useState<string | null>(regions.length === 1 ? regions[0]![0] : null);
  return (
    <View>
      <Heading right={sayNumber(sum(places))}>{sayCountry(country)}</Heading>
      <CountRow name={t`All of ${sayCountry(country)}`} n={sum(places)} onPress={() => onGo({ country })} />
      {regions.map(([region, inside]) => {
        const name = region ? t`Around ${region}` : t`Elsewhere`;
        const towns = grouped(inside, (p) => p.place ?? '');
        const is = open === region;
        return (
          <View key={region}>
            <Pressable
              role="button"
              aria-expanded={is}
              onPress={() => setOpen(is ? null : region)}
              className="min-h-field flex-row items-center gap-3 border-t border-line py-2 active:bg-mist"
            >
              <Icon name={is ? 'below' : 'right'} size={16} tone="soft" />
              <Words className="min-w-0 flex-1 font-semi">{name}</Words>
              <Words kind="small">{sayNumber(sum(inside))}</Words>
            </Pressable>
            {is ? (
              <>
                {region && towns.length > 1 ? (
                  <CountRow
                    inset={28}
                    name={t`All around ${region}`}
                    n={sum(inside)}
                    onPress={() => onGo({ country, region })}
                  />
                ) : null}
                {towns.map(([town, here]) => (
                  <CountRow
                    key={town}
                    inset={28}
                    name={town}
                    n={sum(here)}
                    onPress={() => onGo({ country, ...(region ? { region } : {}), place: town })}
                  />
                ))}
              </>
            ) : null}
          </View>
        );
      })}
    </View>
  );
}
