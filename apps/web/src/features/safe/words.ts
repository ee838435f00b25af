import type { Safekeeping, SafePlace, SafeRun } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { sayLeft, sayNumber, sayShare, sayWhen } from '@/ui/say';
import { sayProblem } from '@/words/problems';

type Now = NonNullable<SafePlace['now']>;

/** What is being done, step by step. */
const STEPS: Record<NonNullable<Now['step']>, MessageDescriptor> = {
  still: msg`Noting how everything stands`,
  copying: msg`Copying`,
  proving: msg`Reading the copies back`,
  thinning: msg`Letting old states go`,
  words: msg`Starting a database on the copy`,
  originals: msg`Reading every file of the copy`,
};
const KINDS: Record<Now['kind'], MessageDescriptor> = {
  backup: msg`Bringing it up to date`,
  rehearse: msg`Restoring on trial`,
  safePart: msg`Reading what is there`,
  readBack: msg`Reading originals back`,
};

/** How far work is: what it does, n of m, per cent, time left. */
export function sayNow({ kind, step, begun, done, of, since, from }: Now, now = Date.now()): string {
  const what = i18n._(step ? STEPS[step] : KINDS[kind]);
  if (!begun) return t`Waiting for its turn`;
  if (!of) return `${what} …`;
  const pace = since !== null && done > from ? (now - since) / (done - from) : null;
  return [
    t`${what}: ${sayNumber(done)} of ${sayNumber(of)}, ${sayShare(done / of)}`,
    pace === null ? '' : t`${sayLeft(((of - done) * pace) / 1000)} left`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** Places that would outlast the house. */
const isAway = (place: SafePlace): boolean => place.kind !== 'folder';

/** How many pictures would be lost with the house; with the disk alone while no place is elsewhere. */
export function lost({ pictures, two, places, house }: Safekeeping): { n: number; burned: boolean } {
  const away = places.filter(isAway);
  if (house !== null || away.length === 0) return { n: pictures - two, burned: false };
  return { n: pictures - Math.max(...away.map((place) => place.pictures)), burned: true };
}

/** What would be lost now, in one sentence. */
export function sayLost(state: Safekeeping): string {
  const { n, burned } = lost(state);
  const { words, pictures } = state;
  const since = words.since ? sayWhen(words.since) : '';
  const what =
    n === 0
      ? ''
      : n === pictures && !words.since
        ? plural(n, { one: 'your only picture', other: `all ${sayNumber(n)} pictures` })
        : plural(n, { one: '# picture', other: '# pictures' });
  const said = words.n && since ? t`what was said and done since ${since}` : '';
  const all = what && said ? t`${what} and ${said}` : what || said;
  if (!all)
    return burned ? t`If this house burned now, you’d lose nothing.` : t`If this disk failed now, you’d lose nothing.`;
  return burned ? t`If this house burned now, you’d lose ${all}.` : t`If this disk failed now, you’d lose ${all}.`;
}

/** How a rehearsal came out. */
export const sayTrial = (run: SafeRun): string =>
  run.wrong === 0
    ? t`Restored on trial on ${sayWhen(run.ended!)}: ${sayNumber(run.proven)} of ${sayNumber(run.files)}, in ${sayTook(run)}`
    : t`Restored on trial on ${sayWhen(run.ended!)}: ${sayNumber(run.wrong)} of ${sayNumber(run.files)} weren’t right`;

/** How long a run took. */
const sayTook = ({ began, ended }: SafeRun): string => sayLeft((Date.parse(ended!) - Date.parse(began)) / 1000);

/** Why something did not work out, in words. */
export const sayWhy = (run: SafeRun): string =>
  (run.why && sayProblem(run.why)) ?? t`It didn’t finish. Gemmel will try again.`;

export const OFTEN: Record<SafePlace['often'], MessageDescriptor> = {
  daily: msg`Every day`,
  weekly: msg`Every week`,
  shows: msg`Whenever the disk shows up`,
  hand: msg`Only when I say so`,
};

const RUN_KINDS: Record<SafeRun['kind'], MessageDescriptor> = {
  backup: msg`Brought up to date`,
  part: msg`Read through`,
  rehearsal: msg`Restored on trial`,
};
const ENDS: Record<SafeRun['state'], MessageDescriptor> = {
  running: msg`in progress`,
  done: msg`done`,
  stopped: msg`stopped`,
  failed: msg`didn’t work`,
};

/** A run in one line. */
export function sayRun(run: SafeRun): string {
  const many = run.kind === 'part' ? 0 : run.kind === 'backup' ? run.files : run.proven;
  return [
    i18n._(RUN_KINDS[run.kind]),
    run.state === 'done' ? (many ? plural(many, { one: '# file', other: '# files' }) : '') : i18n._(ENDS[run.state]),
    run.wrong ? plural(run.wrong, { one: '# was damaged', other: '# were damaged' }) : '',
  ]
    .filter(Boolean)
    .join(' · ');
}
