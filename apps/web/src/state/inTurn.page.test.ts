import { useLine } from '@/device/line';
import { fetchInTurn, fetchSoon, leaveSoon, throughLine } from './inTurn';

const asked = (image: HTMLImageElement) => image.getAttribute('src');
const came = (image: HTMLImageElement) => image.dispatchEvent(new Event('load'));

/** Pictures in the window are fetched before those that are only near it. */
describe('pictures in turn', () => {
  // Each begins long after the one before, whose leaps are over by then.
  let n = 0;
  beforeEach(() => {
    jest.useFakeTimers();
    jest.advanceTimersByTime(++n * 1000);
  });
  afterEach(() => {
    jest.useRealTimers();
    useLine.setState({ away: false });
  });

  test('what is near waits until all that is in the window has come', () => {
    const [above, one, two] = [new Image(), new Image(), new Image()];
    const ends = [fetchInTurn(above, '/above', false), fetchInTurn(one, '/one', true), fetchInTurn(two, '/two', true)];
    jest.advanceTimersByTime(50);
    expect([above, one, two].map(asked)).toEqual([null, '/one?line', '/two?line']);
    came(one);
    expect(asked(above)).toBeNull();
    came(two);
    expect(asked(above)).toBe('/above?line');
    ends.forEach((end) => end());
  });

  test('but not for long, and not for what has left the page', () => {
    const [one, near, other] = [new Image(), new Image(), new Image()];
    const end = fetchInTurn(one, '/one', true);
    const ends = [fetchInTurn(near, '/near', false)];
    jest.advanceTimersByTime(1000);
    expect(asked(near)).toBe('/near?line');
    ends.push(fetchInTurn(other, '/other', false));
    end();
    jest.advanceTimersByTime(1);
    expect(asked(other)).toBe('/other?line');
    ends.forEach((done) => done());
  });

  test('what is asked for ahead is let go when somebody leaps on', () => {
    const made: HTMLImageElement[] = [];
    const make = jest.spyOn(globalThis, 'Image').mockImplementation(() => {
      const image = document.createElement('img');
      Object.defineProperty(image, 'complete', { value: false });
      made.push(image);
      return image;
    });
    fetchSoon('/soon');
    make.mockRestore();
    expect(made.map(asked)).toEqual(['/soon?line']);
    leaveSoon();
    expect(made.map(asked)).toEqual([null]);
  });

  test('what is only near gives way to a leap, and is begun again when it is still near after it', () => {
    const [near, left, there] = [new Image(), new Image(), new Image()];
    for (const image of [near, left, there]) Object.defineProperty(image, 'complete', { value: false });
    const ends = [fetchInTurn(near, '/near', false), fetchInTurn(left, '/left', false)];
    jest.advanceTimersByTime(1);
    expect([near, left].map(asked)).toEqual(['/near?line', '/left?line']);
    leaveSoon();
    expect([near, left].map(asked)).toEqual([null, null]);
    ends[1]!();
    ends.push(fetchInTurn(there, '/there', true));
    expect(asked(there)).toBe('/there?line');
    came(there);
    expect([near, left].map(asked)).toEqual([null, null]);
    jest.advanceTimersByTime(300);
    expect([near, left].map(asked)).toEqual(['/near?line', null]);
    ends.forEach((end) => end());
  });

  test('where nothing is in the window nothing waits', () => {
    const near = new Image();
    const end = fetchInTurn(near, '/near?in=cabin', false);
    jest.advanceTimersByTime(1);
    expect(asked(near)).toBe('/near?in=cabin&line');
    end();
  });

  test('a file that cannot be had from the server is asked for where the device keeps it, once', () => {
    const image = new Image();
    const end = fetchInTurn(image, '/one', true);
    image.dispatchEvent(new Event('error'));
    expect(asked(image)).toBe('/one');
    image.dispatchEvent(new Event('error'));
    expect(asked(image)).toBe('/one');
    end();
  });

  test('without a line it is asked for there at once', () => {
    useLine.setState({ away: true });
    const image = new Image();
    const end = fetchInTurn(image, '/one', true);
    expect(asked(image)).toBe('/one');
    end();
  });

  test('an address says that it goes past the worker, whatever else it says', () =>
    expect(throughLine('/a?eyes=3')).toBe('/a?eyes=3&line'));
});
