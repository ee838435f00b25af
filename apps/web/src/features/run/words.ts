import type { ShotWhy } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { sayLongDay, sayTimeOfDay } from '@/ui/say';

/** "5 shots in 14 seconds", or of one second. */
export function sayRun({ shots, from, to }: { shots: number; from: string; to: string }): string {
  const seconds = Math.round((Date.parse(`${to}Z`) - Date.parse(`${from}Z`)) / 1000);
  const many = plural(shots, { one: '# shot', other: '# shots' });
  return seconds < 1
    ? t`${many} within a second`
    : plural(seconds, { one: `${many} in # second`, other: `${many} in # seconds` });
}

/** Where and when a run was taken. */
export const sayRunWhere = ({
  event,
  place,
  from,
}: {
  event: string | null;
  place: string | null;
  from: string;
}): string => [event ?? place, `${sayLongDay(from.slice(0, 10))}, ${sayTimeOfDay(from)}`].filter(Boolean).join(', ');

type Names = Readonly<Record<string, string>>;

/** What speaks for a shot, as part of a sentence. */
export function sayFor({ why, who }: ShotWhy, names: Names): string | null {
  const name = who === undefined ? undefined : names[String(who)];
  switch (why) {
    case 'said':
      return t`you gave it the most stars`;
    case 'album':
      return t`it is in an album already`;
    case 'everybody':
      return t`everybody’s eyes are open`;
    case 'sharp':
      return t`it is sharp`;
    case 'sharper':
      return name ? t`sharper on ${name}` : t`sharper on the face in front`;
    case 'turned':
      return name ? t`${name} looks at the camera` : t`everybody looks at the camera`;
    case 'cut':
      return name ? t`${name} is in it whole` : t`nobody is cut off`;
    case 'light':
      return t`better light`;
    case 'large':
      return t`larger than the others`;
    default:
      return null;
  }
}

/** What speaks against a shot, after its number. */
export function sayAgainst({ why, who }: ShotWhy, names: Names): string | null {
  const name = who === undefined ? undefined : names[String(who)];
  switch (why) {
    case 'blurred':
      return t`blurred`;
    case 'shut':
      return name ? t`${name} blinks` : t`somebody blinks`;
    case 'sharper':
      return name ? t`${name} is blurred` : t`a face is blurred`;
    case 'away':
      return name ? t`${name} looks away` : t`somebody looks away`;
    case 'cut':
      return name ? t`${name} is cut off` : t`somebody is cut off`;
    case 'dark':
      return t`dark`;
    case 'bright':
      return t`too bright`;
    default:
      return null;
  }
}
