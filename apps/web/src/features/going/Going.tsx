import { plural, t } from '@lingui/core/macro';
import type { FaceMark, Mark, Picture } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Pressable, ScrollView, useWindowDimensions, View } from 'react-native';
import { call, largeOf, originalOf } from '@/api/client';
import { queries, useAnswer } from '@/api/query';
import { giveMark, MarkChoice } from '@/features/mark/MarkChoice';
import { FaceSheet } from '@/features/picture/FaceSheet';
import { Line } from '@/features/picture/Line';
import { PlaceSheet } from '@/features/place/PlaceSheet';
import { Heart } from '@/features/said/Heart';
import { change, giveTags, saidStars } from '@/features/said/acts';
import { TagAdder } from '@/features/said/TagAdder';
import { DatesSheet } from '@/features/time/DatesSheet';
import { useGoing } from '@/state/going';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { isForPage } from '@/ui/keys';
import { capital, sayLeft, sayLongDay } from '@/ui/say';
import { Stars } from '@/ui/Stars';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Switch } from '@/ui/Switch';
import { placeholder } from '@/ui/thumb';
import { SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { sayPlace, sayRemembered, words } from '@/words/said';

/** How long a picture takes on average until somebody has shown how quick they are, in seconds. */
const EACH = 6;

/** Pictures one after another: the picture, the sentence that is being said of it, stars, words, and the next one. */
export function Going() {
  const router = useRouter();
  const { round, stopped, stopAt } = useGoing();
  const key = round?.key ?? '';
  const ids = useMemo(() => round?.ids ?? [], [round]);
  const start = stopped.find((one) => one.key === key)?.id;
  const [at, setAt] = useState(() => Math.max(0, start === undefined ? 0 : ids.indexOf(start)));
  // How quick somebody is: when the first picture of this sitting was left, and how many since.
  const [pace, setPace] = useState<{ since: number; done: number; each: number } | null>(null);
  const id = ids[at];
  const leave = () => router.navigate((round?.from ?? '/browse') as '/browse');
  const go = useCallback(
    (to: number) => {
      setAt(Math.max(0, Math.min(ids.length, to)));
      const now = Date.now();
      setPace((last) => {
        if (!last) return { since: now, done: 0, each: EACH };
        const done = last.done + 1;
        return { since: last.since, done, each: done >= 3 ? (now - last.since) / 1000 / done : EACH };
      });
      // Past the last one there is nothing to go on with.
      stopAt(key, to >= ids.length ? null : (ids[Math.max(0, to)] ?? null));
    },
    [ids, key, stopAt],
  );
  useEffect(() => {
    for (const near of [ids[at + 1], ids[at + 2]])
      if (near !== undefined)
        void queries
          .prefetchQuery({
            queryKey: ['picture', { params: { id: near } }],
            queryFn: () => call('picture', { params: { id: near } }),
            staleTime: 10_000,
          })
          .then(() => {
            const sha = queries.getQueryData<Picture>(['picture', { params: { id: near } }])?.sha;
            if (sha) new Image().src = largeOf(sha);
          });
  }, [ids, at]);
  if (!round || ids.length === 0)
    return (
      <Empty
        title={t`Nothing to go through`}
        text={t`Open an event, a batch, an album or the pile, and choose “One after another”.`}
      >
        <Button label={t`Browse the library`} onPress={() => router.navigate('/browse')} />
      </Empty>
    );
  if (id === undefined)
    return (
      <Empty
        title={t`That’s all of them`}
        text={plural(ids.length, { one: 'You went through # picture.', other: 'You went through # pictures.' })}
      >
        <View className="gap-2">
          <Button label={t`Back to where you were`} onPress={leave} />
          <Button label={t`Once more from the first`} weight="quiet" onPress={() => go(0)} />
        </View>
      </Empty>
    );
  return (
    <One
      key={id}
      id={id}
      title={round.title}
      at={at}
      of={ids.length}
      left={sayLeft((ids.length - at) * (pace?.each ?? EACH))}
      onNext={() => go(at + 1)}
      onBefore={() => go(at - 1)}
      onLeave={leave}
    />
  );
}

/** A part of the sentence that is not said yet, to be touched. */
function Gap({ children, onPress }: { children: string; onPress: () => void }) {
  return (
    <Pressable role="button" onPress={onPress} className="min-h-8 justify-center rounded-small bg-honey px-2">
      <Words className="font-serif text-head text-marigold">{children}</Words>
    </Pressable>
  );
}

function One({
  id,
  title,
  at,
  of,
  left,
  onNext,
  onBefore,
  onLeave,
}: {
  id: number;
  title: string;
  at: number;
  of: number;
  left: string;
  onNext: () => void;
  onBefore: () => void;
  onLeave: () => void;
}) {
  const wide = useWide();
  const { width: room } = useWindowDimensions();
  const { onward, setOnward } = useGoing();
  const { data: picture, error, refetch, isPlaceholderData } = useAnswer('picture', { params: { id } });
  const ids = useMemo(() => [id], [id]);
  const likely = useAnswer('likelyTags', { body: { ids } }).data?.tags ?? [];
  const [tagging, setTagging] = useState(false);
  const drag = useRef<number | null>(null);
  const rate = useCallback(
    (rating: number) => {
      void change([id], { rating }, saidStars(rating, 1));
      if (useGoing.getState().onward && rating > 0) onNext();
    },
    [id, onNext],
  );
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!isForPage(event) || event.ctrlKey || event.metaKey) return;
      // Enter on a button or a link presses that.
      const pressed = event.key === 'Enter' && (event.target as HTMLElement).closest('button,a,[role]:not(main)');
      if (pressed) return;
      if (event.key === 'ArrowRight' || event.key === 'Enter') onNext();
      else if (event.key === 'ArrowLeft') onBefore();
      else if (event.key === 'Escape') onLeave();
      else if (/^[0-5]$/.test(event.key)) rate(Number(event.key));
      else if (event.key === 't') setTagging(true);
      else if (event.key === 'h' && picture)
        void change([id], { favourite: !picture.favourite }, picture.favourite ? t`Heart removed` : t`Heart given`);
      else return;
      event.preventDefault();
    };
    document.addEventListener('keydown', keys);
    return () => document.removeEventListener('keydown', keys);
  });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!picture || isPlaceholderData) return <Waiting />;
  const given = new Set(picture.tags.map((tag) => tag.id));
  const stage = (
    <div
      // A swipe goes on and leaves it for later.
      onPointerDown={(event) => (drag.current = event.clientX)}
      onPointerUp={(event) => {
        const moved = drag.current === null ? 0 : event.clientX - drag.current;
        drag.current = null;
        if (moved < -60) onNext();
        else if (moved > 60) onBefore();
      }}
      style={{
        position: 'relative',
        touchAction: 'pan-y',
        background: `linear-gradient(rgb(11 16 15 / 0.78), rgb(11 16 15 / 0.78)), ${placeholder(picture.thumb)} center / cover`,
        flexGrow: wide ? 1 : 0,
        flexShrink: wide ? 1 : 0,
        height: wide ? undefined : '39%',
        minWidth: 0,
      }}
    >
      {picture.kind === 'video' ? (
        <video
          key={picture.id}
          src={originalOf(picture.id)}
          poster={largeOf(picture.sha)}
          controls
          playsInline
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain' }}
        />
      ) : (
        <img
          src={largeOf(picture.sha)}
          alt={picture.title ?? picture.caption ?? picture.name}
          draggable={false}
          style={{
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            objectFit: 'contain',
            userSelect: 'none',
          }}
        />
      )}
    </div>
  );
  const heart = <Heart picture={picture} size={24} />;
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: wide ? 'row' : 'column' }}>
      {wide ? stage : null}
      <div
        style={{
          display: 'flex',
          flexDirection: 'column',
          minHeight: 0,
          flexGrow: wide ? 0 : 1,
          flexShrink: wide ? 0 : 1,
          width: wide ? 420 : undefined,
        }}
      >
        <View className="flex-row items-center justify-between pr-4">
          <View className="min-w-0 flex-1 flex-row items-center">
            <IconButton name="left" label={t`Stop here`} onPress={onLeave} />
            <Words kind="small" className="min-w-0 shrink" numberOfLines={1}>
              {title}
            </Words>
          </View>
          <Words kind="small" aria-live="polite">{t`${at + 1} of ${of}`}</Words>
        </View>
        {wide ? null : stage}
        <ScrollView style={{ flex: 1 }} contentContainerStyle={{ padding: 16, paddingTop: 10, gap: 8 }}>
          <DoubleBar share={at / of} width={wide ? 388 : room - 2 * SIZE.edge} label={t`${at} of ${of} gone through`} />
          <Sentence picture={picture} />
          <View className="-ml-1 flex-row items-center justify-between">
            {/* Touching the stars it has says them again; the key 0 takes them away. */}
            <Stars value={picture.rating} size={30} onChange={(rating) => rate(rating || picture.rating)} />
            {heart}
          </View>
          <Words kind="small">{t`Words for it`}</Words>
          <View className="flex-row flex-wrap gap-x-2">
            {picture.tags.map((tag) => (
              <Chip
                key={tag.id}
                on
                label={tag.name}
                onPress={() => void change(ids, { removeTags: [tag.id] }, t`Tag “${tag.name}” removed`)}
              />
            ))}
            {likely
              .filter((tag) => !given.has(tag.id))
              .slice(0, 6)
              .map((tag) => (
                <Chip key={tag.id} label={tag.name} onPress={() => void giveTags(ids, [tag])} />
              ))}
            {tagging ? (
              <TagAdder
                open
                onAdd={(tags) => {
                  setTagging(false);
                  void giveTags(ids, tags);
                }}
              />
            ) : (
              <Chip icon="plus" label={t`another word`} onPress={() => setTagging(true)} />
            )}
          </View>
          <MarkChoice on={picture.mark} onChoose={(mark: Mark, has) => void giveMark(ids, mark, has)} />
          <Line
            label={t`Caption`}
            value={picture.caption}
            placeholder={t`What happened here?`}
            many
            onSave={(caption) => void change(ids, { caption }, caption ? t`Caption changed` : t`Caption removed`)}
          />
          <Switch shown on={onward} label={t`Stars bring the next picture`} onTurn={() => setOnward(!onward)} />
        </ScrollView>
        <View className="gap-1 border-t border-line px-4 pb-3 pt-3">
          <View className="flex-row gap-2">
            {at > 0 ? <Button label={t`Back`} weight="second" onPress={onBefore} /> : null}
            <Button label={t`That’s all, next`} className="flex-1" onPress={onNext} />
          </View>
          <Words kind="tiny" className="text-center">
            {t`Swipe on to leave it for later. ${plural(of - at, { one: '# left', other: '# left' })}, ${left}.`}
          </Words>
        </View>
      </div>
    </div>
  );
}

/** What is said of a picture as one sentence; what is still unsaid stands in it as a gap to touch. */
function Sentence({ picture }: { picture: Picture }) {
  const [open, setOpen] = useState<'date' | 'place' | null>(null);
  const [face, setFace] = useState<FaceMark | null>(null);
  const ids = useMemo(() => [picture.id], [picture.id]);
  const day = picture.takenSpan
    ? sayRemembered(picture.takenSpan)
    : picture.taken
      ? sayLongDay(picture.taken.slice(0, 10))
      : null;
  const place = sayPlace(picture);
  const people = [...new Map(picture.faces.flatMap((f) => (f.person ? [[f.person.id, f.person.name] as const] : [])))];
  const waiting = picture.faces.filter((f) => f.state === 'waiting');
  const text = (said: string, key: string) => (
    <Words key={key} className="font-serif text-head text-ink">
      {said}
    </Words>
  );
  const gaps = waiting.slice(0, 3);
  // Commas between names and "and" before the last, as in any sentence.
  const company: ReactNode[] = [
    ...people.map(([id, name], i) => text(i < people.length + gaps.length - 2 ? `${name},` : name, `p${id}`)),
    ...gaps.map((one) => (
      <Gap key={`f${one.id}`} onPress={() => setFace(one)}>
        {one.likely ? t`${one.likely.name}?` : t`whose face?`}
      </Gap>
    )),
  ];
  const parts: ReactNode[] = [
    day ? text(capital(day), 'day') : <Gap key="day" onPress={() => setOpen('date')}>{t`when?`}</Gap>,
    place ? text(t`at ${place}`, 'place') : <Gap key="place" onPress={() => setOpen('place')}>{t`where?`}</Gap>,
    ...(people.length || waiting.length ? [text(t`with`, 'with')] : []),
    ...company.flatMap((one, i) => (i > 0 && i === company.length - 1 ? [text(words().and, 'and'), one] : [one])),
  ];
  return (
    <View className="flex-row flex-wrap items-center gap-x-1.5 gap-y-1">
      {parts}
      {open === 'date' ? <DatesSheet ids={ids} now={picture.taken} onClose={() => setOpen(null)} /> : null}
      {open === 'place' ? <PlaceSheet ids={ids} position={picture.position} onClose={() => setOpen(null)} /> : null}
      {face ? <FaceSheet face={face} onClose={() => setFace(null)} /> : null}
    </View>
  );
}
