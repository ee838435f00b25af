import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { Icon } from '@/ui/Icon';
import { Heading } from '@/ui/DoubleBar';
import { sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { BrowseHeader } from './BrowseHeader';

/** A line to press with a count at its end. */
export function CountRow({
  name,
  sub,
  n,
  onPress,
}: {
  name: string;
  sub?: string | undefined;
  n: number;
  onPress: () => void;
}) {
  return (
    <Pressable
      role="button"
      onPress={onPress}
      className="min-h-[52px] flex-row items-center gap-3 border-t border-line py-2 active:bg-mist"
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

/** The library by place: countries, and the places in them, with how many pictures each holds. */
export function Where() {
  const router = useRouter();
  const { narrow } = useAsk();
  const { data, error, refetch } = useAnswer('places', {});
  const [open, setOpen] = useState<string | null>(null);
  const countries = new Map<string, NonNullable<typeof data>['places']>();
  for (const place of data?.places ?? [])
    countries.set(place.country, [...(countries.get(place.country) ?? []), place]);
  const go = (where: { country: string; place?: string }) => {
    narrow({ where });
    router.push('/browse');
  };
  return (
    <Page>
      <BrowseHeader way="Where" />
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.places.length === 0 ? (
        <Empty
          title="No picture says where it was taken"
          text="Pictures with a position from their camera or phone are listed here by country and place."
        />
      ) : null}
      <View className="gap-6">
        {[...countries].map(([country, places]) => {
          const sum = places.reduce((n, p) => n + p.pictures, 0);
          const some = open === country ? places : places.slice(0, 6);
          return (
            <View key={country}>
              <Heading right={sayNumber(sum)}>{places[0]!.countryName}</Heading>
              <CountRow name={`All of ${places[0]!.countryName}`} n={sum} onPress={() => go({ country })} />
              {some.map((p) =>
                p.place ? (
                  <CountRow
                    key={p.place}
                    name={p.place}
                    sub={p.region ?? undefined}
                    n={p.pictures}
                    onPress={() => go({ country, place: p.place! })}
                  />
                ) : null,
              )}
              {places.length > some.length ? (
                <Pressable role="button" onPress={() => setOpen(country)} className="min-h-[44px] justify-center">
                  <Words className="font-semi text-juniper">{`${places.length - some.length} more places`}</Words>
                </Pressable>
              ) : null}
            </View>
          );
        })}
      </View>
    </Page>
  );
}
