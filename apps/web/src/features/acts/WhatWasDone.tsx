import { t } from '@lingui/core/macro';
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
import { capital, sayFromToday, sayHour, sayLongDay, sayNumber, sayWhen } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { actWords } from './actWords';
import { CORNER } from '@/ui/tokens';

/** The day a moment of the machine's own falls on here. */
const dayOf = (at: string): string => new Date(at).toLocaleDateString('en-CA');
/** "Today", "Yesterday", "Saturday 16 May 2026". */
export function sayDiaryDay(day: string, now = new Date()): string {
  const ago = (days: number) => new Date(now.getTime() - days * 86_400_000).toLocaleDateString('en-CA');
  return capital(day === ago(0) ? sayFromToday(0) : day === ago(1) ? sayFromToday(-1) : sayLongDay(day));
}

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
      title={picture ? t`What was done to it` : t`What was done`}
      narrow
      right={router.canGoBack() ? <Button label={t`Back`} weight="quiet" onPress={() => router.back()} /> : null}
    >
      <Words className="mb-3 text-soft">{t`Anything here can be undone for 30 days, unless somebody has changed the same thing since.`}</Words>
      {members.length > 1 ? (
        <View className="mb-3 flex-row flex-wrap gap-x-2" role="group" aria-label={t`Whose doing`}>
          <Chip label={t`Everybody`} on={member === null} onPress={() => setMember(null)} />
          {members.map(({ id, name }) => (
            <Chip key={id} label={id === me?.id ? t`You` : name} on={member === id} onPress={() => setMember(id)} />
          ))}
        </View>
      ) : null}
      {picture && member === null ? (
        <Button
          label={t`See what was done to every picture`}
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
          title={t`Nothing yet`}
          text={t`Stars, names, dates, albums: whatever anyone says or does is noted here and can be undone.`}
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
          label={pages.isFetchingNextPage ? t`One moment …` : t`Show earlier days`}
          weight="second"
          onPress={() => void pages.fetchNextPage()}
        />
      ) : null}
    </Page>
  );
}

/** By whom and when something was undone; on the same day its hour is enough. */
function sayBack({ by, at }: NonNullable<Act['undone']>, done: string, me: string | undefined): string {
  const when = dayOf(at) === dayOf(done) ? sayHour(at) : sayWhen(at);
  if (by === null) return t`undone ${when}`;
  return by === me ? t`undone by you, ${when}` : t`undone by ${by}, ${when}`;
}

function Entry({ act, mine, me }: { act: Act; mine: boolean; me: string | undefined }) {
  const router = useRouter();
  const sentence = capital(actWords(act));
  const by = mine ? t`You` : (act.by?.name ?? 'Gemmel');
  const { undone } = act;
  return (
    <View className="flex-row items-center gap-3 border-t border-line py-2">
      <View className="min-w-0 flex-1 gap-1">
        <Words className={undone ? 'text-soft line-through' : ''}>{sentence}</Words>
        <Words kind="small">
          {[by, sayHour(act.at), undone ? sayBack(undone, act.at, me) : ''].filter(Boolean).join(' · ')}
        </Words>
        {act.shown.length ? (
          <View className="flex-row flex-wrap items-center gap-1">
            {act.shown.map(({ id, sha }) => (
              <Pressable
                key={id}
                role="link"
                aria-label={t`Open the picture`}
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
              <Words kind="small">{t`and ${sayNumber(act.pictures - act.shown.length)} more`}</Words>
            ) : null}
          </View>
        ) : null}
      </View>
      {undone ? (
        <Button
          label={t`Redo`}
          weight="quiet"
          className="px-2"
          onPress={() => void doAgain({ act: undone.act, said: sentence })}
        />
      ) : act.undoable ? (
        <Button
          label={t`Undo`}
          weight="quiet"
          className="px-2"
          onPress={() => void takeBack({ act: act.id, said: sentence })}
        />
      ) : null}
    </View>
  );
}
