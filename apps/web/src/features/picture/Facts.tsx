import { plural, t } from '@lingui/core/macro';
import { type Observed, phrase } from '@gemmel/core';
import type { Picture } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useMe } from '@/features/account/session';
import { useAsk } from '@/state/ask';
import { Button, Chip } from '@/ui/Button';
import { Heart } from '@/features/said/Heart';
import { Stars } from '@/ui/Stars';
import { Words } from '@/ui/Words';
import { moveTo, splitAt } from '../event/acts';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { change, giveTags, saidStars } from '@/features/said/acts';
import { Comments } from '../comment/Comments';
import { giveMark, MarkChoice } from '../mark/MarkChoice';
import { Beside } from './Beside';
import { TagAdder } from '@/features/said/TagAdder';
import { Fact } from '@/ui/Fact';
import { FactsToRead } from './FactsToRead';
import { ForWhomFact } from './ForWhomFact';
import { FactLines } from './FactLines';
import { Line } from './Line';
import { Looks } from './Looks';
import { SeenIn } from './SeenIn';
import { sayTaken } from './sayTaken';
import { Sides } from './Sides';
import { SIZE } from '@/ui/tokens';
import { ageWords, namesIn, sayPlace, words } from '@/words/said';

/** What the machine noticed speaks of nobody and nothing by name. */
const NO_NAMES = namesIn({});

/** What was read is shown itself. */
const isTold = (one: Observed): boolean => one !== 'words';

/** Everything that is said about a picture, and where to change it. */
export function Facts(props: FactsProps) {
  const helps = useMe().data?.member?.part !== 'relative';
  return helps ? <FactsToChange {...props} /> : <FactsToRead picture={props.picture} />;
}

interface FactsProps {
  picture: Picture;
  onFaces: () => void;
  /** Begins to draw round a face that was missed. */
  onDraw?: (() => void) | undefined;
}

function FactsToChange({ picture, onFaces, onDraw }: FactsProps) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const [timing, setTiming] = useState(false);
  const [placing, setPlacing] = useState(false);
  const ids = useMemo(() => [picture.id], [picture.id]);
  const helps = useMe().data?.member?.part !== 'relative';
  const named = [...new Map(picture.faces.filter((f) => f.person).map((f) => [f.person!.id, f.person!])).values()];
  const people = useAnswer('people', {}).data?.people;
  /** With how old they were, where that is known; a summer long ago is no day to count from. */
  const withAge = ({ id, name }: { id: number; name: string }) => {
    const born = people?.find((p) => p.id === id)?.born ?? null;
    const age = picture.takenSpan ? null : ageWords(born, picture.taken?.slice(0, 10) ?? null);
    return age ? `${name}, ${age}` : name;
  };
  const given = new Set(picture.tags.map((tag) => tag.id));
  const likely = (useAnswer('likelyTags', { body: { ids } }, { enabled: helps }).data?.tags ?? []).filter(
    (tag) => !given.has(tag.id),
  );
  const notSo = (observed: Observed, value: string) =>
    act(() => call('sayNotSo', { body: { ids, observed } }), t`Not so: ${value}`, 'said');
  const unnamed = picture.faces.filter((f) => f.state === 'waiting').length;
  const unsure = picture.taken !== null && !picture.takenSpan && (picture.takenCertainty ?? 1) < 0.6;
  return (
    <View className="gap-2">
      <View className="-ml-1 flex-row items-center justify-between">
        <Stars value={picture.rating} onChange={(rating) => void change(ids, { rating }, saidStars(rating, 1))} />
        <Heart picture={picture} />
      </View>
      <Line
        label={t`Title`}
        serif
        value={picture.title}
        placeholder={t`Give it a title`}
        onSave={(title) => void change(ids, { title }, title ? t`Title changed` : t`Title removed`)}
      />
      <Pressable role="button" onPress={() => setTiming(true)} className="min-h-touch justify-center">
        <Words kind="small" className="text-small text-ink">
          {!picture.taken
            ? t`No date yet. Give it one?`
            : unsure
              ? t`${sayTaken(picture)} (perhaps)`
              : sayTaken(picture)}
        </Words>
        {picture.event?.title ? <Words kind="small">{picture.event.title}</Words> : null}
      </Pressable>
      <Pressable role="button" onPress={() => setPlacing(true)} className="min-h-touch justify-center">
        <Words kind="small" className={sayPlace(picture) ? 'text-small text-ink' : ''}>
          {sayPlace(picture) ?? (picture.position ? t`A spot on the map` : t`No place yet. Give it one?`)}
        </Words>
      </Pressable>
      <Line
        label={t`Caption`}
        value={picture.caption}
        placeholder={t`What’s in the picture, or what happened?`}
        many
        onSave={(caption) => void change(ids, { caption }, caption ? t`Caption changed` : t`Caption removed`)}
      />
      <View className="flex-row flex-wrap gap-2">
        {named.map((person) => (
          <Chip
            key={`p${person.id}`}
            label={withAge(person)}
            onPress={() => router.push({ pathname: '/person/[id]', params: { id: person.id } })}
          />
        ))}
        {unnamed ? (
          <Chip
            label={plural(unnamed, { one: '# face without a name', other: '# faces without a name' })}
            onPress={onFaces}
          />
        ) : null}
        {onDraw ? <Chip label={t`Add a face`} icon="faces" onPress={onDraw} /> : null}
        {picture.tags.map((tag) => (
          <Chip
            key={`t${tag.id}`}
            icon="tag"
            label={tag.name}
            onPress={() => {
              set({ tag: tag.id });
              router.push('/browse');
            }}
            onAway={() => void change(ids, { removeTags: [tag.id] }, t`Tag “${tag.name}” removed`)}
            awayLabel={t`Remove the tag ${tag.name}`}
          />
        ))}
        <TagAdder onAdd={(tags) => void giveTags(ids, tags)} likely={likely} />
      </View>
      {picture.observed.some(isTold) ? (
        <View className="flex-row flex-wrap items-center gap-x-2" role="group" aria-label={t`What the machine noticed`}>
          <Words kind="small">{t`Noticed:`}</Words>
          {picture.observed.filter(isTold).map((one) => {
            const { value } = phrase({ observed: one }, NO_NAMES, words());
            return (
              <Chip
                key={one}
                tone="plum"
                label={helps ? t`${value}: make it a tag` : value}
                onPress={helps ? () => void change(ids, { addTags: [value] }, t`Tagged “${value}”`) : undefined}
                onAway={helps ? () => void notSo(one, value) : undefined}
                awayLabel={t`Not so: ${value}`}
              />
            );
          })}
        </View>
      ) : null}
      {picture.seenWords ? (
        <View>
          <Words kind="small">{t`Read in the picture:`}</Words>
          <Words selectable numberOfLines={12}>
            {picture.seenWords}
          </Words>
        </View>
      ) : null}
      <MarkChoice on={picture.mark} onChoose={(mark, has) => void giveMark(ids, mark, has)} />
      {picture.event ? (
        <View className="-mt-1 flex-row flex-wrap gap-x-4">
          <Button
            label={t`Split the event here`}
            weight="quiet"
            className="min-h-touch px-0"
            onPress={() => void splitAt(picture.event!.id, picture.id)}
          />
          <Button
            label={t`Not part of this event`}
            weight="quiet"
            className="min-h-touch px-0"
            onPress={() => void moveTo(ids, null, t`Taken out of its event`)}
          />
        </View>
      ) : null}
      <Sides picture={picture} />
      <Looks picture={picture} />
      <SeenIn picture={picture} />
      <Comments picture={picture} />
      {helps ? <ForWhomFact id={picture.id} /> : null}
      <Fact title={t`The facts`} tone="waiting">
        <FactLines picture={picture} />
      </Fact>
      {picture.beside.length ? (
        <Fact
          title={plural(picture.beside.length, { one: 'Kept with # other file', other: 'Kept with # other files' })}
        >
          <Beside picture={picture} />
        </Fact>
      ) : null}
      {picture.alike ? (
        <Fact title={t`Near double of another`} tone="waiting">
          <Link
            href={{ pathname: '/picture/[id]', params: { id: picture.alike } }}
            style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
          >
            <Words kind="small" className="font-semi text-juniper">{t`See the other one`}</Words>
          </Link>
        </Fact>
      ) : null}
      {timing ? (
        <DatesSheet ids={ids} now={picture.takenSpan ? null : picture.taken} onClose={() => setTiming(false)} />
      ) : null}
      {placing ? <PlaceSheet ids={ids} position={picture.position} onClose={() => setPlacing(false)} /> : null}
    </View>
  );
}
