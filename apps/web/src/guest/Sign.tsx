/* eslint-disable lingui/no-unlocalized-strings -- Paths of drawings. */
/** The drawings of the guest's page. */
const PATHS = {
  away: 'M6 6l12 12M18 6L6 18',
  left: 'M15 5l-7 7 7 7',
  right: 'M9 5l7 7-7 7',
  download: 'M12 4v11m-5-5l5 5 5-5M5 20h14',
  play: 'M8 5l11 7-11 7z',
  pause: 'M8 5v14M16 5v14',
  heart: 'M12 20C5 15 3 11.500 3 8.500A4.500 4.500 0 0 1 12 7a4.500 4.500 0 0 1 9 1.500c0 3-2 6.500-9 11.500z',
  says: 'M4 5h16v11H10l-5 4v-4H4z',
  plus: 'M12 5v14M5 12h14',
  tick: 'M5 12.500l4.500 4.500L19 7.500',
  whole: 'M4 9V4h5M20 9V4h-5M4 15v5h5M20 15v5h-5',
} as const;
export type SignName = keyof typeof PATHS;

export function Sign({ name, filled = false, size = 20 }: { name: SignName; filled?: boolean; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill={filled || name === 'play' ? 'currentColor' : 'none'}
      stroke="currentColor"
      strokeWidth={1.9}
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden
    >
      <path d={PATHS[name]} />
    </svg>
  );
}

/** A drawing to press, with its words for screen readers. */
export function SignButton({
  name,
  label,
  pressed,
  onPress,
}: {
  name: SignName;
  label: string;
  pressed?: boolean;
  onPress: () => void;
}) {
  return (
    <button type="button" className="sign" aria-label={label} title={label} aria-pressed={pressed} onClick={onPress}>
      <Sign name={name} filled={pressed ?? false} />
    </button>
  );
}
