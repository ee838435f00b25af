import { plural, t } from '@lingui/core/macro';
import type { SavedShow, ShowSlide, ShowSource } from '@gemmel/contract';
import type { ShowSettings, Slide } from '@gemmel/core';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { useWindowDimensions, View } from 'react-native';
import { musicOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { useWide } from '@/state/wide';
import { IconButton } from '@/ui/Button';
import { capital, sayList, sayLongDay, sayNumber } from '@/ui/say';
import { Failed } from '@/ui/State';
import { placeholder } from '@/ui/thumb';
import { Words } from '@/ui/Words';
import { sayCountry, sayRemembered, saySpan } from '@/words/said';
import { Frame, type Cell } from './Frame';
import { useDecoded } from './decoded';
import { useAwake, useMusic } from './music';
import { useGoingOn, usePlayer } from './player';
import { useShowSettings } from './settings';
import { ShowSheet } from './ShowSheet';
import { useLibraryShow, usePlan, useSlidesNear, type ShowHouse } from './useShow';

/** How long the controls stay after the last movement, in ms; how far a finger goes for the next one, in CSS pixels. */
const STAY = 3000;
const SWIPE = 50;
/** How much larger words stand on a wide screen that is looked at from across the room. */
export const ACROSS = 1.7;
/** How long one picture takes to give way to the next, in ms. */
const GIVE_WAY = 700;

/** What is written under a picture, as wished: its caption large, all else in one line. */
function wordsOf(slide: ShowSlide, tells: ShowSettings['tells']): { text: string; large: boolean }[] {
  const { title, caption, taken, takenSpan, place, names } = slide;
  const date = takenSpan ? capital(sayRemembered(takenSpan)) : taken ? capital(sayLongDay(taken.slice(0, 10))) : null;
  const said = tells.caption ? (caption ?? title) : null;
  const facts = [
    tells.date ? date : null,
    tells.place && place ? (place.country ? `${place.name}, ${sayCountry(place.country)}` : place.name) : null,
    tells.names && names.length ? sayList(names) : null,
  ]
    .filter(Boolean)
    .join(' · ');
  return [...(said ? [{ text: said, large: true }] : []), ...(facts ? [{ text: facts, large: false }] : [])];
}

/** The room between two pictures on one screen, in CSS pixels. */
const BETWEEN = 6;

/** The cells of one or two pictures on a screen: two stand close together in the middle, beside or above each other, as large as they can. */
export function cellsFor(ratios: readonly number[], width: number, height: number): Cell[] {
  const [a, b] = ratios;
  if (a === undefined || b === undefined) return [{ left: 0, top: 0, width, height }];
  if (width > height) {
    const tall = Math.min(height, (width - BETWEEN) / (a + b));
    const left = (width - tall * (a + b) - BETWEEN) / 2;
    const top = (height - tall) / 2;
    return [
      { left, top, width: tall * a, height: tall },
      { left: left + tall * a + BETWEEN, top, width: tall * b, height: tall },
    ];
  }
  const wide = Math.min(width, (height - BETWEEN) / (1 / a + 1 / b));
  const left = (width - wide) / 2;
  const top = (height - wide / a - wide / b - BETWEEN) / 2;
  return [
    { left, top, width: wide, height: wide / a },
    { left, top: top + wide / a + BETWEEN, width: wide, height: wide / b },
  ];
}

/** A show of something in the library, with the settings it was played with last, or those of a show that is kept. */
export function Show({
  source,
  title,
  saved,
  onClose,
}: {
  source: ShowSource;
  /** What it is called, where its source has no name. */
  title: string;
  saved?: SavedShow | undefined;
  onClose: () => void;
}) {
  const house = useLibraryShow(source);
  const remembered = useShowSettings();
  const [own, setOwn] = useState<ShowSettings | null>(saved?.settings ?? null);
  const settings = own ?? remembered.settings;
  const all = useAnswer('music', {}).data?.music;
  const music = settings.music.flatMap((id) => all?.find((piece) => piece.id === id) ?? []);
  const helps = useMe().data?.member?.part !== 'relative';
  const set = (next: ShowSettings) => (saved ? setOwn(next) : remembered.set(next));
  return (
    <Player
      house={house}
      title={saved?.name ?? house.data?.title ?? title}
      settings={settings}
      music={music}
      onClose={onClose}
      sheet={(close) => (
        <ShowSheet
          source={source}
          title={title}
          saved={saved ?? null}
          settings={settings}
          mayKeep={helps}
          onSettings={set}
          onClose={close}
        />
      )}
    />
  );
}

const NONE: Slide[] = [];

/** Pictures one after another over the whole screen. */
export function Player({
  house,
  title,
  settings,
  music,
  musicAt = musicOf,
  sheet,
  onClose,
}: {
  house: Pick<ShowHouse, 'data' | 'error' | 'large' | 'play'> & { known?: ShowHouse['known'] };
  title: string;
  settings: ShowSettings;
  music: readonly { id: number; seconds: number }[];
  /** The sheet of settings; null when there are none to change. */
  sheet: ((close: () => void) => ReactNode) | null;
  /** Where pieces of music are fetched. */
  musicAt?: (id: number) => string;
  /** Null on a wall, where nobody ends it. */
  onClose: (() => void) | null;
}) {
  const { data, error, large, play } = house;
  const { width, height } = useWindowDimensions();
  const wide = useWide();
  const [seed] = useState(() => Math.floor(Math.random() * 1e9));
  const length = music.reduce((sum, piece) => sum + piece.seconds, 0);
  const slides = usePlan(data, settings, length, seed);
  const ratios = useMemo(() => new Map(data?.pictures.map((one) => [one.id, one.ratio])), [data]);
  const [setting, setSetting] = useState(false);
  const player = usePlayer(slides.length, settings.again);
  const { at, playing, ended } = player;
  const slide = slides[at];
  const near = useSlidesNear(house.known ? NONE : slides, at);
  const known = house.known ?? near;
  const sources = useMemo(
    () =>
      slides.map((one) =>
        one.kind === 'picture'
          ? one.ids.flatMap((id) => {
              const there = known.get(id);
              return there ? [large(there)] : [];
            })
          : [],
      ),
    [slides, known, large],
  );
  const decoded = useDecoded(sources, at);
  const isReady = (place: number) => {
    const one = slides[place];
    return !one || one.kind === 'card' || (one.ids.every((id) => known.has(id)) && decoded(place));
  };
  const clipAt = (one: Slide | undefined) =>
    one?.kind === 'picture' && known.get(one.ids[0])?.kind === 'video' ? one.ids[0] : null;
  const [clipEnded, setClipEnded] = useState<number | null>(null);
  const clip = clipAt(slide);
  useGoingOn(slides, player, settings.again, clip !== null && clipEnded !== at, isReady);
  const reduced = window.matchMedia('(prefers-reduced-motion: reduce)').matches;
  const onScreen = playing && !setting;
  useMusic(
    music.map((piece) => piece.id),
    onScreen,
    clip !== null,
    ended,
    musicAt,
  );
  useAwake(onScreen && !ended);

  const box = useRef<HTMLDivElement>(null);
  const [shown, setShown] = useState(true);
  const hide = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const stir = () => {
    setShown(true);
    clearTimeout(hide.current);
    hide.current = setTimeout(() => setShown(false), STAY);
  };
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    const element = box.current;
    element?.focus();
    // A phone lets nobody fill the screen unasked; then the page fills the window.
    void element?.requestFullscreen?.().catch(() => undefined);
    hide.current = setTimeout(() => setShown(false), STAY);
    return () => {
      clearTimeout(hide.current);
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
      before?.focus?.();
    };
  }, []);
  const now = useRef({ player, onClose, setting });
  useEffect(() => void (now.current = { player, onClose, setting }));
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      const { player: it, onClose: close, setting: open } = now.current;
      if (open) return;
      const inField = (event.target as HTMLElement).closest('input');
      if (event.key === 'Escape') close?.();
      else if (event.key === 'ArrowRight' && !inField) it.next();
      else if (event.key === 'ArrowLeft' && !inField) it.back();
      else if (event.key === 'Home' && !inField) it.jump(0);
      else if (event.key === 'End' && !inField) it.jump(Number.MAX_SAFE_INTEGER);
      else if (event.key === ' ' && !(event.target as HTMLElement).closest('button,[role=button]')) it.toggle();
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    document.addEventListener('keydown', keys, true);
    return () => document.removeEventListener('keydown', keys, true);
  }, []);
  const touch = useRef<{ x: number; y: number } | null>(null);

  // The slide before stays beneath until the new one has come up.
  const [last, setLast] = useState<number | null>(null);
  const [current, setCurrent] = useState(0);
  if (current !== at) {
    setLast(current);
    setCurrent(at);
  }
  const bars = shown || !playing || ended;
  const layer = (place: number, above: boolean) => {
    const one = slides[place];
    if (!one) return null;
    return (
      <div
        key={place}
        className={above && !reduced ? 'show-in' : undefined}
        style={{ position: 'absolute', inset: 0, animationDuration: `${GIVE_WAY}ms` }}
      >
        {one.kind === 'card' ? (
          <Card slide={one} title={title} data={data} />
        ) : (
          <Pictures
            slide={one}
            known={known}
            ratios={ratios}
            width={width}
            height={height}
            large={large}
            play={play}
            gentle={settings.movement === 'gentle' && !reduced}
            playing={onScreen && above}
            onEnded={() => above && setClipEnded(place)}
          />
        )}
      </div>
    );
  };
  // Of two that say the same it stands once.
  const lines = new Map<string, { text: string; large: boolean }>();
  for (const id of slide?.kind === 'picture' ? slide.ids : []) {
    const one = known.get(id);
    if (one) for (const line of wordsOf(one, settings.tells)) lines.set(line.text, line);
  }
  return createPortal(
    <div
      ref={box}
      role="dialog"
      aria-modal="true"
      aria-label={t`Show: ${title}`}
      tabIndex={-1}
      data-slide={at}
      data-of={slides.length}
      data-playing={playing}
      onPointerMove={(event) => event.pointerType === 'mouse' && stir()}
      onPointerDown={(event) => {
        if (event.pointerType !== 'mouse') touch.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerUp={(event) => {
        const from = touch.current;
        touch.current = null;
        if (!from || (event.target as HTMLElement).closest('[data-controls]')) return;
        const gone = event.clientX - from.x;
        if (Math.abs(gone) > SWIPE && Math.abs(gone) > Math.abs(event.clientY - from.y))
          (gone < 0 ? player.next : player.back)();
        else if (shown) setShown(false);
        else stir();
      }}
      style={{
        position: 'fixed',
        inset: 0,
        zIndex: 50,
        outline: 'none',
        overflow: 'hidden',
        background: '#0b100f',
        cursor: bars ? undefined : 'none',
        touchAction: 'none',
      }}
    >
      {error ? (
        <View className="flex-1 bg-paper">
          <Failed error={error} />
        </View>
      ) : null}
      {last !== null && last !== at ? layer(last, false) : null}
      {layer(at, true)}
      {data && data.pictures.length === 0 ? (
        <Words className="p-8 text-center" style={{ color: '#fffbf3' }}>{t`There is no picture to show yet.`}</Words>
      ) : null}
      <div
        style={{
          position: 'absolute',
          left: 0,
          right: 0,
          bottom: 0,
          padding: `28px 16px ${bars ? 12 : 26}px`,
          zoom: onClose === null && wide ? ACROSS : 1,
          background: lines.size || bars ? 'linear-gradient(transparent, rgb(11 16 15 / 0.78))' : undefined,
        }}
      >
        {[...lines.values()].map(({ text, large: isLarge }) => (
          <Words
            key={text}
            className={`text-center ${isLarge ? 'font-serif text-lead' : 'text-small'}`}
            style={{ color: '#fffbf3' }}
            numberOfLines={3}
          >
            {text}
          </Words>
        ))}
        {bars ? (
          <div data-controls="" onPointerMove={stir}>
            <input
              type="range"
              aria-label={t`Jump to`}
              min={0}
              max={Math.max(0, slides.length - 1)}
              value={at}
              onChange={(event) => {
                player.jump(Number(event.target.value));
                stir();
              }}
              style={{ width: '100%', minHeight: 28, accentColor: '#7cc2ac' }}
            />
            <View className="flex-row flex-wrap items-center justify-center gap-1">
              <IconButton name="left" tone="bright" label={t`Previous picture`} onPress={player.back} />
              <IconButton
                name={playing && !ended ? 'pause' : 'play'}
                tone="bright"
                size={26}
                label={playing && !ended ? t`Pause` : t`Play`}
                onPress={player.toggle}
              />
              <IconButton name="right" tone="bright" label={t`Next picture`} onPress={player.next} />
              <Words kind="small" style={{ color: '#fffbf3' }}>
                {t`${sayNumber(at + 1)} of ${sayNumber(slides.length)}`}
              </Words>
              {sheet ? (
                <IconButton
                  name="sizes"
                  tone="bright"
                  label={t`How it is played`}
                  onPress={() => {
                    setSetting(true);
                  }}
                />
              ) : null}
              {onClose ? <IconButton name="away" tone="bright" label={t`End the show`} onPress={onClose} /> : null}
            </View>
          </div>
        ) : null}
      </div>
      <Foot at={at} of={slides.length} seconds={slide?.seconds ?? 1} going={onScreen && !ended && clip === null} />
      {setting && sheet ? sheet(() => setSetting(false)) : null}
    </div>,
    document.body,
  );
}

/** The double bar at the foot: the upper one fills with the time of a picture, the lower one with that of the show. */
function Foot({ at, of, seconds, going }: { at: number; of: number; seconds: number; going: boolean }) {
  const line = (child: ReactNode) => (
    <div style={{ height: 3, background: 'rgb(255 251 243 / 0.25)', overflow: 'hidden' }}>{child}</div>
  );
  return (
    <div
      aria-hidden
      style={{ position: 'absolute', left: 0, right: 0, bottom: 0, display: 'flex', flexDirection: 'column', gap: 2 }}
    >
      {line(
        <div
          key={at}
          className="show-time"
          style={{
            height: 3,
            background: '#7cc2ac',
            animationDuration: `${seconds}s`,
            animationPlayState: going ? 'running' : 'paused',
          }}
        />,
      )}
      {line(
        <div
          style={{
            height: 3,
            width: `${of ? (100 * (at + 1)) / of : 0}%`,
            background: '#7cc2ac',
            transition: 'width 0.4s',
          }}
        />,
      )}
    </div>
  );
}

function Pictures({
  slide,
  known,
  ratios,
  width,
  height,
  large,
  play,
  gentle,
  playing,
  onEnded,
}: {
  slide: Extract<Slide, { kind: 'picture' }>;
  known: ShowHouse['known'];
  ratios: ReadonlyMap<number, number>;
  width: number;
  height: number;
  large: ShowHouse['large'];
  play: ShowHouse['play'];
  gentle: boolean;
  playing: boolean;
  onEnded: () => void;
}) {
  const cells = cellsFor(
    slide.ids.map((id) => ratios.get(id) ?? 1.33),
    width,
    height,
  );
  const first = known.get(slide.ids[0]);
  return (
    <>
      <div
        style={{
          position: 'absolute',
          inset: 0,
          background: first
            ? `linear-gradient(rgb(11 16 15 / 0.82), rgb(11 16 15 / 0.82)), ${placeholder(first.thumb)} center / cover`
            : '#0b100f',
        }}
      />
      {slide.ids.map((id, i) => {
        const one = known.get(id);
        return one ? (
          <Frame
            key={id}
            slide={one}
            ratio={ratios.get(id) ?? 1.33}
            cell={cells[i]!}
            large={large(one)}
            play={play(one)}
            seconds={slide.seconds}
            gentle={gentle}
            playing={playing}
            onEnded={onEnded}
          />
        ) : null;
      })}
    </>
  );
}

/** A card: what begins, what ends, or a chapter. */
function Card({
  slide,
  title,
  data,
}: {
  slide: Extract<Slide, { kind: 'card' }>;
  title: string;
  data: ShowHouse['data'];
}) {
  const chapter = slide.card === 'chapter' ? data?.chapters.find((one) => one.id === slide.chapter) : null;
  const days = data?.from && data.to ? saySpan(data.from, data.to) : null;
  const [head, under] =
    slide.card === 'begin'
      ? [title, days]
      : slide.card === 'end'
        ? [
            t`The end`,
            [title, plural(data?.pictures.length ?? 0, { one: '# picture', other: '# pictures' })].join(' · '),
          ]
        : [chapter?.heading ?? chapter?.note ?? '', chapter?.heading ? chapter.note : null];
  return (
    <div
      style={{
        position: 'absolute',
        inset: 0,
        background: '#131a19',
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        justifyContent: 'center',
        gap: 14,
        padding: 32,
      }}
    >
      <Words className="text-center font-serif text-figure" style={{ color: '#f0eadd' }} numberOfLines={4}>
        {head}
      </Words>
      {under ? (
        <Words className="max-w-note text-center text-lead" style={{ color: '#a7b3ad' }} numberOfLines={8}>
          {under}
        </Words>
      ) : null}
    </div>
  );
}
