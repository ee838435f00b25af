import { keyOfNumber, LONGEST_KEY, shelved } from '@gemmel/core';
import { counted } from '../src/album/facts';
import * as migration from '../src/db/migrations/0023_albums';
import { openHouse, type House } from './house';
import { pictureRow } from './pictures';

/** Albums filled by hand and by questions, in order, on shelves. */
describe('albums', () => {
  let house: House;
  let ids: number[];

  beforeAll(async () => {
    house = await openHouse();
    ids = [];
    for (let n = 0; n < 12; n++)
      ids.push(
        await pictureRow(house.app, n, {
          day: `2026-05-${String(10 + n)}`,
          taken_local: `2026-05-${String(10 + n)} 12:00:00`,
          name: `${'lkjihgfedcba'[n]}.jpg`,
          rating: n % 6,
          bytes: 100 - n,
        }),
      );
  });
  afterAll(() => house?.stop());

  const { stringify } = JSON;
  const make = async (name: string, some: number[] = [], shelf: number | null = null) =>
    (await house.call('makeAlbum', { body: { name, ids: some, shelf } })).id;
  const page = (id: number) => house.call('album', { params: { id } });
  const order = async (id: number) => (await page(id)).ids;
  const keys = async (id: number) =>
    new Map(
      (await house.app.db('album_pictures').where('album_id', id).select('picture_id', 'position')).map((row) => [
        row.picture_id,
        row.position,
      ]),
    );
  const shelf = async (name: string, on: number | null = null) =>
    (await house.call('makeShelf', { body: { name, on } })).id;
  const tree = async () => {
    const { albums, shelves, sorted } = await house.call('albums', {});
    const say = (part: ReturnType<typeof shelved<(typeof albums)[number], (typeof shelves)[number]>>): unknown[] =>
      part.on.map((one) => ('album' in one ? one.album.name : [one.shelf!.name, ...say(one)]));
    return say(shelved(albums, shelves, sorted));
  };
  const clear = async () => {
    const { albums, shelves } = await house.call('albums', {});
    for (const { id } of albums) await house.call('removeAlbum', { params: { id } });
    for (const { id } of shelves) await house.app.db('shelves').where('id', id).delete();
  };
  afterEach(clear);

  describe('in order', () => {
    test('moving writes the rows that move and no others; undone, they stand where they stood', async () => {
      const id = await make('Lake', ids.slice(0, 6));
      const before = await keys(id);
      const [a, b, c, d, e, f] = ids as [number, number, number, number, number, number];
      const moved = await house.call('moveInAlbum', { params: { id }, body: { ids: [f, b], before: { picture: a } } });
      expect(await order(id)).toEqual([f, b, a, c, d, e]);
      const after = await keys(id);
      expect(
        [...after]
          .filter(([picture, key]) => before.get(picture) !== key)
          .map(([picture]) => picture)
          .sort(),
      ).toEqual([b, f].sort());
      await house.call('moveInAlbum', { params: { id }, body: { ids: [e], before: { picture: d } } });
      // Before itself is where it stands.
      await house.call('moveInAlbum', { params: { id }, body: { ids: [c], before: { picture: c } } });
      expect(await order(id)).toEqual([f, b, a, c, e, d]);
      await house.undo(moved);
      expect(await order(id)).toEqual([a, b, c, e, d, f]);
    });

    test('keys that are the same or have grown long are spaced anew, and nothing changes its place', async () => {
      const id = await make('Lake', ids.slice(0, 5));
      const [a, b, c, d, e] = ids as [number, number, number, number, number];
      const set = (picture: number, position: string) =>
        house.app.db('album_pictures').where({ album_id: id, picture_id: picture }).update({ position });
      await set(b, keyOfNumber(4));
      await set(c, keyOfNumber(4));
      await set(d, `${keyOfNumber(5)}${'V'.repeat(LONGEST_KEY)}`);
      await set(e, `${keyOfNumber(5)}${'V'.repeat(LONGEST_KEY)}V`);
      await house.call('moveInAlbum', { params: { id }, body: { ids: [a], before: { picture: c } } });
      expect(await order(id)).toEqual([b, a, c, d, e]);
      await house.call('moveInAlbum', { params: { id }, body: { ids: [a], before: { picture: e } } });
      expect(await order(id)).toEqual([b, c, d, a, e]);
      for (const key of (await keys(id)).values()) expect(key.length).toBeLessThan(LONGEST_KEY);
    });

    test('another order is shown, the one by hand is kept', async () => {
      const id = await make('Lake', [ids[3]!, ids[5]!, ids[1]!]);
      const by = async (change: object) => {
        await house.call('changeAlbum', { params: { id }, body: change });
        return order(id);
      };
      const [b, d, f] = [ids[1]!, ids[3]!, ids[5]!];
      expect(await by({ sorted: 'date' })).toEqual([b, d, f]);
      expect(await by({ backwards: true })).toEqual([f, d, b]);
      expect(await by({ sorted: 'name', backwards: false })).toEqual([f, d, b]);
      expect(await by({ sorted: 'stars' })).toEqual([f, d, b]);
      expect(await by({ sorted: 'size' })).toEqual([b, d, f]);
      expect(await by({ sorted: 'hand' })).toEqual([d, f, b]);
      expect(await by({ backwards: true })).toEqual([b, f, d]);
    });

    test('chapters stand among the pictures, move with them in the order, and are told by how many stand before', async () => {
      const id = await make('Lake', ids.slice(0, 4));
      const chapter = (before: object | null, heading: string | null, note: string | null = null) =>
        house.call('makeChapter', { params: { id }, body: { heading, note, before } as never });
      const first = await chapter({ picture: ids[0]! }, 'Arriving');
      const second = await chapter({ picture: ids[2]! }, 'The second day', 'It rained.');
      await chapter(null, null, 'And home.');
      const at = async () => (await page(id)).chapters.map((one) => [one.at, one.heading ?? one.note]);
      expect(await at()).toEqual([
        [0, 'Arriving'],
        [2, 'The second day'],
        [4, 'And home.'],
      ]);
      await house.call('moveInAlbum', { params: { id }, body: { ids: [ids[3]!], before: { chapter: second.id } } });
      expect(await order(id)).toEqual([ids[0], ids[1], ids[3], ids[2]]);
      expect(await at()).toEqual([
        [0, 'Arriving'],
        [3, 'The second day'],
        [4, 'And home.'],
      ]);
      await house.call('moveInAlbum', { params: { id }, body: { chapter: first.id, before: { picture: ids[1]! } } });
      const changed = await house.call('changeChapter', {
        params: { id: second.id },
        body: { heading: 'Rain', note: null },
      });
      expect(await at()).toEqual([
        [1, 'Arriving'],
        [3, 'Rain'],
        [4, 'And home.'],
      ]);
      await house.undo(changed);
      const gone = await house.call('removeChapter', { params: { id: second.id } });
      expect(await at()).toHaveLength(2);
      await house.undo(gone);
      expect(await at()).toContainEqual([3, 'The second day']);
      await house.call('changeAlbum', { params: { id }, body: { sorted: 'date' } });
      expect(await at()).toEqual([]);
    });

    test('two members move and put in at once: all of it counts, and no key is there twice', async () => {
      const id = await make('Lake', ids.slice(0, 6));
      const other = await house.member('helper');
      for (let round = 0; round < 4; round++)
        await Promise.all([
          house.call('moveInAlbum', { params: { id }, body: { ids: [ids[5]!], before: { picture: ids[1]! } } }),
          house.call('moveInAlbum', { params: { id }, body: { ids: [ids[4]!], before: { picture: ids[1]! } } }, other),
          house.call('putIntoAlbum', { params: { id }, body: { ids: [ids[6 + round]!] } }, other),
          house.call('makeChapter', {
            params: { id },
            body: { heading: 'x', note: null, before: { picture: ids[1]! } },
          }),
        ]);
      const all = await keys(id);
      expect(all.size).toBe(10);
      expect(new Set(all.values()).size).toBe(10);
      const { ids: now, givers } = await page(id);
      expect(now.indexOf(ids[1]!) - 2).toBe(Math.min(now.indexOf(ids[4]!), now.indexOf(ids[5]!)));
      expect(givers).toEqual([
        { name: 'Keeper', pictures: 6 },
        { name: 'helper', pictures: 4 },
      ]);
    });
  });

  describe('filled and emptied', () => {
    test('from chosen pictures, several folders, a question and another album in one act each; nothing comes twice', async () => {
      const { db } = house.app;
      const folder = async (name: string, parent: number | null) => {
        const [id] = await db('folders').insert({
          library_id: 1,
          parent_id: parent,
          name,
          path_hash: Buffer.from(name.padEnd(32, '.')),
        });
        return id!;
      };
      const top = await folder('Disk', null);
      const a = await folder('A', top);
      const b = await folder('B', top);
      await db('pictures').whereIn('id', ids.slice(0, 2)).update({ folder_id: a });
      await db('pictures').where('id', ids[4]!).update({ folder_id: b });
      const id = await make('All sorts', [ids[1]!]);
      const put = async (from: object) =>
        (await house.call('putIntoAlbum', { params: { id }, body: from as never })).added;
      expect(await put({ folders: [a, b] })).toEqual([ids[0], ids[4]]);
      expect(await put({ question: { rating: { min: 5 } } })).toEqual([ids[5], ids[11]]);
      const other = await make('Other', [ids[7]!, ids[5]!, ids[6]!]);
      expect(await put({ album: other })).toEqual([ids[7], ids[6]]);
      expect(await order(id)).toEqual([1, 0, 4, 5, 11, 7, 6].map((i) => ids[i]));
      expect((await page(id)).elsewhere).toEqual([{ id: other, name: 'Other' }]);
      expect((await house.call('albumsWith', { params: { id: ids[7]! } })).albums).toMatchObject([
        { name: 'All sorts', kind: 'plain', by: 'Keeper' },
        { name: 'Other', kind: 'plain', by: 'Keeper' },
      ]);
      await expect(put({ folders: [999_999] })).rejects.toThrow();
      await db('pictures').update({ folder_id: null });
    });

    test('moved to another album, copied and joined: each can be taken back as one', async () => {
      const one = await make('One', ids.slice(0, 4));
      const two = await make('Two', [ids[1]!]);
      await house.call('makeChapter', {
        params: { id: one },
        body: { heading: 'Day two', note: null, before: { picture: ids[2]! } },
      });
      const moved = await house.call('moveToAlbum', {
        params: { id: one },
        body: { ids: [ids[0]!, ids[1]!], to: two },
      });
      expect([await order(one), await order(two)]).toEqual([ids.slice(2, 4), [ids[1], ids[0]]]);
      await house.undo(moved);
      expect([await order(one), await order(two)]).toEqual([ids.slice(0, 4), [ids[1]]]);
      await house.call('changeAlbum', {
        params: { id: one },
        body: { cover: ids[3]!, days: { from: '2026-06-02', to: '2026-06-01' }, description: 'Words' },
      });
      const copy = (await house.call('copyAlbum', { params: { id: one }, body: { name: 'Copy' } })).id;
      const { album, chapters, ids: copied } = await page(copy);
      expect(copied).toEqual(ids.slice(0, 4));
      expect(chapters).toMatchObject([{ at: 2, heading: 'Day two' }]);
      expect(album).toMatchObject({
        from: '2026-06-01',
        to: '2026-06-02',
        ownDays: true,
        chosenCover: ids[3],
        description: 'Words',
      });
      const joined = await house.call('joinAlbums', { params: { id: one }, body: { into: two } });
      expect(await order(two)).toEqual([ids[1], ids[0], ids[2], ids[3]]);
      expect((await page(two)).chapters).toMatchObject([{ at: 2, heading: 'Day two' }]);
      await expect(page(one)).rejects.toMatchObject({ status: 404 });
      await house.undo(joined);
      expect([await order(one), await order(two)]).toEqual([ids.slice(0, 4), [ids[1]]]);
      expect((await page(two)).chapters).toEqual([]);
      await expect(house.call('joinAlbums', { params: { id: one }, body: { into: one } })).rejects.toThrow(
        'one album already',
      );
    });

    test('a cover that was chosen stands for it as long as it is there, else the best does; the bin keeps the place', async () => {
      const id = await make('Lake', [ids[2]!, ids[5]!, ids[1]!]);
      const cover = async () => (await page(id)).album.cover;
      const shown = async (picture: number) =>
        (await house.app.db('pictures').where('id', picture).first('shown'))!.shown.toString('hex');
      expect(await cover()).toBe(await shown(ids[5]!));
      await house.call('changeAlbum', { params: { id }, body: { cover: ids[1]! } });
      expect(await cover()).toBe(await shown(ids[1]!));
      await house.app.db('album_pictures').where({ album_id: id, picture_id: ids[1]! }).update({ position: 'Zz' });
      expect(await order(id)).toEqual([ids[1], ids[2], ids[5]]);
    });

    test('what is in no album goes down, event by event', async () => {
      await house.app.db('pictures').whereIn('id', ids.slice(0, 3)).update({ event_id: null });
      const before = await house.call('looseAlbums', {});
      await make('Some', ids.slice(0, 5));
      const after = await house.call('looseAlbums', {});
      expect(before.pictures - after.pictures).toBe(5);
      expect(after.events.reduce((sum, one) => sum + one.pictures, 0)).toBe(after.pictures);
      expect(after.folders.reduce((sum, one) => sum + one.pictures, 0)).toBe(after.pictures);
    });
  });

  describe('on shelves', () => {
    test('albums and shelves stand by hand, by name or latest; none ends up on itself', async () => {
      const journeys = await shelf('Journeys');
      const summer = await shelf('Summer', journeys);
      const a = await make('Azores', [ids[0]!], journeys);
      const b = await make('Baltic', [ids[9]!], journeys);
      await make('Cabin', [ids[4]!]);
      expect(await tree()).toEqual([['Journeys', ['Summer'], 'Azores', 'Baltic'], 'Cabin']);
      await house.call('shelve', { body: { albums: [b], on: journeys, before: { shelf: summer } } });
      expect(await tree()).toEqual([['Journeys', 'Baltic', ['Summer'], 'Azores'], 'Cabin']);
      await house.call('changeShelf', { params: { id: journeys }, body: { sorted: 'latest' } });
      expect(await tree()).toEqual([['Journeys', ['Summer'], 'Baltic', 'Azores'], 'Cabin']);
      await house.call('shelve', { body: { albums: [a], on: summer } });
      expect(await tree()).toEqual([['Journeys', ['Summer', 'Azores'], 'Baltic'], 'Cabin']);
      await expect(house.call('shelve', { body: { shelves: [journeys], on: summer } })).rejects.toThrow('on itself');
      await expect(house.call('shelve', { body: { albums: [999_999], on: summer } })).rejects.toMatchObject({
        status: 404,
      });
      await expect(make('Nowhere', [], 999_999)).rejects.toMatchObject({ status: 404 });
    });

    test('of two shelves put on each other at once, one stays where it was', async () => {
      const a = await shelf('A');
      const b = await shelf('B');
      const done = await Promise.allSettled([
        house.call('shelve', { body: { shelves: [a], on: b } }),
        house.call('shelve', { body: { shelves: [b], on: a } }),
      ]);
      expect(done.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    });

    test('removed, what stands on it moves up or goes, and comes back; never a picture', async () => {
      const years = await shelf('Years');
      const old = await shelf('Old', years);
      await make('Before', [], years);
      await make('1988', [ids[0]!], old);
      await make('1992', [ids[1]!], old);
      await make('After', [], years);
      const whole = [['Years', ['Old', '1988', '1992'], 'Before', 'After']];
      expect(await tree()).toEqual(whole);
      const up = await house.call('removeShelf', { params: { id: old }, body: { rest: 'up' } });
      expect(up).toMatchObject({ albums: 2, shelves: 0 });
      expect(await tree()).toEqual([['Years', '1988', '1992', 'Before', 'After']]);
      await house.undo(up);
      expect(await tree()).toEqual(whole);
      const go = await house.call('removeShelf', { params: { id: years }, body: { rest: 'go' } });
      expect(go).toMatchObject({ albums: 4, shelves: 1 });
      expect(await tree()).toEqual([]);
      expect(await house.app.db('pictures').count('id as n').first()).toMatchObject({ n: ids.length });
      await house.undo(go);
      expect(await tree()).toEqual(whole);
    });

    test('a tree of folders becomes a tree of shelves and albums in one act, as the preview says', async () => {
      const { db } = house.app;
      const folder = async (name: string, parent: number | null, ...pictures: number[]) => {
        const [id] = await db('folders').insert({
          library_id: 1,
          parent_id: parent,
          name,
          path_hash: Buffer.from(`tree ${name}`.padEnd(32, '.')),
        });
        if (pictures.length) await db('pictures').whereIn('id', pictures).update({ folder_id: id! });
        return id!;
      };
      const disk = await folder('Old disk', null);
      const year = await folder('1998', disk, ids[0]!);
      await folder('Kiel', year, ids[2]!, ids[1]!);
      await folder('Alps', year, ids[3]!);
      await folder('empty', disk);
      const way = await folder('only a way', disk);
      await folder('Ten', way, ids[4]!);
      const { plan, ...counts } = await house.call('folderShelves', { params: { id: disk } });
      expect(counts).toEqual({ shelves: 2, albums: 4, pictures: 5 });
      expect(plan).toMatchObject({ kind: 'shelf', name: 'Old disk', pictures: 5 });
      const made = await house.call('shelveFolder', { params: { id: disk }, body: {} });
      expect(made).toMatchObject({ shelves: 2, albums: 4 });
      expect(await tree()).toEqual([['Old disk', ['1998', '1998', 'Alps', 'Kiel'], 'Ten']]);
      const { albums } = await house.call('albums', {});
      expect(await order(albums.find((one) => one.name === 'Kiel')!.id)).toEqual([ids[1], ids[2]]);
      await house.undo(made);
      expect(await tree()).toEqual([]);
      await db('pictures').update({ folder_id: null });
    });
  });

  describe('that fill themselves', () => {
    const smart = async (question: object, more: object = {}) =>
      (await house.call('makeAlbum', { body: { name: 'Smart', question, ...more } as never })).id;

    test('single pictures put in by hand and kept out; why each is in, or not', async () => {
      const id = await smart({
        all: [{ rating: { min: 4 } }, { not: { any: [{ rating: { min: 5 } }, { favourite: true }] } }],
      });
      expect(await order(id)).toEqual([ids[4], ids[10]]);
      const put = await house.call('handAlbum', { params: { id }, body: { ids: [ids[0]!], way: 'in' } });
      await house.call('handAlbum', { params: { id }, body: { ids: [ids[4]!], way: 'out' } });
      expect(await order(id)).toEqual([ids[0], ids[10]]);
      expect(await page(id)).toMatchObject({ putIn: [ids[0]], keptOut: [ids[4]] });
      const why = (picture: number) => house.call('whyInAlbum', { params: { id, picture } });
      expect(await why(ids[0]!)).toEqual({
        in: true,
        holds: [false, false, true, false, false, false],
        hand: 'in',
        notAmongBest: false,
      });
      expect(await why(ids[4]!)).toMatchObject({
        in: false,
        hand: 'out',
        holds: [true, true, true, false, false, false],
      });
      expect(await why(ids[5]!)).toMatchObject({
        in: false,
        hand: null,
        holds: [false, true, false, true, true, false],
      });
      await house.call('handAlbum', { params: { id }, body: { ids: [ids[4]!], way: null } });
      await house.undo(put);
      expect(await order(id)).toEqual([ids[4], ids[10]]);
      expect((await house.call('albumsWith', { params: { id: ids[10]! } })).albums).toMatchObject([
        { name: 'Smart', kind: 'smart' },
      ]);
      expect((await house.call('albumsWith', { params: { id: ids[0]! } })).albums).toEqual([]);
      // Its pictures have no order by hand.
      await expect(house.call('changeAlbum', { params: { id }, body: { sorted: 'hand' } })).rejects.toThrow(
        'fills itself',
      );
      await house.call('changeAlbum', { params: { id }, body: { sorted: 'name' } });
      expect(await order(id)).toEqual([ids[10], ids[4]]);
    });

    test('no more than the best so many, spread; what fits but is not among them is told', async () => {
      const id = await smart({ all: [] }, { best: { n: 3, spread: 0 } });
      const now = await order(id);
      expect(now).toHaveLength(3);
      expect(now).toEqual(expect.arrayContaining([ids[5], ids[11]]));
      await house.call('handAlbum', { params: { id }, body: { ids: [ids[1]!], way: 'in' } });
      expect(await order(id)).toEqual([ids[1], ids[5], ids[11]]);
      expect(await house.call('whyInAlbum', { params: { id, picture: ids[2]! } })).toMatchObject({
        in: false,
        notAmongBest: true,
      });
      const { share } = await house.call('openShare', {
        body: { title: 'Best', of: { album: id }, reach: 'house', until: null },
      });
      expect(share.pictures).toBe(3);
      await house.call('changeAlbum', { params: { id }, body: { best: null } });
      expect(await order(id)).toHaveLength(ids.length);
    });

    test('frozen, it is a plain album of what it held; a copy goes on by itself', async () => {
      const id = await smart({ rating: { min: 5 } });
      await house.call('handAlbum', { params: { id }, body: { ids: [ids[0]!], way: 'in' } });
      const frozen = (await house.call('copyAlbum', { params: { id }, body: { name: 'Then', frozen: true } })).id;
      const copy = (await house.call('copyAlbum', { params: { id }, body: { name: 'Twin' } })).id;
      await house.call('change', { body: { ids: [ids[7]!], change: { rating: 5 } } });
      expect(await order(frozen)).toEqual([ids[0], ids[5], ids[11]]);
      expect((await page(frozen)).album.kind).toBe('plain');
      expect(await order(copy)).toEqual([ids[0], ids[5], ids[7], ids[11]]);
      await house.call('change', { body: { ids: [ids[7]!], change: { rating: 1 } } });
    });

    test('what a list says of them is kept, and follows stars, hands, days and albums', async () => {
      const id = await smart({ all: [{ rating: { min: 5 } }, { inNoAlbum: true }] });
      const listed = async () => {
        await house.call('albums', {});
        await counted();
        const one = (await house.call('albums', {})).albums.find((album) => album.id === id)!;
        expect(one.counting).toBe(false);
        return [one.pictures, one.from, one.to];
      };
      expect(await listed()).toEqual([2, '2026-05-15', '2026-05-21']);
      const kept = await house.app.db('album_facts').where('album_id', id).first();
      await house.call('albums', {});
      expect(await house.app.db('album_facts').where('album_id', id).first()).toEqual(kept);
      const said = await house.call('change', { body: { ids: [ids[2]!], change: { rating: 5 } } });
      expect(await listed()).toEqual([3, '2026-05-12', '2026-05-21']);
      const plain = await make('Plain', [ids[11]!]);
      expect(await listed()).toEqual([2, '2026-05-12', '2026-05-15']);
      await house.undo(said);
      await house.call('removeAlbum', { params: { id: plain } });
      await house.call('handAlbum', { params: { id }, body: { ids: [ids[5]!], way: 'out' } });
      expect(await listed()).toEqual([1, '2026-05-21', '2026-05-21']);
    });

    test('the best of something are proposed, with what speaks for each', async () => {
      const { of, pictures } = await house.call('bestOf', {
        body: { from: { question: { all: [] } }, n: 4, spread: 0.8, people: 0.5 },
      });
      expect(of).toBe(ids.length);
      expect(pictures).toHaveLength(4);
      expect(pictures[0]!.reasons).toContainEqual({ why: 'stars', n: 5 });
      const few = await house.call('bestOf', {
        body: { from: { ids: ids.slice(0, 2) }, n: 9, spread: 0, people: 0.5 },
      });
      expect(few.of).toBe(2);
      expect(stringify(few.pictures.map(({ id }) => id).sort())).toBe(stringify(ids.slice(0, 2)));
    });
  });

  test('albums of before, whose places were numbers, keep their order; the step can be repeated', async () => {
    const { db } = house.app;
    const id = await make('Of before', [ids[2]!, ids[0]!, ids[1]!]);
    await db('album_pictures').where('album_id', id).update({ position: 'a0' });
    await db.raw('ALTER TABLE album_pictures MODIFY position VARCHAR(160) NOT NULL');
    for (const [place, picture] of [ids[2]!, ids[0]!, ids[1]!].entries())
      await db('album_pictures')
        .where({ album_id: id, picture_id: picture })
        .update({ position: String(place * 9) });
    await db('albums').where('id', id).update({ position: '' });
    for (let i = 0; i < 2; i++) await migration.up(db);
    expect(await order(id)).toEqual([ids[2], ids[0], ids[1]]);
    expect([...(await keys(id)).values()].sort()).toEqual([0, 9, 18].map(keyOfNumber));
    await house.call('putIntoAlbum', { params: { id }, body: { ids: [ids[5]!] } });
    await house.call('moveInAlbum', { params: { id }, body: { ids: [ids[1]!], before: { picture: ids[0]! } } });
    expect(await order(id)).toEqual([ids[2], ids[1], ids[0], ids[5]]);
  });

  test('a member of another library reaches nothing of this', async () => {
    const id = await make('Ours', [ids[0]!]);
    const ours = await shelf('Our shelf');
    const { db } = house.app;
    const [library] = await db('libraries').insert({ slug: 'other', name: 'Other' });
    const [theirs] = await db('albums').insert({ library_id: library!, kind: 'plain', name: 'Theirs', position: 'a0' });
    const [shelfOfTheirs] = await db('shelves').insert({ library_id: library!, name: 'Theirs', position: 'a0' });
    await expect(house.call('joinAlbums', { params: { id }, body: { into: theirs! } })).rejects.toMatchObject({
      status: 404,
    });
    await expect(house.call('shelve', { body: { albums: [theirs!], on: ours } })).rejects.toMatchObject({
      status: 404,
    });
    await expect(house.call('shelve', { body: { albums: [id], on: shelfOfTheirs! } })).rejects.toMatchObject({
      status: 404,
    });
    await expect(house.call('putIntoAlbum', { params: { id }, body: { album: theirs! } })).rejects.toMatchObject({
      status: 404,
    });
    expect(await order(id)).toEqual([ids[0]]);
    await db('shelves').where('library_id', library!).delete();
    await db('albums').where('library_id', library!).delete();
  });
});
