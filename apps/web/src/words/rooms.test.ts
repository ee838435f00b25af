import type { LedgerEntry, ShotWhy } from '@gemmel/contract';
import { regionOf, type Language } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import { sayUntil } from '@/features/bin/words';
import { clearLine, gapLine, inTwoPlaces, missingLine, storedLine } from '@/features/gather/ledgerWords';
import { sayExport, sayFar, sayMoved, sayOpened, sayPeople, sayRepair, saySplit, sayTidy } from '@/features/keep/words';
import { backgrounds, KINDS, kindWords, paperWords } from '@/features/piece/words';
import { sayAgainst, sayFor, sayRun, sayRunWhere } from '@/features/run/words';
import { AUDIENCES, sayAudience, sayMeans, sayMeant, sayWhy } from '@/features/sight/audienceWords';
import { messages as de } from './de/messages.po';
import { messages as en } from './en/messages.po';
import { messages as sv } from './sv/messages.po';

const CATALOGUES: Record<Language, Messages> = { en, de, sv };
const speak = (language: Language) =>
  i18n.loadAndActivate({ locale: language, locales: [regionOf(language, [])], messages: CATALOGUES[language] });
afterAll(() => speak('en'));

const at = '2026-05-16T12:00:00.000Z';
const entry = (more: Partial<LedgerEntry>): LedgerEntry =>
  ({
    cameIn: 12,
    stored: 12,
    proven: 12,
    copied: null,
    notHere: 0,
    missingSince: null,
    gaps: [],
    clearUntil: null,
    ...more,
  }) as LedgerEntry;
const shot = (why: ShotWhy['why'], who?: number) => ({ why, ...(who === undefined ? {} : { who }) }) as ShotWhy;

/** What each room says, in English; and how it is said, so that other languages can be asked the same. */
const SAID: [string, () => string | null][] = [
  ['Waiting for its turn', () => sayFar({ state: 'ready', done: 0, of: 0, since: null } as never)],
  ['Working …', () => sayFar({ state: 'running', done: 0, of: 0, since: null } as never)],
  ['0 of 40, 0%', () => sayFar({ state: 'running', done: 0, of: 40, since: 0 } as never, false, 1000)],
  [
    '10 of 40, 25%, about a minute left',
    () => sayFar({ state: 'running', done: 10, of: 40, since: 0 } as never, false, 20_000),
  ],
  [
    '1.0\u00a0GB of 4.0\u00a0GB, 25%, about a minute left',
    () => sayFar({ state: 'running', done: 1e9, of: 4e9, since: 0 } as never, true, 20_000),
  ],
  [
    'was brought back from a second copy. 2 that nobody knew are being brought in. What was said of 1 picture is written beside it again.',
    () =>
      sayRepair({ files: 9, gone: 1, mended: 1, taken: 2, rewritten: 1, named: [], unknown: 2, at } as never).replace(
        /^.*? 1 (?=was)/,
        '',
      ),
  ],
  [
    'there was nothing to remove.',
    () => sayTidy({ derived: { bytes: 0 }, left: { bytes: 0 }, database: 0, at } as never).replace(/^.*: /, ''),
  ],
  [
    '3.1\u00a0MB freed.',
    () => sayTidy({ derived: { bytes: 3e6 }, left: { bytes: 1e5 }, database: 0, at } as never).replace(/^.*: /, ''),
  ],
  [
    '1 file, 3.1\u00a0MB.',
    () => sayExport({ files: 1, bytes: 3_100_000, damaged: 0, to: '/x', at }).replace(/^.*: /, ''),
  ],
  ['with 2 pictures.', () => sayOpened({ name: 'Club', pictures: 2, at } as never).replace(/^.*, /, '')],
  ['2 files, 3.1\u00a0MB.', () => sayMoved({ files: 2, bytes: 3_100_000, at } as never).replace(/^.*: /, '')],
  [
    'Going to “Club”: stopped. Everything is still here.',
    () => saySplit({ to: 'Club', state: 'stopped', pictures: 9, arrived: 3, leftHere: 0 } as never),
  ],
  [
    'Going to “Club”: 3 of 9 are there',
    () => saySplit({ to: 'Club', state: 'copying', pictures: 9, arrived: 3, leftHere: 0 } as never),
  ],
  [
    '8 pictures went to “Club”. 1 couldn’t, and is still here.',
    () => saySplit({ to: 'Club', state: 'done', pictures: 9, arrived: 9, leftHere: 1 } as never),
  ],
  ['Ilse and Tove', () => sayPeople({ people: [{ name: 'Ilse' }, { name: 'Tove' }] } as never)],
  [
    'Ilse, Tove, Emil and 2 more',
    () => sayPeople({ people: ['Ilse', 'Tove', 'Emil', 'Noor', 'Bo'].map((name) => ({ name })) } as never),
  ],
  ['3 shots within a second', () => sayRun({ shots: 3, from: '2026-05-16T12:00:00', to: '2026-05-16T12:00:00.3' })],
  ['5 shots in 14 seconds', () => sayRun({ shots: 5, from: '2026-05-16T12:00:00', to: '2026-05-16T12:00:14' })],
  [
    'Visby, Saturday 16 May 2026, 12:00',
    () => sayRunWhere({ event: null, place: 'Visby', from: '2026-05-16T12:00:00' }),
  ],
  ['Saturday 16 May 2026, 12:00', () => sayRunWhere({ event: null, place: null, from: '2026-05-16T12:00:00' })],
  ['sharper on Tove', () => sayFor(shot('sharper', 7), { 7: 'Tove' })],
  ['sharper on the face in front', () => sayFor(shot('sharper', 8), { 7: 'Tove' })],
  ['nobody is cut off', () => sayFor(shot('cut'), {})],
  ['Tove blinks', () => sayAgainst(shot('shut', 7), { 7: 'Tove' })],
  ['somebody blinks', () => sayAgainst(shot('shut'), {})],
  ['until the bin is emptied', () => sayUntil({ until: null } as never)],
  ['until 3 June 2027', () => sayUntil({ until: '2027-06-03T00:00:00Z' } as never)],
  ['Nothing has come in from it yet', () => storedLine(entry({ cameIn: 0 }))],
  ['12 pictures · all stored and checked', () => storedLine(entry({}))],
  ['12 pictures · 3 checked so far · none in two places yet', () => storedLine(entry({ proven: 3, copied: 0 }))],
  ['12 pictures · all stored and checked · all in two places', () => storedLine(entry({ copied: 12 }))],
  ['Safe to clear up to Saturday 16 May 2026', () => clearLine(entry({ clearUntil: '2026-05-16' })).text],
  ['Nothing to clear yet', () => clearLine(entry({ cameIn: 0 })).text],
  ['Don’t clear it yet', () => clearLine(entry({ notHere: 2 })).text],
  ['Its pictures don’t say when they were taken, so there is no safe date', () => clearLine(entry({})).text],
  [
    '1 file on it isn’t here, the first from Saturday 16 May 2026',
    () => missingLine(entry({ notHere: 1, missingSince: '2026-05-16' })),
  ],
  ['2 files on it aren’t here', () => missingLine(entry({ notHere: 2 }))],
  ['IMG_1 never arrived', () => gapLine({ from: 'IMG_1', to: 'IMG_1', missing: 1 } as never)],
  ['IMG_1 to IMG_3 never arrived', () => gapLine({ from: 'IMG_1', to: 'IMG_3', missing: 3 } as never)],
  ['The house', () => sayMeant({ meant: { me: 0, house: 4, family: 0, link: 0 } } as never)],
  [
    '1 only you see, 2 for the house and 3 for anybody with a link',
    () => sayMeant({ meant: { me: 1, house: 2, family: 0, link: 3 } } as never),
  ],
  ['Like every picture with Tove.', () => sayWhy({ of: 'person', name: 'Tove' } as never)],
  ['Like everything you haven’t set otherwise.', () => sayWhy({ of: 'library', name: null } as never)],
];

describe('what the rooms say', () => {
  test.each(SAID)('%s', (said, say) => {
    speak('en');
    expect(say()).toBe(said);
    const others = (['de', 'sv'] as const).map((language) => {
      speak(language);
      return say();
    });
    for (const other of others) expect(other).not.toMatch(/undefined|null|NaN|[{}]/);
    // Names, numbers and days of both may be alike; a sentence never is.
    if (/[a-z]{3,} [a-z]{3,}/.test(said)) expect(new Set([said, ...others]).size).toBe(3);
  });

  test('what nobody misses is not said, and nothing is in two places before it has been read back', () => {
    expect(missingLine(entry({}))).toBeNull();
    expect([sayFor(shot('blurred'), {}), sayAgainst(shot('light'), {})]).toEqual([null, null]);
    expect(
      [entry({ copied: 12 }), entry({ copied: 11 }), entry({}), entry({ stored: 0, copied: 0 })].map(inTwoPlaces),
    ).toEqual([true, false, false, false]);
    expect(clearLine(entry({ clearUntil: '2026-05-16' })).settled).toBe(true);
  });

  test('everything that can be made, every paper, every colour and every audience has words of its own in each language', () => {
    for (const language of ['en', 'de', 'sv'] as const) {
      speak(language);
      for (const all of [
        KINDS.map((kind) => kindWords(kind).name),
        KINDS.map((kind) => kindWords(kind).about),
        (['square 21', 'A4 upright', 'A4 wide', 'A5', '8x8 in'] as const).map(paperWords),
        backgrounds().map(([, said]) => said),
        AUDIENCES.map(sayAudience),
        AUDIENCES.map(sayMeans),
      ]) {
        expect(new Set(all).size).toBe(all.length);
        for (const one of all) expect(one).toMatch(/\p{L}{2}/u);
      }
    }
  });
});
