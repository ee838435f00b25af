import type { Act } from '@gemmel/contract';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useMe } from '@/features/account/session';
import { doAgain, takeBack } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { sayLongDay, sayWhen } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { actWords } from './actWords';
import { CORNER } from '@/ui/tokens';

/** The day a moment of the machine's own falls on here. */
const dayOf = (at: string): string => new Date(at).toLocaleDateString('en-CA');
const clockOf = (at: string): string =>
  new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

/** "Today", "Yesterday", "Saturday 16 May 2026". */
export function sayDiaryDay(day: string, now = new Date()): string {
  const ago = (days: number) => new Date(now.getTime() - days * 86_400_000).toLocaleDateString('en-CA');
  return day === ago(0) ? 'Today' : day === ago(1) ? 'Yesterday' : sayLongDay(day);
}

const capital = (text: string): string => text[0]!.toUpperCase() + text.slice(1);

/** The diary of a library: by day, in sentences, each with a way to take it back; of everybody, one member or one picture. */
export function WhatWasDone() {
  const router = useRouter();
  const { picture } = useLocalSearchParams<{ picture?: string }>();
  const me = useMe().data?.member;
  const [member, setMember] = useState<number | null>(null);
  const query = {
    ...(member === null ? {} : { member }),
    ...(picture ? { picture: Number(picture) } : {}),
  };
  const pages = useInfiniteQuery({
    queryKey: ['acts', query],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) =>
      call('acts', { query: { ...query, ...(pageParam ? { before: pageParam } : {}) } }, signal),
    getNextPageParam: (page) => page.before ?? undefined,
  });
  const acts = pages.data?.pages.flatMap((page) => page.acts) ?? [];
  const members = pages.data?.pages[0]?.members ?? [];
  const days = new Map<string, Act[]>();
  for (const act of acts) {
    const day = dayOf(act.at);
    const there = days.get(day);
    if (there) there.push(act);
    else days.set(day, [act]);
  }
  return (
    <Page
      title={picture ? 'What was done to it' : 'What was done'}
      narrow
      right={router.canGoBack() ? <Button label="Back" weight="quiet" onPress={() => router.back()} /> : null}
    >
      <Words className="mb-3 text-soft">
        Whatever was done can be taken back for 30 days, as far as nobody has changed the same since.
      </Words>
      {members.length > 1 ? (
        <View className="mb-3 flex-row flex-wrap gap-x-2" role="group" aria-label="Whose acts">
          <Chip label="Everybody" on={member === null} onPress={() => setMember(null)} />
          {members.map(({ id, name }) => (
            <Chip key={id} label={id === me?.id ? 'You' : name} on={member === id} onPress={() => setMember(id)} />
          ))}
        </View>
      ) : null}
      {picture && member === null ? (
        <Button
          label="See what was done to all pictures"
          weight="quiet"
          className="self-start px-0"
          onPress={() => router.setParams({ picture: '' })}
        />
      ) : null}
      {pages.error ? (
        <Failed error={pages.error} again={() => void pages.refetch()} />
      ) : !pages.data ? (
        <Waiting />
      ) : acts.length === 0 ? (
        <Empty
          title="Nothing yet"
          text="Stars, names, dates, albums: whatever anybody says or does is written here, and can be taken back."
        />
      ) : null}
      <View className="gap-7">
        {[...days].map(([day, list]) => (
          <View key={day} role="group" aria-label={sayDiaryDay(day)}>
            <Heading>{sayDiaryDay(day)}</Heading>
            {list.map((act) => (
              <Entry key={act.id} act={act} mine={act.by?.id === me?.id} me={me?.name} />
            ))}
          </View>
        ))}
      </View>
      {pages.hasNextPage ? (
        <Button
          className="mt-5 self-start"
          label={pages.isFetchingNextPage ? 'One moment …' : 'Show earlier days'}
          weight="second"
          onPress={() => void pages.fetchNextPage()}
        />
      ) : null}
    </Page>
  );
}

function Entry({ act, mine, me }: { act: Act; mine: boolean; me: string | undefined }) {
  const router = useRouter();
  const said = actWords(act);
  const sentence = `${mine ? 'You' : (act.by?.name ?? 'Gemmel')} ${said}.`;
  const { undone } = act;
  return (
    <View className="flex-row items-center gap-3 border-t border-line py-2">
      <View className="min-w-0 flex-1 gap-1">
        <Words className={undone ? 'text-soft line-through' : ''}>{sentence}</Words>
        <Words kind="small">
          {undone
            ? `${clockOf(act.at)} · taken back${undone.by ? ` by ${undone.by === me ? 'you' : undone.by}` : ''}, ${
                dayOf(undone.at) === dayOf(act.at) ? clockOf(undone.at) : sayWhen(undone.at)
              }`
            : clockOf(act.at)}
        </Words>
        {act.shown.length ? (
          <View className="flex-row flex-wrap items-center gap-1">
            {act.shown.map(({ id, sha }) => (
              <Pressable
                key={id}
                role="link"
                aria-label="Open the picture"
                onPress={() => router.push({ pathname: '/picture/[id]', params: { id } })}
              >
                <img
                  src={smallOf(sha)}
                  alt=""
                  style={{ height: 40, maxWidth: 64, objectFit: 'cover', borderRadius: CORNER.picture }}
                />
              </Pressable>
            ))}
            {act.pictures > act.shown.length ? (
              <Words kind="small">{`and ${act.pictures - act.shown.length} more`}</Words>
            ) : null}
          </View>
        ) : null}
      </View>
      {undone ? (
        <Button
          label="Do it again"
          weight="quiet"
          className="px-2"
          onPress={() => void doAgain({ act: undone.act, said: capital(said) })}
        />
      ) : act.undoable ? (
        <Button
          label="Take back"
          weight="quiet"
          className="px-2"
          onPress={() => void takeBack({ act: act.id, said: capital(said) })}
        />
      ) : null}
    </View>
  );
}
