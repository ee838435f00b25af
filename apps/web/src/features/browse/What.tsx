import { useHelps } from '@/features/account/session';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { View } from 'react-native';
import { isEverything, phrase, type Condition, type Question, SIZES } from '@gemmel/core';
import { useAnswer } from '@/api/query';
import { MarkSign } from '@/features/mark/MarkSign';
import { useNames } from '@/features/question/names';
import { useAsk, useAsked } from '@/state/ask';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { byName } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { useGradually, useRest } from '@/ui/useGradually';
import { READY_MADE } from '../question/readyMade';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { CountRow } from './Where';
import { batchName, words } from '@/words/said';
import { inTree } from '../tag/tree';

/** One thing the pictures of the question have, with how many have it: a touch asks for it, the minus leaves it out. */
function FacetRow({
  name,
  n,
  part,
  sign,
  depth = 0,
}: {
  name: string;
  n: number;
  part: Question;
  sign?: ReactNode;
  depth?: number;
}) {
  const narrow = useAsk((ask) => ask.narrow);
  return (
    <View className="flex-row items-center" style={{ paddingLeft: Math.min(depth, 5) * 18 }}>
      {sign ? <View className="mr-2">{sign}</View> : null}
      <View className="min-w-0 flex-1">
        <CountRow name={name} n={n} onPress={() => narrow(part)} />
      </View>
      <IconButton
        name="minus"
        size={16}
        tone="soft"
        label={t`Leave out: ${name}`}
        onPress={() => narrow({ not: part })}
      />
    </View>
  );
}

function Group({ title, children, right }: { title: string; children: ReactNode; right?: ReactNode }) {
  return (
    <div style={{ breakInside: 'avoid', marginBottom: 24 }}>
      <Heading right={right}>{title}</Heading>
      {children}
    </div>
  );
}

const TITLES = {
  ratings: msg`Stars`,
  marks: msg`Marks`,
  kinds: msg`Photographs and clips`,
  shapes: msg`Shapes`,
  sizes: msg`Sizes`,
  cameras: msg`Cameras`,
  lenses: msg`Lenses`,
  formats: msg`Formats`,
  observed: msg`What the machine noticed`,
} satisfies Record<string, MessageDescriptor>;

/**
 * The pictures of the question by what they are and what people said of them: tags as a tree, stars, marks, kinds, cameras, shapes,
 * what was noticed, each with its count, to be asked for or left out.
 */
export function What() {
  const router = useRouter();
  const question = useAsked();
  const narrow = useAsk((ask) => ask.narrow);
  const { data, error, refetch } = useAnswer('facets', { body: { question } });
  const tags = useAnswer('tags', {}).data?.tags;
  const marks = useAnswer('marks', {}).data?.marks ?? [];
  const names = useNames();
  const everything = isEverything(question);
  const batches =
    useAnswer('batches', {}, { enabled: useHelps() })
      .data?.batches.filter((batch) => batch.counts.stored > 0)
      .slice(0, 6) ?? [];
  const go = (part: Question) => {
    narrow(part);
    router.push('/browse');
  };
  const said = (condition: Condition) => {
    const { value } = phrase(condition, names, words());
    return value;
  };
  const counts = new Map(data?.tags.map(({ of, pictures }) => [of, pictures]));
  // A word that is on none of them stands only where one below it is.
  const shown = inTree(tags ?? [], byName).filter(({ tag }) => counts.has(tag.id));
  const some = useGradually(shown);
  const rest = useRest();
  const list = <T,>(
    title: MessageDescriptor,
    counted: readonly { of: T; pictures: number }[],
    ask: (of: T) => Condition,
    name: (of: T) => string = (of) => said(ask(of)),
    sign?: (of: T) => ReactNode,
  ) =>
    counted.length ? (
      <Group title={i18n._(title)}>
        {counted.map(({ of, pictures }) => (
          <FacetRow key={String(of)} name={name(of)} n={pictures} part={ask(of)} sign={sign?.(of)} />
        ))}
      </Group>
    ) : null;
  return (
    <Page>
      <BrowseHeader way="what" />
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data ? (
        <div style={{ columnWidth: 300, columnGap: 40 }}>
          <Group
            title={t`Tags`}
            right={
              <Button
                label={t`All words`}
                weight="quiet"
                className="min-h-touch px-0 py-0"
                onPress={() => router.push('/browse/tags')}
              />
            }
          >
            {shown.length === 0 ? (
              <Words className="text-soft">
                {everything
                  ? t`Words people give to pictures are listed here. Open a picture, or use the pile, to add the first one.`
                  : t`None of these pictures has a tag.`}
              </Words>
            ) : null}
            {some.map(({ tag, depth }) => (
              <FacetRow key={tag.id} name={tag.name} n={counts.get(tag.id)!} part={{ tag: tag.id }} depth={depth} />
            ))}
          </Group>
          {rest ? (
            <>
              <Group title={i18n._(TITLES.ratings)}>
                {data.favourites ? (
                  <FacetRow name={t`With a heart`} n={data.favourites} part={{ favourite: true }} />
                ) : null}
                {[5, 4, 3, 2, 1, 0].map((n) =>
                  data.ratings[n] ? (
                    <FacetRow
                      key={n}
                      name={n ? plural(n, { one: '# star', other: '# stars' }) : t`Not rated`}
                      n={data.ratings[n]}
                      part={{ rating: { min: n, max: n } }}
                    />
                  ) : null,
                )}
              </Group>
              {list(
                TITLES.marks,
                data.marks.filter(({ of }) => marks.some((mark) => mark.id === of)),
                (mark) => ({ mark }),
                (id) => marks.find((mark) => mark.id === id)!.meaning,
                (id) => (
                  <MarkSign mark={marks.find((mark) => mark.id === id)!} size={16} />
                ),
              )}
              {list(TITLES.observed, data.observed, (observed) => ({ observed }))}
              {list(TITLES.kinds, data.kinds, (kind) => ({ kind }))}
              {list(TITLES.shapes, data.shapes, (shape) => ({ shape }))}
              {list(
                TITLES.sizes,
                [...data.sizes].sort((a, b) => a.of - b.of),
                (i) => ({ size: SIZES[i]! }),
              )}
              {list(TITLES.cameras, data.cameras, (camera) => ({ camera }))}
              {list(TITLES.lenses, data.lenses, (lens) => ({ lens }))}
              {list(TITLES.formats, data.formats, (format) => ({ format }))}
              <Group title={t`Ready-made questions`}>
                <View className="flex-row flex-wrap gap-2">
                  {READY_MADE.filter((one) => one.id !== 'hearts').map((one) => (
                    <Chip key={one.id} label={i18n._(one.name)} onPress={() => go(one.question)} />
                  ))}
                </View>
              </Group>
              {batches.length ? (
                <Group title={t`Recently added`}>
                  <View className="flex-row flex-wrap gap-2">
                    {batches.map((batch) => (
                      <Chip key={batch.id} label={batchName(batch)} onPress={() => go({ batch: batch.id })} />
                    ))}
                  </View>
                </Group>
              ) : null}
            </>
          ) : null}
          {data.pictures && !everything ? (
            <Button
              label={plural(data.pictures, { one: 'See # picture', other: 'See the # pictures' })}
              onPress={() => router.push('/browse')}
            />
          ) : null}
        </div>
      ) : null}
    </Page>
  );
}
