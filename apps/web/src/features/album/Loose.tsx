import { plural, t } from '@lingui/core/macro';
import type { Answer, Api, From } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { IntoAlbum } from '@/features/filing/IntoAlbum';
import { useAsk } from '@/state/ask';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { saySpan } from '@/words/said';
import { Way } from './Albums';

type LooseAnswer = Answer<Api['looseAlbums']>;

/** One event or folder with pictures that are in no album. */
interface Part {
  key: string;
  name: string;
  days: string | null;
  pictures: number;
  cover: string | null;
  question: Question;
}

/** What is asked for: of this event or folder, and in no album. */
const loose = (of: Question): Question => ({ all: [of, { inNoAlbum: true }] });

function byEvent({ events }: LooseAnswer): Part[] {
  return events.map((one) => {
    const days = one.from && one.to ? saySpan(one.from, one.to) : null;
    return {
      key: `event ${one.id}`,
      name: one.name ?? (one.id === null ? t`Of no event` : (days ?? t`An event without a name`)),
      days: one.name ? days : null,
      pictures: one.pictures,
      cover: one.cover,
      question: loose(one.id === null ? { lacks: 'event' } : { event: one.id }),
    };
  });
}

function byFolder({ folders }: LooseAnswer): Part[] {
  return folders.flatMap((one) =>
    one.id === null
      ? []
      : [
          {
            key: `folder ${one.id}`,
            name: one.name ?? '',
            days: null,
            pictures: one.pictures,
            cover: one.cover,
            question: loose({ folder: { id: one.id, only: true } }),
          },
        ],
  );
}

/** What is in no album yet, by event or by folder: the place to begin with albums, and to empty one by one. */
export function Loose() {
  const router = useRouter();
  const wide = useWide();
  const { data, error, refetch } = useAnswer('looseAlbums', {});
  const helps = useMe().data?.member?.part !== 'relative';
  const ask = useAsk((state) => state.set);
  const [by, setBy] = useState<'event' | 'folder'>('event');
  const [putting, setPutting] = useState<Part | null>(null);
  const parts = data ? (by === 'event' ? byEvent(data) : byFolder(data)) : [];
  const from = (part: Part): From => ({ question: part.question });
  return (
    <Page>
      <View className="pt-3">
        {wide ? null : <Way way={[]} />}
        <Words kind="title">{t`In no album yet`}</Words>
        <Words className="mb-2 text-soft" aria-live="polite">
          {data
            ? plural(data.pictures, {
                0: 'Every picture is in an album.',
                one: '# picture is still in none. Put it into one, and it leaves this list.',
                other: '# pictures are still in none. Put some into one, and they leave this list.',
              })
            : t`Counting …`}
        </Words>
        <View className="mb-2 flex-row gap-x-2">
          <Chip label={t`By event`} on={by === 'event'} onPress={() => setBy('event')} />
          <Chip label={t`By folder`} on={by === 'folder'} onPress={() => setBy('folder')} />
        </View>
      </View>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.pictures === 0 ? (
        <Empty
          title={t`Nothing left over`}
          text={t`Every picture is in at least one album. New arrivals will show up here.`}
        />
      ) : null}
      {parts.map((part) => (
        <View key={part.key} className="flex-row items-center gap-3 border-t border-line py-2.5">
          <Pressable
            role="button"
            aria-label={t`Show ${part.name}`}
            onPress={() => {
              ask(part.question);
              router.push('/browse');
            }}
            className="min-h-field min-w-0 flex-1 flex-row items-center gap-3"
          >
            {part.cover ? (
              <img
                src={smallOf(part.cover)}
                alt=""
                loading="lazy"
                style={{
                  width: SIZE.strip,
                  height: SIZE.field,
                  objectFit: 'cover',
                  borderRadius: CORNER.picture,
                  flexShrink: 0,
                }}
              />
            ) : null}
            <View className="min-w-0 flex-1">
              <Words numberOfLines={2}>{part.name}</Words>
              <Words kind="small">
                {[part.days, plural(part.pictures, { one: '# picture', other: '# pictures' })]
                  .filter(Boolean)
                  .join(' · ')}
              </Words>
            </View>
          </Pressable>
          {helps ? (
            <Button
              label={wide ? t`Into an album` : t`Into …`}
              weight="second"
              className="min-h-touch"
              onPress={() => setPutting(part)}
            />
          ) : null}
        </View>
      ))}
      {data && by === 'folder' && data.folders.some((one) => one.id === null) ? (
        <Words kind="small" className="border-t border-line py-3">
          {t`${sayNumber(data.folders.find((one) => one.id === null)!.pictures)} came in no folder; they are under their events.`}
        </Words>
      ) : null}
      {putting ? (
        <IntoAlbum
          from={from(putting)}
          count={putting.pictures}
          name={putting.name}
          stay
          onClose={() => setPutting(null)}
        />
      ) : null}
    </Page>
  );
}
