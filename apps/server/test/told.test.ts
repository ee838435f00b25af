import type { Tile } from '@gemmel/contract';
import type { Db } from '../src/db/open';
import { Told } from '../src/http/told';

const as = (sight: string) => ({ client: { sight } }) as unknown as Db;
const tile = (sha: string, touched: boolean) => ({ sha, touched }) as Tile;

describe('files that were told', () => {
  test('are known to whoever was told, in that library, and to nobody else', () => {
    const told = new Told();
    told.addTiles(as('all'), 1, [tile('a', false)]);
    expect(told.has(as('all'), 1, 'a')).toBe(true);
    expect(told.has(as('less'), 1, 'a')).toBe(false);
    expect(told.has(as('all'), 2, 'a')).toBe(false);
  });

  test('are looked up all the same where they may have to be made, and once who may what has changed', () => {
    const told = new Told();
    told.addTiles(as('all'), 1, [tile('a', false), tile('view', true)]);
    expect(told.has(as('all'), 1, 'view')).toBe(false);
    told.forget();
    expect(told.has(as('all'), 1, 'a')).toBe(false);
  });
});
