import { readOffset, readStamp, shiftLocal, takenFromFileName, takenFromFolders } from './taken';

describe('stamps', () => {
  test.each([
    ['2026:05-16 14:07:09.123+02:00', '2026-05-16T14:07:09.123', 120],
    ['2026:05:16 14:07:09', '2026-05-16T14:07:09.000', null],
    ['2026-05-16T14:07Z', '2026-05-16T14:07:00.000', 0],
    ['1904:01:01 00:00:00', '1904-01-01T00:00:00.000', null],
  ])('%s', (text, local, offset) => expect(readStamp(text)).toEqual({ local, offset }));
  test('a day without a clock is a day', () =>
    expect(readStamp('2024:02:29')).toEqual({
      local: '2024-02-29T12:00:00.000',
      offset: null,
      span: { exact: 'day', from: '2024-02-29', to: '2024-02-29', about: false },
    }));
  test.each(['0000:00:00 00:00:00', '2025:02:29 10:00:00', '2026:13:01', '2026:05:16 24:61:00', 'yesterday', '', null])(
    '%s is no time',
    (text) => expect(readStamp(text)).toBeNull(),
  );
  test('offsets', () => {
    expect(['+02:00', '-0330', 'Z', '+15:00', 'x', null].map((t) => readOffset(t))).toEqual([
      120,
      -210,
      0,
      null,
      null,
      null,
    ]);
    expect(shiftLocal('2026-03-01T00:30:00.000', -3600)).toBe('2026-02-28T23:30:00.000');
  });
});

describe('names that tell a time', () => {
  test.each([
    ['photo_2026-05-16_13-02-39.jpg', '2026-05-16T13:02:39.000', 0.8],
    ['20240817_173727.heic', '2024-08-17T17:37:27.000', 0.8],
    ['2026-05-16 kite.jpg', '2026-05-16T12:00:00.000', 0.5],
    ['message-20251018-0056.jpg', '2025-10-18T12:00:00.000', 0.5],
  ])('%s', (name, local, certainty) =>
    expect(takenFromFileName(name)).toMatchObject({ local, certainty, source: 'file name' }),
  );
  test.each(['IMG_2041.jpg', 'DSC0101.jpg', '20261399_1.jpg', 'scan_0001.jpg'])('%s tells none', (name) =>
    expect(takenFromFileName(name)).toBeNull(),
  );
  test.each([
    ['Summer 1992/a.jpg', '1992-07-16', 0.2],
    ['1970 about/a.jpg', '1970-07-02', 0.1],
    ['May 1988/deep/a.jpg', '1988-05-16', 0.3],
    ['1990/2026-05-16 Kite day/a.jpg', '2026-05-16', 0.4],
  ])('%s', (path, day, certainty) => {
    const taken = takenFromFolders(path);
    expect(taken?.local.slice(0, 10)).toBe(day);
    expect(taken?.certainty).toBe(certainty);
  });
  test('a folder without a year tells none', () => expect(takenFromFolders('to print/a.jpg')).toBeNull());
});
