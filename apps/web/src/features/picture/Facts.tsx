import type { Picture } from '@gemmel/contract';
import { sayAge, sayWhenSpan, type Where } from '@gemmel/core';
import { Link, useRouter } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { Button, Chip, IconButton } from '@/ui/Button';
import { DoubleBar, type Tone } from '@/ui/DoubleBar';
import { count, sayBytes, sayClock, sayMoment, sayNumber } from '@/ui/say';
import { Stars } from '@/ui/Stars';
import { Words } from '@/ui/Words';
import { moveTo, splitAt } from '../event/acts';
import { PlaceSheet } from '../place/PlaceSheet';
import { DatesSheet } from '../time/DatesSheet';
import { change, saidStars } from './acts';
import { Beside } from './Beside';
import { TagAdder } from './TagAdder';

const SOURCE: Record<string, string> = {
  hand: 'set by hand',
  mended: 'from the camera’s clock, mended',
  written: 'as it was written beside it',
  camera: 'from the camera’s clock',
  gps: 'from GPS',
  'file name': 'from the file’s name',
  'folder name': 'from the folder’s name',
  file: 'from the file, which may be when it was copied',
};

const PLACED: Record<string, string> = {
  camera: 'from the camera',
  hand: 'given by hand',
  track: 'from a recorded track',
  copied: 'copied from another picture',
};

/** How far the named town is: "in Visby", "12 km from Visby". */
function sayNear({ where }: Picture): string {
  if (!where?.place || where.km === null) return '';
  return where.km < 1.5 ? `in ${where.place}` : `${Math.round(where.km)} km from ${where.place}`;
}

/** The time in words: a moment, or as much as is known. */
function sayTaken({ taken, takenSpan }: Picture): string {
  const words = takenSpan ? sayWhenSpan(takenSpan) : sayMoment(taken ?? '');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** "(2 hours ahead of Greenwich)". */
const offsetWords = (minutes: number | null) =>
  minutes === null ? '' : `, UTC ${minutes < 0 ? '−' : '+'}${sayClock(Math.abs(minutes))}`;

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
            style={{ minHeight: 44, display: 'flex', alignItems: 'center' }}
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

function FactLines({ picture }: { picture: Picture }) {
  const lines: [string, string | null][] = [
    ['File', picture.name],
    ['Came as', picture.originalName],
    ['Mark', picture.label],
    ['Kept in', picture.keptAt],
    [
      'Size',
      `${sayNumber(picture.width)} × ${sayNumber(picture.height)}, ${sayBytes(picture.bytes)}, ${picture.format.toUpperCase()}${picture.seconds ? `, ${sayClock(picture.seconds)}` : ''}`,
    ],
    ['Taken with', [picture.device ?? picture.camera, picture.exposure].filter(Boolean).join(' · ') || null],
    [
      'Date',
      picture.taken
        ? `${SOURCE[picture.takenSource ?? ''] ?? 'of unknown source'}${offsetWords(picture.offset)}`
        : null,
    ],
    [
      'Place',
      picture.position ? [PLACED[picture.placeSource ?? 'camera'], sayNear(picture)].filter(Boolean).join(', ') : null,
    ],
    ['Came in with', picture.batch?.name ?? null],
  ];
  return (
    <View className="gap-1">
      {lines.map(([name, value]) =>
        value ? (
          <View key={name} className="flex-row gap-3">
            <Words kind="small" className="w-24">
              {name}
            </Words>
            <Words kind="small" className="min-w-0 flex-1 text-ink">
              {value}
            </Words>
          </View>
        ) : null,
      )}
      {picture.folder ? (
        <Link
          href={{ pathname: '/browse/folders', params: { at: picture.folder.id, seen: picture.id } }}
          style={{ minHeight: 44, display: 'flex', alignItems: 'center' }}
        >
          <Words kind="small" className="font-semi text-juniper">
            {`Where it came: ${picture.folder.name}`}
          </Words>
        </Link>
      ) : null}
      {picture.where ? (
        <>
          <WhereLine where={picture.where} />
          <Words kind="tiny">Town names: GeoNames, CC BY 4.0</Words>
        </>
      ) : null}
      {picture.position ? (
        <Link
          href={{ pathname: '/browse/map', params: { seen: picture.id } }}
          style={{ minHeight: 44, display: 'flex', alignItems: 'center' }}
        >
          <Words kind="small" className="font-semi text-juniper">
            See it on the map
          </Words>
        </Link>
      ) : null}
      <a
        href={`/api/pictures/${picture.id}/original?save`}
        download={picture.name}
        style={{ minHeight: 44, display: 'flex', alignItems: 'center' }}
      >
        <Words kind="small" className="font-semi text-juniper">
          Save the original, byte for byte
        </Words>
      </a>
    </View>
  );
}

/** Country, region and place, each leading to all pictures from there. */
function WhereLine({ where }: { where: NonNullable<Picture['where']> }) {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  const { country, region, place } = where;
  const steps: [string, Where][] = [
    [where.countryName, { country }],
    ...(region ? [[`around ${region}`, { country, region }] as [string, Where]] : []),
    ...(place ? [[place, { country, ...(region ? { region } : {}), place }] as [string, Where]] : []),
  ];
  return (
    <View className="flex-row flex-wrap items-center gap-x-1.5">
      {steps.map(([name, asked], i) => (
        <Pressable
          key={name}
          role="button"
          aria-label={`All pictures from ${name}`}
          onPress={() => {
            set({ where: asked });
            router.push('/browse');
          }}
          className="min-h-touch justify-center"
        >
          <Words kind="small" className="font-semi text-juniper">
            {i ? `› ${name}` : name}
          </Words>
        </Pressable>
      ))}
    </View>
  );
}

function Fact({ title, tone = 'settled', children }: { title: string; tone?: Tone; children: ReactNode }) {
  return (
    <View className="mt-2 flex-row gap-2.5 border-t border-line pt-3">
      <View className="pt-1.5">
        <DoubleBar tone={tone} />
      </View>
      <View className="min-w-0 flex-1 gap-0.5">
        <Words kind="strong" role="heading" aria-level={2}>
          {title}
        </Words>
        {children}
      </View>
    </View>
  );
}

/** Words that are changed where they stand: press to write, Enter or leaving keeps, Escape does not. */
function Line({
  label,
  value,
  placeholder,
  onSave,
  serif = false,
  many = false,
}: {
  label: string;
  value: string | null;
  placeholder: string;
  onSave: (text: string | null) => void;
  serif?: boolean;
  many?: boolean;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const finish = () => {
    if (typed === null) return;
    const next = typed.trim() || null;
    setTyped(null);
    if (next !== value) onSave(next);
  };
  const face = serif ? 'font-serif text-head' : 'font-sans text-body';
  if (typed === null)
    return (
      <Pressable
        role="button"
        aria-label={value ? `${label}: ${value}. Change it` : placeholder}
        onPress={() => setTyped(value ?? '')}
        className="min-h-touch justify-center"
      >
        <Words className={value ? `${face} text-ink` : 'text-body text-soft'}>{value ?? placeholder}</Words>
      </Pressable>
    );
  return (
    <TextInput
      autoFocus
      aria-label={label}
      value={typed}
      placeholder={placeholder}
      onChangeText={setTyped}
      multiline={many}
      numberOfLines={many ? 3 : 1}
      maxLength={many ? 4000 : 200}
      onBlur={finish}
      onSubmitEditing={many ? undefined : finish}
      onKeyPress={(event) => {
        if (event.nativeEvent.key === 'Escape') setTyped(null);
      }}
      className={`min-h-touch rounded-small border-2 border-juniper bg-card px-3 py-2 text-ink ${face}`}
    />
  );
}
