import type { Picture } from '@gemmel/contract';
import { sayAge, sayWhenSpan } from '@gemmel/core';
import { Link, useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { Button, Chip, IconButton } from '@/ui/Button';
import { count, sayMoment } from '@/ui/say';
import { Stars } from '@/ui/Stars';
import { Words } from '@/ui/Words';
import { moveTo, splitAt } from '../event/acts';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { change, saidStars } from '@/features/said/acts';
import { Beside } from './Beside';
import { TagAdder } from '@/features/said/TagAdder';
import { Fact } from './Fact';
import { FactLines } from './FactLines';
import { Line } from './Line';
import { SIZE } from '@/ui/tokens';

/** The time in words: a moment, or as much as is known. */
function sayTaken({ taken, takenSpan }: Picture): string {
  const words = takenSpan ? sayWhenSpan(takenSpan) : sayMoment(taken ?? '');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Everything that is said about a picture, and where to change it. */
export function Facts({
  picture,
  onFaces,
  onDraw,
}: {
  picture: Picture;
  onFaces: () => void;
  /** Begins to draw round a face that was missed. */
  onDraw?: (() => void) | undefined;
}) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const [timing, setTiming] = useState(false);
  const [placing, setPlacing] = useState(false);
  const ids = useMemo(() => [picture.id], [picture.id]);
  const named = [...new Map(picture.faces.filter((f) => f.person).map((f) => [f.person!.id, f.person!])).values()];
  const people = useAnswer('people', {}).data?.people;
  /** With how old they were, where that is known; a summer long ago is no day to count from. */
  const withAge = ({ id, name }: { id: number; name: string }) => {
    const born = people?.find((p) => p.id === id)?.born ?? null;
    const age = picture.takenSpan ? null : sayAge(born, picture.taken?.slice(0, 10) ?? null);
    return age ? `${name}, ${age}` : name;
  };
  const unnamed = picture.faces.filter((f) => f.state === 'waiting').length;
  const unsure = picture.taken !== null && !picture.takenSpan && (picture.takenCertainty ?? 1) < 0.6;
  return (
    <View className="gap-2">
      <View className="-ml-1 flex-row items-center justify-between">
        <Stars value={picture.rating} onChange={(rating) => void change(ids, { rating }, saidStars(rating, 1))} />
        <IconButton
          name="heart"
          tone="brick"
          size={22}
          filled={picture.favourite}
          pressed={picture.favourite}
          label={picture.favourite ? 'Take the heart back' : 'Give it a heart'}
          onPress={() =>
            void change(
              ids,
              { favourite: !picture.favourite },
              picture.favourite ? 'The heart is taken back' : 'With a heart',
            )
          }
        />
      </View>
      <Line
        label="Title"
        serif
        value={picture.title}
        placeholder="Give it a title"
        onSave={(title) => void change(ids, { title }, title ? 'The title is changed' : 'The title is taken away')}
      />
      <Pressable role="button" onPress={() => setTiming(true)} className="min-h-touch justify-center">
        <Words kind="small" className="text-small text-ink">
          {picture.taken ? sayTaken(picture) : 'No date yet. Give it one?'}
          {unsure ? ', perhaps' : ''}
        </Words>
        {picture.event?.title ? <Words kind="small">{picture.event.title}</Words> : null}
      </Pressable>
      <Pressable role="button" onPress={() => setPlacing(true)} className="min-h-touch justify-center">
        <Words kind="small" className={picture.place ? 'text-small text-ink' : ''}>
          {picture.place ?? (picture.position ? 'A spot on the map' : 'No place yet. Give it one?')}
        </Words>
      </Pressable>
      <Line
        label="Caption"
        value={picture.caption}
        placeholder="Say what is to be seen, or what happened"
        many
        onSave={(caption) =>
          void change(ids, { caption }, caption ? 'The caption is changed' : 'The caption is taken away')
        }
      />
      <View className="flex-row flex-wrap gap-2">
        {named.map((person) => (
          <Chip
            key={`p${person.id}`}
            label={withAge(person)}
            onPress={() => router.push({ pathname: '/person/[id]', params: { id: person.id } })}
          />
        ))}
        {unnamed ? <Chip label={`${count(unnamed, 'face')} without a name`} onPress={onFaces} /> : null}
        {onDraw ? <Chip label="Who else is this?" icon="faces" onPress={onDraw} /> : null}
        {picture.tags.map((tag) => (
          <Chip
            key={`t${tag.id}`}
            icon="tag"
            label={tag.name}
            onPress={() => {
              set({ tag: tag.id });
              router.push('/browse');
            }}
            onAway={() => void change(ids, { removeTags: [tag.id] }, `“${tag.name}” is taken away`)}
            awayLabel={`Take the tag ${tag.name} away`}
          />
        ))}
        <TagAdder onAdd={(tag) => void change(ids, { addTags: [tag] }, `Tagged “${tag}”`)} />
      </View>
      {picture.event ? (
        <View className="-mt-1 flex-row flex-wrap gap-x-4">
          <Button
            label="Split the event here"
            weight="quiet"
            className="min-h-touch px-0"
            onPress={() => void splitAt(picture.event!.id, picture.id)}
          />
          <Button
            label="Not of this event"
            weight="quiet"
            className="min-h-touch px-0"
            onPress={() => void moveTo(ids, null, 'It belongs to no event now.')}
          />
        </View>
      ) : null}
      <Fact
        title={
          picture.albums.length
            ? `Kept once, seen in ${count(picture.albums.length, 'album')}`
            : 'Kept once, in no album'
        }
      >
        {picture.albums.length ? (
          <View className="flex-row flex-wrap gap-x-3">
            {picture.albums.map((album) => (
              <Link
                key={album.id}
                href={{ pathname: '/albums/[id]', params: { id: album.id } }}
                style={{ maxWidth: '100%', display: 'flex' }}
              >
                <Words kind="small" className="text-juniper underline">
                  {album.name}
                </Words>
              </Link>
            ))}
          </View>
        ) : (
          <Words kind="small">Albums point to pictures; they hold no copies.</Words>
        )}
      </Fact>
      <Fact title="The facts" tone="waiting">
        <FactLines picture={picture} />
      </Fact>
      {picture.beside.length ? (
        <Fact title={`Kept with ${count(picture.beside.length, 'other file')}`}>
          <Beside picture={picture} />
        </Fact>
      ) : null}
      {picture.alike ? (
        <Fact title="Nearly the same as another" tone="waiting">
          <Link
            href={{ pathname: '/picture/[id]', params: { id: picture.alike } }}
            style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
          >
            <Words kind="small" className="font-semi text-juniper">
              See the earlier one
            </Words>
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
