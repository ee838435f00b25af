import { smallOf } from '@/api/client';
import { nameLibrary } from '@/api/library';
import { throughLine } from '@/state/inTurn';
import { fetchFirst } from './first';

/** The addresses images have been asked for by. */
function asked(work: () => void): string[] {
  const found: string[] = [];
  const src = jest
    .spyOn(HTMLImageElement.prototype, 'src', 'set')
    .mockImplementation((at: string) => void found.push(at));
  work();
  src.mockRestore();
  return found;
}
const tiles = Array.from({ length: 300 }, (_, i) => ({ sha: String(i).padStart(64, '0') }));

describe('the first pictures', () => {
  afterEach(() => nameLibrary(null));

  test('are asked for by the very addresses the grid will ask by', () => {
    expect(asked(() => fetchFirst(tiles, ''))[3]).toBe(throughLine(smallOf(tiles[3]!.sha)));
    nameLibrary('summer house');
    const named = asked(() => fetchFirst(tiles, `in=${encodeURIComponent('summer house')}`));
    expect(named[0]).toBe(throughLine(smallOf(tiles[0]!.sha)));
  });

  test('are not asked for without a line', () => {
    const line = jest.spyOn(navigator, 'onLine', 'get').mockReturnValue(false);
    expect(asked(() => fetchFirst(tiles, ''))).toEqual([]);
    line.mockRestore();
  });

  test('are as many as the window takes, and no more than there are', () => {
    Object.assign(window, { innerWidth: 390, innerHeight: 844 });
    expect(asked(() => fetchFirst(tiles, '')).length).toBeLessThan(40);
    Object.assign(window, { innerWidth: 3840, innerHeight: 2160 });
    expect(asked(() => fetchFirst(tiles, ''))).toHaveLength(tiles.length);
  });
});
