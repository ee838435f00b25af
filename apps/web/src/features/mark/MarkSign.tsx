import type { Mark, MarkShape } from '@gemmel/contract';
import { colour } from '@/ui/Icon';

/** The outlines of the shapes, in a box of 24. */
const PATHS: Partial<Record<MarkShape, string>> = {
  bars: 'M4 7h16v4H4z M4 14h16v4H4z',
  kite: 'M12 3 19 10 12 21 5 10Z',
  wave: 'M3 10c3-5 6-5 9 0s6 5 9 0v5c-3 5-6 5-9 0s-6-5-9 0Z',
  sprig: 'M12 22V12C6 12 4 8 4 3c6 0 8 3 8 7 0-4 2-7 8-7 0 5-2 9-8 9',
  tent: 'M12 4 21 20H3Z M12 11 15.5 20H8.5Z',
};

/** A mark as it is drawn: its shape in its colour, so that neither alone tells it. It says its meaning to screen readers. */
export function MarkSign({
  mark,
  size = 18,
  label,
}: {
  mark: Pick<Mark, 'colour' | 'shape'>;
  size?: number;
  label?: string;
}) {
  const ink = colour(mark.colour);
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
    >
      {mark.shape === 'ring' ? <circle cx={12} cy={12} r={8} fill="none" stroke={ink} strokeWidth={4} /> : null}
      {mark.shape === 'oval' ? <ellipse cx={12} cy={12} rx={7} ry={10} fill={ink} /> : null}
      {mark.shape === 'knot' ? (
        <>
          <circle cx={8.5} cy={12} r={5.5} fill="none" stroke={ink} strokeWidth={3} />
          <circle cx={15.5} cy={12} r={5.5} fill="none" stroke={ink} strokeWidth={3} />
        </>
      ) : null}
      {PATHS[mark.shape] ? <path d={PATHS[mark.shape]!} fill={ink} fillRule="evenodd" /> : null}
    </svg>
  );
}
