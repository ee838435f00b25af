import type { ShowSlide } from '@gemmel/contract';
import { panOver, type Pan, type Part } from '@gemmel/core';
import { useEffect, useRef } from 'react';
import { placeholder } from '@/ui/thumb';

const seen = ({ x, y, w }: Part): string => `scale(${1 / w}) translate(${-x * 100}%, ${-y * 100}%)`;

/** A cell of the screen, in CSS pixels. */
export interface Cell {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The largest box of a shape within a cell, in its middle. */
export function fitted({ left, top, width, height }: Cell, ratio: number): Cell {
  const w = Math.min(width, height * ratio);
  const h = w / ratio;
  return { left: left + (width - w) / 2, top: top + (height - h) / 2, width: w, height: h };
}

/** One picture of a show in its cell: still, or gently moved so that faces stay in view; a clip plays with its sound. */
export function Frame({
  slide,
  ratio,
  cell,
  large,
  play,
  seconds,
  gentle,
  playing,
  onEnded,
}: {
  slide: ShowSlide;
  ratio: number;
  cell: Cell;
  large: string;
  play: string;
  seconds: number;
  gentle: boolean;
  playing: boolean;
  onEnded: () => void;
}) {
  const image = useRef<HTMLImageElement>(null);
  const video = useRef<HTMLVideoElement>(null);
  const moving = useRef<Animation | null>(null);
  const box = fitted(cell, ratio);
  const clip = slide.kind === 'video';
  useEffect(() => {
    const element = image.current;
    if (!element?.animate || !gentle || clip) return;
    const pan: Pan = panOver(
      slide.faces.map(([x, y, w, h]) => ({ x, y, w, h })),
      slide.id,
    );
    const going = element.animate([{ transform: seen(pan.from) }, { transform: seen(pan.to) }], {
      duration: seconds * 1000 + 1200,
      fill: 'both',
      easing: 'linear',
    });
    moving.current = going;
    return () => {
      going.cancel();
      moving.current = null;
    };
  }, [slide, gentle, clip, seconds]);
  useEffect(() => {
    if (playing) moving.current?.play();
    else moving.current?.pause();
    const element = video.current;
    if (!element) return;
    if (playing) void element.play().catch(() => undefined);
    else element.pause();
  }, [playing, slide]);
  return (
    <div
      data-frame={slide.id}
      style={{
        position: 'absolute',
        ...box,
        overflow: 'hidden',
        background: placeholder(slide.thumb),
        backgroundSize: 'cover',
      }}
    >
      {clip ? (
        <video
          ref={video}
          src={play}
          poster={large}
          autoPlay
          playsInline
          onEnded={onEnded}
          onError={onEnded}
          style={{ width: '100%', height: '100%', objectFit: 'contain' }}
        />
      ) : (
        <img
          ref={image}
          src={large}
          alt={slide.title ?? slide.caption ?? ''}
          draggable={false}
          style={{ width: '100%', height: '100%', objectFit: 'cover', transformOrigin: '0 0' }}
        />
      )}
    </div>
  );
}
