import { LOOK_AND_SAVE, TELLS_NOTHING, type Share, type ShareReach } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { sayDay, sayList, sayNumber } from '@/ui/say';

/** How a share is set, while it is being made or changed. */
export interface ShareSettings {
  title: string;
  until: string | null;
  visits: number | null;
  may: Share['may'];
  tells: Share['tells'];
  reach: ShareReach;
  anybody: boolean;
  /** A new word; empty for none, null to leave it as it is. */
  word: string | null;
}

/** A day `days` from today, as the calendar here has it. */
export function dayFromNow(days: number, now = new Date()): string {
  return new Date(Date.UTC(now.getFullYear(), now.getMonth(), now.getDate() + days)).toISOString().slice(0, 10);
}

/** How a share begins: to look and save, with days, for a month. */
export const beginning = (title: string): ShareSettings => ({
  title,
  until: dayFromNow(30),
  visits: null,
  may: LOOK_AND_SAVE,
  tells: { ...TELLS_NOTHING, dates: true },
  reach: 'link',
  anybody: true,
  word: '',
});

/** The settings of a share that is there. */
export const settingsOf = ({ title, until, visits, may, tells, reach, anybody }: Share): ShareSettings => ({
  title,
  until,
  visits,
  may,
  tells,
  reach,
  anybody,
  word: null,
});

const SAVE: Record<Share['may']['save'], MessageDescriptor> = {
  nothing: msg`look`,
  screen: msg`look, and save copies as large as a screen`,
  full: msg`look and save`,
};

/** What guests may do, as a list: “look and save, comment, add pictures”. */
export const sayMay = (may: Share['may']): string =>
  sayList([
    i18n._(SAVE[may.save]),
    ...(may.say ? [may.closed ? t`read what was said` : t`comment and give hearts`] : []),
    ...(may.add ? [t`add pictures`] : []),
  ]);

const TELLS: Record<keyof Share['tells'], MessageDescriptor> = {
  dates: msg`dates`,
  captions: msg`titles and captions`,
  names: msg`names`,
  places: msg`towns, except of hidden places`,
  others: msg`who else has looked`,
};
const ORDER = Object.keys(TELLS) as (keyof Share['tells'])[];

/** What guests can be told, and what it is called. */
export const TELLABLE = ORDER.map((what) => [what, TELLS[what]] as const);

/** What guests are told, as a list. */
export function sayTells(tells: Share['tells']): string {
  const told = ORDER.filter((what) => tells[what]).map((what) => i18n._(TELLS[what]));
  return told.length ? sayList(told) : t`nothing but the pictures`;
}

/** How long a share is open. */
export const sayUntil = ({ until, visits }: Pick<ShareSettings, 'until' | 'visits'>): string =>
  [
    until ? t`until ${sayDay(until)}` : t`until you close it`,
    visits === null ? '' : plural(visits, { one: 'one visit', other: `${sayNumber(visits)} visits` }),
  ]
    .filter(Boolean)
    .join(', ');
