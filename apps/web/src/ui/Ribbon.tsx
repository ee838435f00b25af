import { t } from '@lingui/core/macro';
import { memo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useWide } from '@/state/wide';
import { colour } from './Icon';
import { capital, sayMonth } from './say';
import { useSize } from './useSize';
import { CORNER, TYPE } from './tokens';

interface Props {
  months: readonly { month: string | null; pictures: number }[];
  /** The month at the top of the window. */
  at: number;
  onJump: (index: number) => void;
}

const nameOf = (month: string | null) => (month ? capital(sayMonth(month)) : t`No date`);

type Month = Props['months'][number];

/** The length of a month's bar: by the root, so that a quiet month can still be seen beside a full one. */
const barOf = (month: Month, fullest: number, long: number) =>
  Math.max(4, (long * Math.sqrt(month.pictures)) / Math.sqrt(fullest));

/** All bars at rest; drawn once, since only the month under the window moves. */
const Bars = memo(function Bars({
  months,
  height,
  start,
  step,
  edge,
  long,
}: {
  months: readonly Month[];
  height: number;
  start: number;
  step: number;
  edge: number;
  long: number;
}) {
  const fullest = Math.max(...months.map((m) => m.pictures));
  const thick = Math.min(3, step * 0.7);
  // One line for all of them: a library has hundreds of months.
  const bars = months.map((m, i) => {
    const bar = barOf(m, fullest, long);
    return `M${edge - bar + thick / 2} ${start + i * step + step / 2}H${edge - thick / 2}`;
  });
  return (
    <svg width="100%" height={height} aria-hidden>
      <path
        d={bars.join('')}
        fill="none"
        stroke={colour('soft')}
        strokeOpacity={0.45}
        strokeWidth={thick}
        strokeLinecap="round"
      />
    </svg>
  );
});

/** The ribbon: one bar a month, as long as the month is full. Touch or drag along it, or use the arrow keys, to jump. */
export const Ribbon = memo(function Ribbon({ months, at, onJump }: Props) {
  const wide = useWide();
  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box);
  const [held, setHeld] = useState<number | null>(null);
  const pad = 10;
  const step = Math.min(14, Math.max(0.5, (height - 2 * pad) / months.length));
  const start = Math.max(pad, (height - step * months.length) / 2);
  const fullest = Math.max(...months.map((m) => m.pictures));
  const long = wide ? 26 : 18;
  const edge = wide ? 36 : 24;
  const indexAt = (event: PointerEvent) => {
    const y = event.clientY - box.current!.getBoundingClientRect().top;
    return Math.max(0, Math.min(months.length - 1, Math.floor((y - start) / step)));
  };
  const jump = (index: number) => {
    setHeld(index);
    onJump(index);
  };
  const keys = (event: KeyboardEvent) => {
    const to = {
      ArrowDown: at + 1,
      ArrowUp: at - 1,
      PageDown: at + 12,
      PageUp: at - 12,
      Home: 0,
      End: months.length - 1,
    }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    onJump(Math.max(0, Math.min(months.length - 1, to)));
  };
  const shown = held ?? at;
  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label={t`Month`}
      aria-orientation="vertical"
      aria-valuemin={0}
      aria-valuemax={months.length - 1}
      aria-valuenow={at}
      aria-valuetext={nameOf(months[at]?.month ?? null)}
      onKeyDown={keys}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        jump(indexAt(event));
      }}
      onPointerMove={(event) => {
        if (held === null) return;
        const index = indexAt(event);
        if (index !== held) jump(index);
      }}
      onPointerUp={() => setHeld(null)}
      onPointerCancel={() => setHeld(null)}
      style={{
        position: 'absolute',
        top: wide ? 24 : 12,
        bottom: wide ? 24 : 12,
        right: 0,
        width: wide ? 46 : 28,
        touchAction: 'none',
        cursor: 'pointer',
        zIndex: 5,
      }}
    >
      <Bars months={months} height={height} start={start} step={step} edge={edge} long={long} />
      {height ? (
        <div
          aria-hidden
          style={{
            position: 'absolute',
            left: edge - barOf(months[shown]!, fullest, long),
            top: start + shown * step + step / 2 - 2,
            width: barOf(months[shown]!, fullest, long),
            height: 4,
            borderRadius: 2,
            background: 'rgb(var(--juniper))',
          }}
        />
      ) : null}
      {held !== null ? (
        <div
          style={{
            position: 'absolute',
            right: wide ? 46 : 30,
            top: start + held * step - 14,
            background: 'rgb(var(--juniper))',
            color: 'rgb(var(--card))',
            borderRadius: CORNER.small,
            padding: '5px 11px',
            fontFamily: 'Figtree_700Bold',
            fontSize: TYPE.small,
            whiteSpace: 'nowrap',
            pointerEvents: 'none',
          }}
        >
          {nameOf(months[held]!.month)}
        </div>
      ) : null}
    </div>
  );
});
