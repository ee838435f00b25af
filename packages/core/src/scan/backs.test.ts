import { dateWritten, pairsIn, printOf } from './backs';

describe('printOf', () => {
  it.each([
    ['Scan 12 back.jpg', 'scan 12', 'back'],
    ['Scan_12_Rückseite.TIF', 'scan_12', 'back'],
    ['bild 4 (baksida).png', 'bild 4', 'back'],
    ['0034b.tif', '0034', 'back'],
    ['0034a.tif', '0034', 'front'],
    ['0034-verso.tif', '0034', 'back'],
    ['Album 3 - front.jpg', 'album 3', 'front'],
  ])('%s', (name, print, side) => expect(printOf(name)).toEqual({ print, side }));

  it.each(['Ella b-day.jpg', 'back.jpg', 'Playback.mp4', 'Mamma och pappa.jpg', 'Rhubarb.jpg'])(
    'nothing is said of a side in %s',
    (name) => expect(printOf(name).side).toBeNull(),
  );
});

describe('pairsIn', () => {
  it('each back has its front; where two could be it, none is', () => {
    const names = ['1.jpg', '1 back.jpg', '2a.jpg', '2b.jpg', '2.jpg', '3.jpg', '3.png', '3 back.jpg', '4 back.jpg'];
    const pairs = pairsIn(names.map((name) => ({ name })));
    expect(pairs.map(({ front, back }) => [front.name, back.name])).toEqual([
      ['1.jpg', '1 back.jpg'],
      ['2a.jpg', '2b.jpg'],
    ]);
  });
});

describe('dateWritten', () => {
  it.each([
    ['Skagen, Juli 1962', '1962-07-01', 'month'],
    ['Oma und Opa\nam 3.5.1948 in Lund', '1948-05-03', 'day'],
    ['Karin 4 år, sommaren 1971', '1971-06-01', 'season'],
    ['Christmas 1958 at home', '1958-01-01', 'year'],
    ['KODAK PAPER\n(1934)', '1934-01-01', 'year'],
  ])('%s', (text, from, exact) => {
    const when = dateWritten(text, 2026);
    expect(when).toMatchObject({ exact });
    if (exact !== 'year') expect(when!.from).toBe(from);
    else expect(when!.from.slice(0, 4)).toBe(from.slice(0, 4));
  });

  it.each(['Nr. 17 A', 'Room 1204 b', 'Ella and Tom', '', '2099'])('none in “%s”', (text) =>
    expect(dateWritten(text, 2026)).toBeNull(),
  );
});
