import { plural, t } from '@lingui/core/macro';
import type { Double } from '@gemmel/contract';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { sayBytes, sayList, sayMoment } from '@/ui/say';
import { Empty, Failed, Waiting } from '@/ui/State';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { keepApart, merge } from './acts';

/** Pictures that are here more than once. */
export function Doubles() {
  const pages = useInfiniteQuery({
    queryKey: ['doubles', {}],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) => call('doubles', { query: pageParam ? { after: pageParam } : {} }, signal),
    getNextPageParam: (page) => page.after ?? undefined,
  });
  if (pages.error) return <Failed error={pages.error} again={() => void pages.refetch()} />;
  if (!pages.data) return <Waiting />;
  const groups = pages.data.pages.flatMap((page) => page.groups);
  if (groups.length === 0)
    return (
      <Empty
        title={t`Nothing is here twice`}
        text={t`The same picture saved again, smaller or by a messenger, is gathered here.`}
      />
    );
  return (
    <View>
      <Words className="mb-2 text-soft">{t`The same picture, saved again. The fullest of each is proposed, and takes over what the others know.`}</Words>
      {groups.map((group) => (
        <Group key={group.map((one) => one.id).join(' ')} group={group} />
      ))}
      {pages.hasNextPage ? (
        <Button label={t`Show more`} weight="quiet" className="self-start" onPress={() => void pages.fetchNextPage()} />
      ) : null}
    </View>
  );
}

/** What a picture knows, in a few words. */
function sayKnows({ knows }: Double): string {
  const parts = [
    knows.title ? t`“${knows.title}”` : '',
    knows.caption ? t`a caption` : '',
    knows.rating ? '★'.repeat(knows.rating) : '',
    knows.favourite ? '♥' : '',
    knows.people.length ? sayList(knows.people) : '',
    knows.tags.length ? sayList(knows.tags.map((tag) => `#${tag}`)) : '',
    knows.albums.length ? plural(knows.albums.length, { one: '# album', other: '# albums' }) : '',
    knows.place ?? '',
    knows.comments ? plural(knows.comments, { one: '# comment', other: '# comments' }) : '',
  ].filter(Boolean);
  return parts.join(' · ');
}

/** One picture and its doubles: which stays is chosen by touching it. */
function Group({ group }: { group: readonly Double[] }) {
  const [chosen, setKeep] = useState<number | null>(null);
  // Somebody else may have taken it away meanwhile.
  const keep = group.find((one) => one.id === chosen)?.id ?? group[0]!.id;
  const others = group.filter((one) => one.id !== keep);
  return (
    <View className="gap-2 border-t border-line py-3" role="radiogroup" aria-label={t`Which one stays`}>
      <View className="flex-row flex-wrap gap-3">
        {group.map((one) => {
          const on = one.id === keep;
          const knows = sayKnows(one);
          return (
            <Pressable
              key={one.id}
              role="radio"
              aria-checked={on}
              aria-label={one.name}
              onPress={() => setKeep(one.id)}
              className={`min-w-40 flex-1 gap-1 rounded-act border p-2 ${on ? 'border-juniper bg-card' : 'border-line'}`}
            >
              <img
                src={smallOf(one.sha)}
                alt=""
                loading="lazy"
                style={{
                  width: '100%',
                  aspectRatio: `${one.width} / ${one.height}`,
                  maxHeight: 180,
                  objectFit: 'contain',
                  borderRadius: CORNER.picture,
                }}
              />
              <View className="flex-row items-center gap-2">
                <DoubleBar tone={on ? 'settled' : 'waiting'} share={on ? 1 : 0} width={22} />
                <Words kind="small" className="text-ink">
                  {on ? t`Stays` : t`Goes to the bin`}
                </Words>
              </View>
              <Words kind="small">{`${one.width} × ${one.height} · ${sayBytes(one.bytes)} · ${one.format.toUpperCase()}`}</Words>
              <Words kind="tiny" numberOfLines={2}>
                {one.name}
              </Words>
              {one.taken ? <Words kind="tiny">{sayMoment(one.taken)}</Words> : null}
              {knows ? (
                <Words kind="tiny" className="text-plum">
                  {knows}
                </Words>
              ) : null}
            </Pressable>
          );
        })}
      </View>
      <View className="flex-row flex-wrap gap-2">
        <Button
          className="min-h-touch"
          label={plural(others.length, { one: 'Keep it, bin the double', other: 'Keep it, bin the # doubles' })}
          onPress={() =>
            void merge(
              keep,
              others.map((one) => one.id),
            )
          }
        />
        <Button
          className="min-h-touch"
          weight="quiet"
          label={t`They all stay`}
          onPress={() => void keepApart(group.map((one) => one.id))}
        />
      </View>
    </View>
  );
}
