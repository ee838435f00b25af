import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import type { Question } from '@gemmel/core';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { READY_MADE } from '../question/readyMade';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { CountRow } from './Where';
import { batchName } from '@/words/said';

const KINDS: [MessageDescriptor, Question][] = [
  [msg`With a heart`, { favourite: true }],
  [msg`4 stars or better`, { rating: { min: 4 } }],
  [msg`3 stars or better`, { rating: { min: 3 } }],
  [msg`Not rated`, { rating: { max: 0 } }],
  [msg`Clips`, { kind: 'video' }],
  [msg`Photographs`, { kind: 'photo' }],
  [msg`With a caption`, { has: 'caption' }],
];

/** The library by what people said of it: tags, stars, kinds. */
export function What() {
  const router = useRouter();
  const { narrow } = useAsk();
  const { data, error, refetch } = useAnswer('tags', {});
  const batches =
    useAnswer('batches', {})
      .data?.batches.filter((batch) => batch.counts.stored > 0)
      .slice(0, 6) ?? [];
  const go = (part: Question) => {
    narrow(part);
    router.push('/browse');
  };
  return (
    <Page>
      <BrowseHeader way="what" />
      <View className="gap-6">
        <View>
          <Heading>{t`Stars and kinds`}</Heading>
          <View className="flex-row flex-wrap gap-2">
            {[
              ...KINDS,
              ...READY_MADE.filter((r) => r.id !== 'hearts').map((r): [MessageDescriptor, Question] => [
                r.name,
                r.question,
              ]),
            ].map(([name, part]) => (
              <Chip key={name.id} label={i18n._(name)} onPress={() => go(part)} />
            ))}
          </View>
        </View>
        {batches.length ? (
          <View>
            <Heading>{t`Recently added`}</Heading>
            <View className="flex-row flex-wrap gap-2">
              {batches.map((batch) => (
                <Chip key={batch.id} label={batchName(batch)} onPress={() => go({ batch: batch.id })} />
              ))}
            </View>
          </View>
        ) : null}
        <View>
          <Heading right={data?.tags.length ?? ''}>{t`Tags`}</Heading>
          {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
          {data?.tags.length === 0 ? (
            <Words className="text-soft">{t`Words people give to pictures are listed here. Open a picture, or use the pile, to add the first one.`}</Words>
          ) : null}
          <div style={{ columnWidth: 280, columnGap: 40 }}>
            {data?.tags.map((tag) => (
              <div key={tag.id} style={{ breakInside: 'avoid' }}>
                <CountRow name={tag.name} n={tag.pictures} onPress={() => go({ tag: tag.id })} />
              </div>
            ))}
          </div>
        </View>
      </View>
    </Page>
  );
}
