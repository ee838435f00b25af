import { colour } from './Icon';

/** The two rings: joined for "settled, the same, open", parted for "only in one place, not the same, closed". */
export function Rings({ size = 34, joined = true, label }: { size?: number; joined?: boolean; label?: string }) {
  const [left, right] = joined ? [19, 33] : [16, 40];
  return (
    <svg
      width={size}
      height={size * 0.62}
      viewBox="0 0 56 34"
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
    >
      <circle cx={left} cy={17} r={12} fill="none" stroke={colour(joined ? 'juniper' : 'soft')} strokeWidth={4} />
      <circle cx={right} cy={17} r={12} fill="none" stroke={colour(joined ? 'glow' : 'line')} strokeWidth={4} />
      {joined ? <path d="M26.6 7.7A12 12 0 0 1 31 17" fill="none" stroke={colour('juniper')} strokeWidth={4} /> : null}
    </svg>
  );
}
