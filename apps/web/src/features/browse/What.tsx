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

const KINDS: [string, Question][] = [
  ['With a heart', { favourite: true }],
  ['4 stars or better', { rating: { min: 4 } }],
  ['3 stars or better', { rating: { min: 3 } }],
  ['Not rated', { rating: { max: 0 } }],
  ['Clips', { kind: 'video' }],
  ['Photographs', { kind: 'photo' }],
  ['With a caption', { has: 'caption' }],
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
      <BrowseHeader way="What" />
      <View className="gap-6">
        <View>
          <Heading>Stars and kinds</Heading>
          <View className="flex-row flex-wrap gap-2">
            {[
              ...KINDS,
              ...READY_MADE.filter((r) => r.name !== 'Hearts').map((r): [string, Question] => [r.name, r.question]),
            ].map(([name, part]) => (
              <Chip key={name} label={name} onPress={() => go(part)} />
            ))}
          </View>
        </View>
        {batches.length ? (
          <View>
            <Heading>Lately come in</Heading>
            <View className="flex-row flex-wrap gap-2">
              {batches.map((batch) => (
                <Chip key={batch.id} label={batch.name} onPress={() => go({ batch: batch.id })} />
              ))}
            </View>
          </View>
        ) : null}
        <View>
          <Heading right={data?.tags.length ?? ''}>Tags</Heading>
          {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
          {data?.tags.length === 0 ? (
            <Words className="text-soft">
              Words that people give to pictures are listed here. Open a picture, or take up the pile, to give the first
              one.
            </Words>
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
