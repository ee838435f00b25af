import type { CardFile, LedgerEntry } from '@gemmel/contract';
import { cardLine } from './CardOffers';
import { clearLine, gapLine, inTwoPlaces, missingLine, storedLine } from './ledgerWords';
import { codeOf } from './PhoneSheet';
import { allNew, daysOf, range, standOf, tick } from './ticks';

jest.mock('expo-router', () => ({ useRouter: () => null, Link: () => null }));

const file = (id: number, day: string | null, state: CardFile['state'] = 'new'): CardFile => ({
  id,
  path: `DCIM/${id}.jpg`,
  bytes: 10,
  taken: day && `${day}T10:00:00`,
  kind: 'photo',
  state,
  beside: [],
});
const FILES = [
  file(1, '2026-05-16'),
  file(2, '2026-05-16', 'here'),
  file(3, '2026-05-17'),
  file(4, '2026-05-17', 'coming'),
  file(5, null),
];

describe('ticking on a card', () => {
  test('days in order, those without a time last', () =>
    expect(daysOf(FILES).map((d) => [d.day, d.files.length])).toEqual([
      ['2026-05-16', 2],
      ['2026-05-17', 2],
      [null, 1],
    ]));
  test('what is here or on its way cannot be ticked', () => {
    expect([...allNew(FILES)]).toEqual([1, 3, 5]);
    expect([...tick(new Set(), FILES, true)]).toEqual([1, 3, 5]);
    expect([...tick(new Set([1, 3]), [FILES[0]!], false)]).toEqual([3]);
  });
  test('a range goes both ways; a group stands as its new ones do', () => {
    expect(range(FILES, 3, 1).map((f) => f.id)).toEqual([1, 2, 3]);
    expect(range(FILES, 1, 99)).toEqual([]);
    expect([standOf(new Set([1, 3, 5]), FILES), standOf(new Set([3]), FILES), standOf(new Set(), FILES)]).toEqual([
      'all',
      'some',
      'none',
    ]);
  });
});

const entry = (more: Partial<LedgerEntry> = {}): LedgerEntry => ({
  device: 1,
  name: 'Ilse’s phone',
  sources: [],
  lastSeen: null,
  cameIn: 134,
  stored: 134,
  proven: 134,
  bytes: 1,
  lookedAt: null,
  notHere: 0,
  copied: null,
  clearUntil: '2026-11-21',
  missingSince: null,
  gaps: [],
  ...more,
});

describe('the ledger in words', () => {
  test('what is stored, and how much of it is proven', () => {
    expect(storedLine(entry())).toBe('134 pictures · all stored and checked');
    expect(storedLine(entry({ proven: 12 }))).toBe('134 pictures · 12 checked so far');
    expect(storedLine(entry({ cameIn: 0 }))).toBe('Nothing has come in from it yet');
  });
  test('how much of it is in two places, once there is a second one', () => {
    expect(storedLine(entry({ copied: 134 }))).toBe('134 pictures · all stored and checked · all in two places');
    expect(storedLine(entry({ copied: 0 }))).toMatch(/· none in two places yet$/);
    expect([entry(), entry({ copied: 133 }), entry({ copied: 134 })].map(inTwoPlaces)).toEqual([false, false, true]);
  });
  test('up to which day it may be cleared, or why not', () => {
    expect(clearLine(entry())).toEqual({ text: 'Safe to clear up to Saturday 21 November 2026', settled: true });
    expect(clearLine(entry({ clearUntil: null, notHere: 3 })).text).toBe('Don’t clear it yet');
    expect(clearLine(entry({ clearUntil: null })).text).toMatch(/no safe date/);
    expect(clearLine(entry({ clearUntil: null, cameIn: 0 })).text).toBe('Nothing to clear yet');
  });
  test('what is missing, by name', () => {
    expect(missingLine(entry())).toBeNull();
    expect(missingLine(entry({ notHere: 1, missingSince: '2026-11-21' }))).toBe(
      '1 file on it isn’t here, the first from Saturday 21 November 2026',
    );
    const gap = { from: 'IMG_2041', to: 'IMG_2043', missing: 3, day: '2026-05-16' };
    expect(gapLine(gap)).toBe('IMG_2041 to IMG_2043 never arrived');
    expect(gapLine({ ...gap, to: 'IMG_2041', missing: 1 })).toBe('IMG_2041 never arrived');
  });
  test('what a card offers', () => {
    const card = { id: 1, name: 'c', device: null, files: 24, fresh: 21, putOff: false, listing: null };
    expect(cardLine(card)).toBe('21 new pictures, 3 already here');
    expect(cardLine({ ...card, fresh: 0 })).toBe('24 pictures, all of them already here');
    expect(cardLine({ ...card, listing: { done: 5, total: 24 } })).toBe('Looking: 5 of 24');
  });
  test('a phone’s code holds address, name and password', () =>
    expect(codeOf({ slug: 'noors-phone', password: 'abcde-fghjk' })).toBe(
      `${window.location.origin.replace('//', '//noors-phone:abcde-fghjk@')}/dav/noors-phone/`,
    ));
});
