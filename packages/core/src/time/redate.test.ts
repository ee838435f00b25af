import { readDate, redate, type Datable, type Redating } from './redate';

const picture = (more: Partial<Datable> = {}): Datable => ({
  local: '2026-05-16T14:07:00.000',
  offset: 120,
  span: null,
  source: 'camera',
  certainty: 0.9,
  name: 'IMG_2041.jpg',
  path: 'Summer 1988/IMG_2041.jpg',
  modified: Date.parse('2001-02-03T10:00:00Z'),
  ...more,
});
const mend = (how: Redating, ...pictures: Datable[]) =>
  redate(pictures.length ? pictures : [picture()], how, 2026, () => 60);

describe('dates as people write them', () => {
  test.each([
    ['16 May 2026 14:07', '2026-05-16T14:07:00.000', null],
    ['16 May 2026, 9.30', '2026-05-16T09:30:00.000', null],
    ['2026-05-16T14:07:09', '2026-05-16T14:07:09.000', null],
    ['16.5.2026', '2026-05-16T12:00:00.000', 'day'],
    ['1974', '1974-07-02T12:00:00.000', 'year'],
    ['summer 1988', '1988-07-16T12:00:00.000', 'season'],
    ['about 1960', '1960-07-01T12:00:00.000', 'year'],
    ['about 16 May 2026', '2026-05-16T12:00:00.000', 'day'],
    ['1960s', '1964-12-31T12:00:00.000', 'decade'],
  ])('%s', (text, local, exact) => {
    const read = readDate(text, 2026);
    expect(read?.local).toBe(local);
    expect(read?.span?.exact ?? null).toBe(exact);
  });
  test.each(['', 'kite day', '31 February 2026', 'summer 1988 14:07', 'about 16 May 2026 10:00', '16 May 2026 25:00'])(
    '“%s” is none',
    (text) => expect(readDate(text, 2026)).toBeNull(),
  );
});

describe('mending dates', () => {
  it('sets a moment and keeps the zone, or sets some days', () => {
    expect(mend({ set: '17 May 2026 10:00' })[0]).toMatchObject({
      local: '2026-05-17T10:00:00.000',
      offset: 120,
      span: null,
    });
    expect(mend({ set: 'about 1960' })[0]).toMatchObject({
      offset: null,
      span: { exact: 'year', about: true },
      source: 'hand',
    });
  });
  it('shifts what has a time, over midnight and leap days, and leaves what only knows its year', () => {
    expect(mend({ shift: 36_000 }, picture({ local: '2024-02-28T20:00:00.000' }))[0]?.local).toBe(
      '2024-02-29T06:00:00.000',
    );
    const span = { from: '1974-01-01', to: '1974-12-31', exact: 'year', about: false } as const;
    expect(mend({ shift: 3600 }, picture({ span }), picture({ local: null }))).toEqual([null, null]);
  });
  it('sets a zone, keeping the clock on the wall or the instant', () => {
    expect(mend({ zone: 60, keep: 'clock' })[0]).toMatchObject({ local: '2026-05-16T14:07:00.000', offset: 60 });
    expect(mend({ zone: -210, keep: 'instant' })[0]).toMatchObject({ local: '2026-05-16T08:37:00.000', offset: -210 });
    expect(mend({ zone: 60, keep: 'instant' }, picture({ offset: null }))[0]?.local).toBe('2026-05-16T14:07:00.000');
  });
  it('keeps an order with a step', () => {
    const times = mend(
      { order: { from: '1 July 1974 12:00', step: 60 } },
      picture(),
      picture({ local: null }),
      picture(),
    );
    expect(times.map((t) => t?.local?.slice(11, 16))).toEqual(['12:00', '12:01', '12:02']);
  });
  it('reads the file’s name, its folders and its own time, and leaves the rest', () => {
    expect(mend({ from: 'file name' }, picture({ name: '20240817_173727.jpg' }))[0]).toMatchObject({
      local: '2024-08-17T17:37:27.000',
      source: 'file name',
    });
    expect(mend({ from: 'file name' })[0]).toBeNull();
    expect(mend({ from: 'folder name' })[0]).toMatchObject({ span: { exact: 'season' }, source: 'folder name' });
    expect(mend({ from: 'file' })[0]).toMatchObject({ local: '2001-02-03T11:00:00.000', offset: 60 });
    expect(mend({ from: 'file' }, picture({ modified: null }))[0]).toBeNull();
  });
  it('takes a date away', () => expect(mend({ none: true })[0]).toMatchObject({ local: null, source: null }));
});
