import { times } from '../long.testing';
import { WORDS } from '../words/all';
import fc from 'fast-check';
import { middleOf, readWhen } from '../time/when';
import {
  byteLength,
  cutBytes,
  numbered,
  safeFileName,
  safeFolderName,
  splitExtension,
  vaultFolder,
  VAULT_LAYOUTS,
  type VaultLayout,
} from './files';

describe('file names', () => {
  test.each([
    ['../../etc/passwd', 'passwd'],
    ['a\\b\\c.jpg', 'c.jpg'],
    ['..', 'picture'],
    ['.hidden', 'hidden'],
    ['', 'picture'],
    ['CON<>|.jpg', 'CON___.jpg'],
    ['evil\u202egpj.exe', 'evilgpj.exe'],
    ['name. . ', 'name'],
    ['Åsa på ön.JPG', 'Åsa på ön.JPG'],
  ])('%j becomes %j', (given, safe) => expect(safeFileName(given)).toBe(safe));

  test('whatever comes in, one plain name goes out', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (given) => {
        const name = safeFileName(given);
        expect(name).not.toMatch(/[/\\\p{Cc}<>:"|?*]/u);
        expect(['', '.', '..']).not.toContain(name);
        expect(byteLength(name)).toBeLessThanOrEqual(200 + 20);
      }),
      { numRuns: times(500, 5000) },
    );
  });
  test('cutting keeps characters whole', () => {
    expect(cutBytes('🪁🪁🪁', 9)).toBe('🪁🪁');
    expect(cutBytes('👩‍👧x', 5)).toBe('');
    expect(byteLength(safeFileName(`${'🪁'.repeat(90)}.jpg`))).toBeLessThanOrEqual(200);
    expect(splitExtension('.xmp')).toEqual(['.xmp', '']);
    expect([1, 2, 3].map((n) => numbered('a.b.jpg', n))).toEqual(['a.b.jpg', 'a.b (2).jpg', 'a.b (3).jpg']);
  });
  test('folders follow day and event', () => {
    expect(vaultFolder('2026-05-17', { title: 'Kite day', start: '2026-05-16' })).toBe('2026/2026-05-16 Kite day');
    expect(vaultFolder('2026-05-17', { title: null, start: '2026-05-16' })).toBe('2026/2026-05-17');
    expect(vaultFolder(null, null)).toBe('undated');
    const may = ['2026-05-17', { title: 'Kite day', start: '2026-05-16' }] as const;
    expect(VAULT_LAYOUTS.map((layout) => vaultFolder(...may, layout))).toEqual([
      '2026/2026-05-16 Kite day',
      '2026/2026-05/2026-05-16 Kite day',
      '2026-05-16 Kite day',
      '2026/2026-05',
    ]);
    const said = (text: string, layout: VaultLayout = 'year/event') => {
      const when = readWhen(text, 2026)!;
      return vaultFolder(middleOf(when).slice(0, 10), null, layout, when);
    };
    expect(['1974', 'summer 1988', 'July 1988', '1960s', 'winter 1999'].map((text) => said(text))).toEqual([
      '1974/1974',
      '1988/1988 summer',
      '1988/1988-07',
      '1960/1960s',
      '1999/1999 winter',
    ]);
    expect(said('about 1960', 'event')).toBe('1960');
    expect(vaultFolder('1988-07-16', null, 'event', readWhen('summer 1988', 2026), WORDS.sv)).toBe('1988 sommaren');
    expect(vaultFolder(null, null, 'event', null, WORDS.de)).toBe('ohne Datum');
    expect(['con.jpg', 'LPT1', 'console.jpg'].map((name) => safeFileName(name))).toEqual([
      '_con.jpg',
      '_LPT1',
      'console.jpg',
    ]);
    expect(safeFolderName('  Snow: day/1 ..')).toBe('Snow day 1');
  });
});
