import { readStamp } from './taken';
import { believed, chooseTaken, takenFromFileTime } from './ladder';
import { instantFromFileName, takenFromFileName, takenFromFolders, type Taken } from './taken';
import { localAt, offsetAt, offsetFromGps, offsetOfLocal } from './zone';

const clue = (local: string, source: Taken['source'], certainty: number, offset: number | null = null): Taken => ({
  local,
  offset,
  source,
  certainty,
});

describe('dates in names', () => {
  test.each([
    ['IMG_20240817_173727.jpg', '2024-08-17T17:37:27.000', 0.8],
    ['20240817_173727.heic', '2024-08-17T17:37:27.000', 0.8],
    ['PIC_20240817_173727123.jpg', '2024-08-17T17:37:27.123', 0.8],
    ['VID_20240817_173727.mp4', '2024-08-17T17:37:27.000', 0.8],
    ['photo_2026-05-16_13-02-39.jpg', '2026-05-16T13:02:39.000', 0.8],
    ['2024-08-17 17.37.27.jpg', '2024-08-17T17:37:27.000', 0.8],
    ['2024-08-17 at 17.37.27.jpeg', '2024-08-17T17:37:27.000', 0.8],
    ['Screen 2024-08-17 17:37:27.png', '2024-08-17T17:37:27.000', 0.8],
    ['2024_08_17-17h37m27.jpg', '2024-08-17T17:37:27.000', 0.8],
    ['2024-08-17T17:37.jpg', '2024-08-17T17:37:00.000', 0.8],
    ['message-20240817-0004.jpg', '2024-08-17T12:00:00.000', 0.5],
    ['2026-05-16 kite.jpg', '2026-05-16T12:00:00.000', 0.5],
    ['kite 16.05.2026.jpg', '2026-05-16T12:00:00.000', 0.5],
    ['16.05.2026 14.07.09.jpg', '2026-05-16T14:07:09.000', 0.8],
    ['scan 1974-07-02.tif', '1974-07-02T12:00:00.000', 0.5],
    ['2024-02-29 leap.jpg', '2024-02-29T12:00:00.000', 0.5],
    ['2023-02-29 no leap.jpg', null, 0],
    ['20241301_100000.jpg', null, 0],
    ['IMG_2041.jpg', null, 0],
    ['1234567890123456.jpg', null, 0],
    ['2024.jpg', null, 0],
    ['20240817_256199.jpg', '2024-08-17T12:00:00.000', 0.5],
  ])('%s', (name, local, certainty) => {
    const read = takenFromFileName(name);
    expect(read?.local ?? null).toBe(local);
    if (read) expect([read.certainty, read.offset, read.source]).toEqual([certainty, null, 'file name']);
  });
  test.each([
    ['1723916247123.jpg', 1723916247123],
    ['received_1723916247123.jpeg', 1723916247123],
    ['123456789012.jpg', null],
    ['9999999999999.jpg', null],
    ['20240817173727123.jpg', null],
  ])('the instant in %s', (name, at) => expect(instantFromFileName(name)).toBe(at));
  test.each([
    ['2026-05-16 Kite day/a.jpg', '2026-05-16T12:00:00.000', 0.4],
    ['2024/Summer 1992/a.jpg', '1992-07-16T12:00:00.000', 0.2],
    ['May 1988/a.jpg', '1988-05-16T12:00:00.000', 0.3],
    ['1970 about/box/a.jpg', '1970-07-02T12:00:00.000', 0.1],
    ['to print/a.jpg', null, 0],
    ['a.jpg', null, 0],
  ])('the folders of %s', (path, local, certainty) => {
    const read = takenFromFolders(path);
    expect([read?.local ?? null, read?.certainty ?? 0]).toEqual([local, certainty]);
  });
});

describe('zones', () => {
  test.each([
    ['Europe/Stockholm', '2026-01-15T12:00:00Z', 60],
    ['Europe/Stockholm', '2026-07-15T12:00:00Z', 120],
    ['Atlantic/Azores', '2025-07-06T11:00:00Z', 0],
    ['Atlantic/Azores', '2025-01-06T11:00:00Z', -60],
    ['Asia/Kolkata', '2026-01-15T12:00:00Z', 330],
    ['Asia/Kathmandu', '2026-01-15T12:00:00Z', 345],
    ['America/St_Johns', '2026-01-15T12:00:00Z', -210],
    ['Pacific/Kiritimati', '2026-01-15T12:00:00Z', 840],
    ['Europe/Stockholm', '1975-07-15T12:00:00Z', 60],
    ['Nowhere/At_All', '2026-01-15T12:00:00Z', null],
  ])('%s at %s', (zone, at, offset) => expect(offsetAt(zone, Date.parse(at))).toBe(offset));
  test.each([
    ['2026-03-29T01:59:59.000', 60],
    // The hour that never was, read as if the clock had not been moved yet.
    ['2026-03-29T02:30:00.000', 60],
    ['2026-03-29T03:00:00.000', 120],
    // The hour that came twice: the first of the two.
    ['2026-10-25T02:30:00.000', 120],
    ['2026-10-25T03:00:00.000', 60],
  ])('Stockholm’s clocks showing %s', (local, offset) => expect(offsetOfLocal('Europe/Stockholm', local)).toBe(offset));
  test('an instant on the wall', () =>
    expect(localAt(Date.parse('2026-05-16T12:07:09.5Z'), 120)).toBe('2026-05-16T14:07:09.500'));
  test.each([
    ['2026-05-16T14:07:09.000', '2026-05-16T12:07:01Z', 120],
    ['2026-05-16T14:09:30.000', '2026-05-16T12:07:01Z', 120],
    ['2026-05-16T13:05:09.000', '2026-05-16T12:07:01Z', 60],
    // An hour and two minutes off is no zone but a wrong clock … within three minutes of a quarter it may be one.
    ['2026-05-16T14:14:09.000', '2026-05-16T12:07:01Z', null],
    ['2027-05-16T14:07:09.000', '2026-05-16T12:07:01Z', null],
    ['2026-05-16T17:37:01.000', '2026-05-16T12:07:01Z', 330],
  ])('a camera at %s, the satellites at %s', (local, gps, offset) =>
    expect(offsetFromGps(local, Date.parse(gps))).toBe(offset),
  );
});

describe('the ladder', () => {
  const arrived = '2026-11-25';
  test.each([
    [
      'a camera’s clock before a name',
      [clue('2026-05-16T14:07:09', 'camera', 0.9), clue('2026-05-17T12:00:00', 'file name', 0.5)],
      'camera',
    ],
    [
      'what was written by hand before the camera',
      [clue('1988-07-02T15:30:00', 'written', 0.95), clue('2026-05-16T14:07:09', 'camera', 0.9)],
      'written',
    ],
    [
      'a name before a clock that was never set (1980)',
      [clue('1980-01-01T00:00:12', 'camera', 0.9), clue('2019-07-04T12:00:00', 'file name', 0.5)],
      'file name',
    ],
    [
      'a name before a clock that was never set (2000)',
      [clue('2000-01-01T00:03:00', 'camera', 0.9), clue('2019-07-04T12:00:00', 'file name', 0.5)],
      'file name',
    ],
    [
      'a folder before an epoch (1970)',
      [clue('1970-01-01T00:00:00', 'camera', 0.9), clue('1992-07-15T12:00:00', 'folder name', 0.2)],
      'folder name',
    ],
    [
      'a folder before an epoch (1904)',
      [clue('1904-01-01T00:00:00', 'camera', 0.9), clue('1992-07-15T12:00:00', 'folder name', 0.2)],
      'folder name',
    ],
    [
      'a name before the future',
      [clue('2031-05-16T14:07:09', 'camera', 0.9), clue('2026-05-16T12:00:00', 'file name', 0.5)],
      'file name',
    ],
    [
      'a real noon on new year’s day',
      [clue('2000-01-01T12:30:00', 'camera', 0.9), clue('1999-12-31T12:00:00', 'file name', 0.5)],
      'camera',
    ],
    ['a scan’s day long before cameras wrote any', [clue('1974-07-02T12:00:00', 'written', 0.6)], 'written'],
    ['a doubted clock rather than nothing', [clue('1980-01-01T00:00:12', 'camera', 0.9)], 'camera'],
  ] as const)('%s', (_, clues, source) => expect(chooseTaken([null, ...clues], arrived)?.source).toBe(source));
  test('who knows the hour of the same day is believed before who only knows the day', () => {
    const day = readStamp('2026:05:16')!;
    const sure = { ...day, source: 'written' as const, certainty: 0.95 };
    const camera = (local: string) => ({ local, offset: 60, source: 'camera' as const, certainty: 0.9 });
    expect(chooseTaken([sure, camera('2026-05-16T14:07:09.000')], arrived)).toMatchObject({ source: 'camera' });
    expect(chooseTaken([sure, camera('2026-05-17T14:07:09.000')], arrived)).toMatchObject({ span: { exact: 'day' } });
    const about = { ...sure, span: { ...day.span!, about: true } };
    expect(chooseTaken([about, camera('2026-05-16T14:07:09.000')], arrived)).toMatchObject({ span: { about: true } });
  });
  test('nothing says nothing', () => expect(chooseTaken([null, undefined], arrived)).toBeNull());
  test('what people set is never doubted', () =>
    expect(believed(clue('1904-01-01T00:00:00', 'hand', 1), arrived)).toBe(1));
  test('the doubted carry how little they are believed', () =>
    expect(chooseTaken([clue('2031-05-16T14:07:09', 'camera', 0.9)], arrived)!.certainty).toBeLessThan(0.2));

  const at = Date.parse('2020-05-16T12:00:00Z');
  const now = Date.parse('2026-11-25T10:00:00Z');
  test('a file’s own time is the last resort, on the wall at home', () =>
    expect(takenFromFileTime(at, now, [at, at + 9e6, at + 9e7], 120)).toEqual({
      local: '2020-05-16T14:00:00.000',
      offset: 120,
      source: 'file',
      certainty: 0.12,
    }));
  test('not when it was just copied, or copied with all the others', () => {
    expect(takenFromFileTime(now - 3600_000, now, [], 0)).toBeNull();
    expect(takenFromFileTime(at, now, [at, at + 1000, at + 2000, at + 9e8], 0)).toBeNull();
    expect(takenFromFileTime(null, now, [], 0)).toBeNull();
  });
});
