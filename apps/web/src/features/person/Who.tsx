import type { Person } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { BrowseHeader } from '@/features/browse/BrowseHeader';
import { Button } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { count, sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

/** Named people as cameos, by circle; those who wait to be introduced come first. */
export function Who() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('people', {});
  const waiting = useAnswer('introductions', {}).data;
  const circles = new Map<string, Person[]>();
  for (const person of data?.people ?? []) {
    const circle = person.circle ?? 'Everybody else';
    circles.set(circle, [...(circles.get(circle) ?? []), person]);
  }
  const order = [...circles].sort((a, b) => Number(a[0] === 'Everybody else') - Number(b[0] === 'Everybody else'));
  return (
    <Page>
      <BrowseHeader way="Who" />
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {waiting?.groups.length ? (
        <Pressable
          role="button"
          onPress={() => router.push('/introductions')}
          className="mb-5 min-h-[64px] max-w-[560px] flex-row items-center gap-3 rounded-[16px] bg-honey px-4 py-2.5 active:opacity-80"
        >
          <View className="flex-row">
            {waiting.groups.slice(0, 3).map((group, i) => (
              <View key={group.key} style={{ marginLeft: i ? -14 : 0 }}>
                <Cameo face={group.faces[0]!.id} width={32} />
              </View>
            ))}
          </View>
          <View className="min-w-0 flex-1">
            <Words
              kind="strong"
              className="text-[15px]"
            >{`${count(waiting.groups.length, 'group')} to introduce`}</Words>
            <Words kind="small">{count(waiting.faces, 'face')}</Words>
          </View>
          <Icon name="right" size={18} />
        </Pressable>
      ) : null}
      {data?.people.length === 0 ? (
        <Empty
          title="Nobody has a name yet"
          text="Faces are gathered into likely people as pictures come in. Introduce the first one, and they stand here in an oval frame."
        >
          {waiting?.groups.length ? (
            <Button label="Begin the introductions" onPress={() => router.push('/introductions')} />
          ) : null}
        </Empty>
      ) : null}
      <View className="gap-6">
        {order.map(([circle, people]) => (
          <View key={circle}>
            <Heading right={sayNumber(people.length)}>{circle}</Heading>
            <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: 14 }}>
              {people.map((person) => (
                <Link
                  key={person.id}
                  href={{ pathname: '/person/[id]', params: { id: person.id } }}
                  aria-label={`${person.name}, ${count(person.pictures, 'picture')}${person.likely ? `, ${person.likely} to ask about` : ''}`}
                  style={{
                    display: 'flex',
                    flexDirection: 'column',
                    alignItems: 'center',
                    textAlign: 'center',
                    minWidth: 0,
                  }}
                >
                  <Cameo face={person.portrait} />
                  <Words kind="strong" className="mt-1.5 max-w-full text-[15px]" numberOfLines={1}>
                    {person.nickname ?? person.name}
                  </Words>
                  <Words kind="small">{sayNumber(person.pictures)}</Words>
                  {person.likely ? (
                    <Words kind="tiny" className="font-semi text-marigold">{`${person.likely} to ask`}</Words>
                  ) : null}
                </Link>
              ))}
            </div>
          </View>
        ))}
      </View>
    </Page>
  );
}
