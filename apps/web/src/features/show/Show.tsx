import { plural, t } from '@lingui/core/macro';
import { useEffect, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { View } from 'react-native';
import { call, largeOf, playOf } from '@/api/client';
import { queries, useAnswer } from '@/api/query';
import { IconButton } from '@/ui/Button';
import { sayMoment, sayNumber, saySeconds } from '@/ui/say';
import { placeholder } from '@/ui/thumb';
import { Words } from '@/ui/Words';

const PAUSES = [3, 5, 8, 15] as const;

/** Pictures one after another over the whole screen: play and pause, next and previous, how long each stays. */
export function Show({ ids, title, onClose }: { ids: readonly number[]; title: string; onClose: () => void }) {
  const [at, setAt] = useState(0);
  const [playing, setPlaying] = useState(true);
  const [pause, setPause] = useState<(typeof PAUSES)[number]>(5);
  const box = useRef<HTMLDivElement>(null);
  const id = ids[at] ?? ids[0] ?? 0;
  const { data: picture, isPlaceholderData } = useAnswer('picture', { params: { id } });
  const go = (by: number) => setAt((old) => (old + by + ids.length) % ids.length);
  const isClip = picture?.kind === 'video';
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    box.current?.focus();
    return () => before?.focus?.();
  }, []);
  useEffect(() => {
    const next = ids[(at + 1) % ids.length];
    if (next === undefined) return;
    void queries
      .fetchQuery({
        queryKey: ['picture', { params: { id: next } }],
        queryFn: () => call('picture', { params: { id: next } }),
        staleTime: 60_000,
      })
      .then(
        (coming) => void (new Image().src = largeOf(coming.sha)),
        () => undefined,
      );
  }, [at, ids]);
  useEffect(() => {
    // A clip stays until it has ended.
    if (!playing || isClip || isPlaceholderData || !picture) return;
    const timer = setTimeout(() => setAt((old) => (old + 1) % ids.length), 1000 * pause);
    return () => clearTimeout(timer);
  }, [playing, isClip, isPlaceholderData, picture, pause, at, ids.length]);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key === 'Escape') onClose();
      else if (event.key === 'ArrowRight') setAt((old) => (old + 1) % ids.length);
      else if (event.key === 'ArrowLeft') setAt((old) => (old - 1 + ids.length) % ids.length);
      else if (event.key === ' ' && !(event.target as HTMLElement).closest('button,[role=button]'))
        setPlaying((on) => !on);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    document.addEventListener('keydown', keys, true);
    return () => document.removeEventListener('keydown', keys, true);
  }, [ids.length, onClose]);
  const words = [picture?.title ?? picture?.event?.title, picture?.taken ? sayMoment(picture.taken) : null]
    .filter(Boolean)
    .join(' · ');
  return createPortal(
    <div
      ref={box}
      role="dialog"
      aria-modal="true"
      aria-label={t`Show: ${title}`}
      tabIndex={-1}
      style={{
        position: 'fixed',
        inset: 0,
        zIndex: 50,
        outline: 'none',
        background: picture
          ? `linear-gradient(rgb(11 16 15 / 0.86), rgb(11 16 15 / 0.86)), ${placeholder(picture.thumb)} center / cover`
          : '#0b100f',
      }}
    >
      {picture ? (
        isClip ? (
          <video
            key={picture.id}
            src={playOf(picture.id)}
            poster={largeOf(picture.sha)}
            autoPlay
            playsInline
            onEnded={() => playing && go(1)}
            onError={() => playing && go(1)}
            aria-label={picture.name}
            style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain' }}
          />
        ) : (
          <img
            key={picture.id}
            className="rise"
            src={largeOf(picture.sha)}
            alt={picture.title ?? picture.name}
            style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain' }}
          />
        )
      ) : null}
      <div
        style={{
          position: 'absolute',
          left: 0,
          right: 0,
          bottom: 0,
          padding: '28px 12px 12px',
          background: 'linear-gradient(transparent, rgb(11 16 15 / 0.8))',
        }}
      >
        <Words className="mb-1 text-center" style={{ color: '#fffbf3' }} numberOfLines={2}>
          {words}
        </Words>
        <View className="flex-row items-center justify-center gap-1">
          <IconButton name="left" tone="bright" label={t`Previous picture`} onPress={() => go(-1)} />
          <IconButton
            name={playing ? 'pause' : 'play'}
            tone="bright"
            size={26}
            label={playing ? t`Pause` : t`Play`}
            onPress={() => setPlaying(!playing)}
          />
          <IconButton name="right" tone="bright" label={t`Next picture`} onPress={() => go(1)} />
          <IconButton
            name="clock"
            tone="bright"
            label={plural(pause, { one: '# second each; tap to change', other: '# seconds each; tap to change' })}
            onPress={() => setPause(PAUSES[(PAUSES.indexOf(pause) + 1) % PAUSES.length]!)}
          />
          <Words
            kind="small"
            style={{ color: '#fffbf3' }}
          >{`${saySeconds(pause)} · ${t`${sayNumber(at + 1)} of ${sayNumber(ids.length)}`}`}</Words>
          <IconButton name="away" tone="bright" label={t`End the show`} onPress={onClose} />
        </View>
      </div>
    </div>,
    document.body,
  );
}
