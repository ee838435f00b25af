import { useHelps } from '@/features/account/session';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { Circle, Person } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { useLook, type PeopleOrder } from '@/state/look';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { byName, sayNumber } from '@/ui/say';
import { useRest } from '@/ui/useGradually';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { CircleSheet } from './CircleSheet';
import { LeafCameo } from './LeafCameo';

const ORDERS: [PeopleOrder, MessageDescriptor][] = [
  ['often', msg`Most pictures`],
  ['name', msg`Name`],
  ['lately', msg`Most recent`],
];
/** Answering one group takes about so many seconds. */
const SECONDS = 6;

/** Favourites first, then as asked for. */
export function ordered(people: readonly Person[], order: PeopleOrder): Person[] {
  const called = (p: Person) => p.nickname ?? p.name;
  const by: Record<PeopleOrder, (a: Person, b: Person) => number> = {
    often: (a, b) => b.pictures - a.pictures,
    name: () => 0,
    lately: (a, b) => (b.last ?? '').localeCompare(a.last ?? ''),
  };
  return [...people].sort(
    (a, b) =>
      Number(b.favourite) - Number(a.favourite) || by[order](a, b) || byName(called(a), called(b)) || a.id - b.id,
  );
}

/** People by circle, each in every circle they are in; those in none at the end. */
export function byCircle(
  people: readonly Person[],
  circles: readonly Circle[],
): { circle: Circle | null; people: Person[] }[] {
  return [
    ...circles.map((circle) => ({ circle, people: people.filter((p) => p.circles.includes(circle.id)) })),
    { circle: null, people: people.filter((p) => !circles.some((c) => p.circles.includes(c.id))) },
  ].filter((part) => part.circle !== null || part.people.length > 0);
}

/** How many people stand at once: about as many as a wide screen shows of them. */
const SCREEN = 36;

/** As many people as there is room for, in the circles they come in; circles behind them wait. */
export function firstPeople(
  parts: ReturnType<typeof byCircle>,
  room: number,
): { circle: Circle | null; people: Person[]; all: number }[] {
  const some = [];
  let left = room;
  for (const { circle, people } of parts) {
    if (left <= 0) break;
    some.push({ circle, people: people.slice(0, left), all: people.length });
    left -= people.length;
  }
  return some;
}

/** Named people as cameos, by circle; those who wait to be introduced come first. */
export function Who() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('people', {});
  const waiting = useAnswer('introductions', {}, { enabled: useHelps() }).data;
  const { peopleOrder, setPeopleOrder } = useLook();
  const [shaping, setShaping] = useState<Circle | 'new' | null>(null);
  const [showHidden, setShowHidden] = useState(false);
  const people = ordered(data?.people ?? [], peopleOrder);
  const circles = data?.circles ?? [];
  const shown = people.filter((p) => !p.hidden);
  const hidden = people.filter((p) => p.hidden);
  const minutes = Math.max(1, Math.round(((waiting?.total ?? 0) * SECONDS) / 60));
  return (
    <Page>
      <BrowseHeader way="who" />
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {waiting?.groups.length ? (
        <Pressable
          role="button"
          onPress={() => router.push('/introductions')}
          className="mb-4 min-h-16 max-w-read flex-row items-center gap-3 rounded-card bg-honey px-4 py-2.5 active:opacity-80"
        >
          <View className="flex-row">
            {waiting.groups
              .flatMap(({ faces }) => faces[0] ?? [])
              .slice(0, 3)
              .map(({ id }, i) => (
                <View key={id} style={{ marginLeft: i ? -14 : 0 }}>
                  <Cameo face={id} width={32} />
                </View>
              ))}
          </View>
          <View className="min-w-0 flex-1">
            <Words kind="strong" className="text-body">
              {plural(waiting.total, { one: '# group to introduce', other: '# groups to introduce' })}
            </Words>
            <Words kind="small">{`${plural(waiting.faces, { one: '# face', other: '# faces' })}, ${plural(minutes, { one: 'about a minute', other: 'about # minutes' })}`}</Words>
          </View>
          <Icon name="right" size={18} />
        </Pressable>
      ) : null}
      {data?.people.length === 0 ? (
        <Empty
          title={t`Nobody has a name yet`}
          text={t`As pictures come in, faces are grouped into likely people. Introduce the first, and they’ll appear here in an oval frame.`}
        >
          {waiting?.groups.length ? (
            <Button label={t`Start the introductions`} onPress={() => router.push('/introductions')} />
          ) : null}
        </Empty>
      ) : null}
      {data?.people.length ? (
        <View className="mb-3 flex-row flex-wrap items-center gap-2">
          {ORDERS.map(([order, name]) => (
            <Chip key={order} label={i18n._(name)} on={peopleOrder === order} onPress={() => setPeopleOrder(order)} />
          ))}
        </View>
      ) : null}
      <View className="gap-6">
        {data ? <Circles people={shown} circles={circles} onShape={setShaping} /> : null}
        {shown.length ? (
          <Button
            label={t`New circle`}
            icon="plus"
            weight="quiet"
            className="self-start px-0"
            onPress={() => setShaping('new')}
          />
        ) : null}
        {hidden.length ? (
          <View>
            <Button
              label={
                showHidden
                  ? t`Hide them again`
                  : plural(hidden.length, { one: '# hidden person', other: '# hidden people' })
              }
              weight="quiet"
              className="self-start px-0"
              onPress={() => setShowHidden(!showHidden)}
            />
            {showHidden ? <Cameos people={hidden} /> : null}
          </View>
        ) : null}
      </View>
      {shaping ? (
        <CircleSheet
          circle={shaping === 'new' ? null : shaping}
          circles={circles}
          people={people}
          onClose={() => setShaping(null)}
        />
      ) : null}
    </Page>
  );
}

/** People under the circles they are in: a screen of them at once, and all a moment later. */
function Circles({
  people,
  circles,
  onShape,
}: {
  people: readonly Person[];
  circles: readonly Circle[];
  onShape: (circle: Circle) => void;
}) {
  const parts = firstPeople(byCircle(people, circles), useRest() ? Infinity : SCREEN);
  return (
    <>
      {parts.map(({ circle, people: some, all }) => (
        <View key={circle?.id ?? 0}>
          <Heading
            right={
              circle ? (
                <View className="flex-row items-center">
                  <Words kind="small">{sayNumber(all)}</Words>
                  <IconButton
                    name="edit"
                    size={16}
                    label={t`Edit circle ${circle.name}`}
                    onPress={() => onShape(circle)}
                  />
                </View>
              ) : (
                sayNumber(all)
              )
            }
          >
            {circle?.name ?? (circles.length ? t`In no circle` : t`Everybody`)}
          </Heading>
          <Cameos people={some} />
          {some.length === 0 ? <Words className="text-soft">{t`Nobody is in it yet.`}</Words> : null}
        </View>
      ))}
    </>
  );
}

function Cameos({ people }: { people: readonly Person[] }) {
  return (
    <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: 14 }}>
      {people.map((person) => (
        <Link
          key={person.id}
          href={{ pathname: '/person/[id]', params: { id: person.id } }}
          aria-label={[
            person.name,
            plural(person.pictures, { one: '# picture', other: '# pictures' }),
            person.favourite ? t`favourite` : '',
            person.likely ? plural(person.likely, { one: '# to ask about', other: '# to ask about' }) : '',
          ]
            .filter(Boolean)
            .join(', ')}
          style={{
            display: 'flex',
            flexDirection: 'column',
            alignItems: 'center',
            textAlign: 'center',
            minWidth: 0,
          }}
        >
          <LeafCameo person={person.id} portrait={person.portrait} />
          <View className="mt-1.5 max-w-full flex-row items-center gap-1">
            {person.favourite ? <Icon name="heart" size={13} tone="marigold" filled /> : null}
            <Words kind="strong" className="min-w-0 shrink text-body" numberOfLines={1}>
              {person.nickname ?? person.name}
            </Words>
          </View>
          <Words kind="small">{sayNumber(person.pictures)}</Words>
          {person.likely ? (
            <Words kind="tiny" className="font-semi text-marigold">
              {plural(person.likely, { one: '# to ask', other: '# to ask' })}
            </Words>
          ) : null}
        </Link>
      ))}
    </div>
  );
}
