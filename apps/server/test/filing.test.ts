import type { Question } from '@gemmel/core';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { derivedBase } from '../src/context';
import { DEMO, openHouse, type House } from './house';

/** Everything people do with pictures that are in: describe, choose, put into albums, share out again. */
describe('filing', () => {
  let house: House;
  let ids: number[];
  let source: string;

  beforeAll(async () => {
    house = await openHouse();
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-filing-'));
    cpSync(path.join(DEMO, 'grans-tablet'), path.join(source, 'Tablet'), { recursive: true });
    cpSync(path.join(DEMO, 'box-of-scans/Summer 1992/scan_0009.jpg'), path.join(source, 'undated/odd.jpg'));
    await house.takeIn(path.join(source, 'Tablet'));
    await house.takeIn(path.join(source, 'undated'));
    ids = ((await house.app.db('pictures').orderBy('id').select('id')) as { id: number }[]).map((r) => r.id);
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  const picture = (id: number) => house.call('picture', { params: { id } });
  const count = async (question: Question) => (await house.call('count', { body: { question } })).count;

  describe('pictures', () => {
    test('pages by keyset show every picture once, in the order of the skeleton; undated ones come last', async () => {
      const { ids: steps, days, count: n } = await house.call('skeleton', { body: { question: { all: [] } } });
      let at = 0;
      const order = steps.map((step) => (at += step));
      expect(n).toBe(ids.length);
      expect(days[days.length - 1]![0]).toBeNull();
      const paged: number[] = [];
      let after: string | undefined;
      for (;;) {
        const page = await house.call('pictures', {
          body: { question: { all: [] }, limit: 2, ...(after ? { after } : {}) },
        });
        paged.push(...page.tiles.map((t) => t.id));
        if (page.after === null) break;
        after = page.after;
      }
      expect(paged).toEqual(order);
      await expect(
        house.call('pictures', { body: { question: { all: [] }, after: 'nonsense', limit: 2 } }),
      ).rejects.toThrow('page marker');
    });

    test('a change answers with what stood there before, and sending that back undoes it exactly', async () => {
      const two = ids.slice(0, 2);
      const before = await Promise.all(two.map(picture));
      const stood = await house.call('change', {
        body: {
          ids: two,
          change: {
            rating: 5,
            favourite: true,
            title: 'New',
            caption: 'Words',
            addTags: ['a', 'B'],
          },
        },
      });
      const now = await Promise.all(two.map(picture));
      for (const [i, p] of now.entries()) {
        expect(p).toMatchObject({ rating: 5, favourite: true, title: 'New', caption: 'Words' });
        expect(p.tags.map((t) => t.name)).toEqual(['a', 'B']);
        expect(p.taken).toBe(before[i]!.taken);
      }
      await house.undo(stood);
      await house.quiet();
      expect(await Promise.all(two.map(picture))).toEqual(before.map((p) => ({ ...p, keptAt: expect.any(String) })));
    });

    test('files are named by parts, in an album in its own order; the names they came with stay known', async () => {
      const three = ids.slice(0, 3);
      const before = await Promise.all(three.map(picture));
      const naming = {
        parts: ['words' as const, 'number' as const, 'year' as const],
        words: 'Tablet',
        start: 9,
        digits: 2,
      };
      const { names, count: n } = await house.call('previewNames', { body: { ids: three, naming } });
      expect([n, names.length]).toEqual([3, 3]);
      const did = await house.call('nameFiles', { body: { ids: three, naming } });
      await house.quiet();
      const now = await Promise.all(three.map(picture));
      expect(now.map((p) => p.name).sort()).toEqual(names.map(({ to }) => to).sort());
      expect(now.every((p, i) => p.originalName === before[i]!.name)).toBe(true);
      expect(now.every((p) => path.basename(p.keptAt) === p.name)).toBe(true);
      expect(await count({ text: before[0]!.name })).toBe(1);
      await house.undo(did);
      await house.quiet();
      expect((await Promise.all(three.map(picture))).map((p) => p.name)).toEqual(before.map((p) => p.name));

      const { id } = await house.call('makeAlbum', { body: { name: 'Backwards', ids: [...three].reverse() } });
      const ordered = await house.call('nameFiles', {
        body: { album: id, naming: { ...naming, parts: ['words', 'number'] } },
      });
      expect((await Promise.all([...three].reverse().map(picture))).map((p) => p.name.slice(0, 9))).toEqual([
        'Tablet 09',
        'Tablet 10',
        'Tablet 11',
      ]);
      await house.undo(ordered);
      await house.quiet();
    });

    test('a folder is shown under another name, with its event; both names find it, and it comes back', async () => {
      const folder = (await house.call('folders', {})).folders.find((one) => one.name === 'Tablet')!;
      const did = await house.call('renameFolder', {
        params: { id: folder.id },
        body: { name: 'Gran’s tablet', event: true },
      });
      const now = (await house.call('folders', {})).folders.find((one) => one.id === folder.id)!;
      expect(now).toMatchObject({ name: 'Gran’s tablet', cameAs: 'Tablet', pictures: folder.pictures });
      const found = async (typed: string) =>
        JSON.stringify(await house.call('ask', { body: { typed, language: 'en' } }));
      expect(await found('tabl')).toContain(`"folder":{"id":${folder.id}`);
      expect(await found('gran’s ta')).toContain(`"folder":{"id":${folder.id}`);
      // The same folder coming in again is the same one.
      const again = path.join(source, 'again/Tablet');
      cpSync(path.join(DEMO, 'box-of-scans/Summer 1992/scan_0010.jpg'), path.join(again, 'more.jpg'));
      await house.takeIn(again);
      const after = (await house.call('folders', {})).folders.filter((one) => one.parent === null);
      expect(after.find((one) => one.id === folder.id)!.pictures).toBe(folder.pictures + 1);
      await house.undo(did);
      expect((await house.call('folders', {})).folders.find((one) => one.id === folder.id)).toMatchObject({
        name: 'Tablet',
        cameAs: null,
      });
      await house.call('intoBin', {
        body: { ids: [(await house.app.db('pictures').where('name', 'more.jpg').first('id'))!.id] },
      });
      await house.quiet();
    });

    test('all or nothing: one unknown picture and none is changed', async () => {
      await expect(
        house.call('change', { body: { ids: [ids[0]!, 999_999], change: { rating: 3 } } }),
      ).rejects.toMatchObject({ status: 404 });
      expect((await picture(ids[0]!)).rating).toBe(0);
      await expect(
        house.call('mendDates', { body: { ids: [ids[0]!], how: { set: '2026-02-30T10:00' } } }),
      ).rejects.toThrow('That is not a date');
      expect((await picture(ids[0]!)).takenSource).not.toBe('hand');
    });

    test('tags that differ only in case or accents are one tag; counts follow', async () => {
      await house.call('change', { body: { ids: [ids[0]!], change: { addTags: ['Sjö'] } } });
      await house.call('change', { body: { ids: [ids[1]!], change: { addTags: ['sjo', 'SJÖ'] } } });
      const { tags } = await house.call('tags', {});
      const lake = tags.filter((t) => t.name.toLowerCase().startsWith('sj'));
      expect(lake).toHaveLength(1);
      expect(lake[0]).toMatchObject({ name: 'Sjö', pictures: 2 });
      expect(await count({ tag: lake[0]!.id })).toBe(2);
      await house.call('change', { body: { ids: [ids[0]!], change: { removeTags: [lake[0]!.id] } } });
      expect(await count({ tag: lake[0]!.id })).toBe(1);
    });

    test('a new time takes a picture to the event of that time, and its file to that folder', async () => {
      const moved = ids[3]!;
      const other = await picture(ids[0]!);
      const target = other.taken!.slice(0, 16);
      await house.call('mendDates', { body: { ids: [moved], how: { set: target } } });
      await house.quiet();
      const now = await picture(moved);
      expect(now.event?.id).toBe((await picture(ids[0]!)).event?.id);
      expect(now.keptAt.startsWith(`${target.slice(0, 4)}/${target.slice(0, 10)}`)).toBe(true);
    });

    test('tiles come in the order asked for, without those that are not here', async () => {
      const { tiles } = await house.call('tiles', { body: { ids: [ids[2]!, 999_999, ids[0]!] } });
      expect(tiles.map((t) => t.id)).toEqual([ids[2], ids[0]]);
      expect(tiles[0]!.name).toBeTruthy();
      expect(tiles[0]!.day).toMatch(/^\d{4}-\d\d-\d\d$/);
    });

    test('tiles bring their small files along, the very same; one that is gone is left to be asked for by itself', async () => {
      const [lost, there] = [ids[2]!, ids[0]!];
      const { tiles } = await house.call('tiles', { body: { ids: [lost, there] } });
      rmSync(`${derivedBase(house.app, tiles[0]!.sha)}-small.webp`);
      const both = await house.call('tilesAtOnce', { body: { ids: [lost, there] } });
      expect(both.tiles).toEqual(tiles);
      const small = (sha: string) => house.fetch(`/api/derived/${sha}/small`).then((answer) => answer.arrayBuffer());
      const own = Buffer.from(await small(tiles[1]!.sha));
      expect(both.smalls[0]).toBeNull();
      expect(Buffer.from(both.smalls[1]!, 'base64').equals(own)).toBe(true);
      // It is made again by being asked for.
      expect((await small(tiles[0]!.sha)).byteLength).toBeGreaterThan(100);
      expect((await house.call('tilesAtOnce', { body: { ids: [lost] } })).smalls[0]).toBeTruthy();
    });
  });

  describe('albums', () => {
    const make = async (name: string, some: number[]) =>
      (await house.call('makeAlbum', { body: { name, ids: some } })).id;
    const order = async (id: number) => (await house.call('album', { params: { id } })).ids;

    test('keep the order they are given; nothing is put in twice', async () => {
      const id = await make('In order', [ids[2]!, ids[0]!, ids[2]!]);
      expect(await order(id)).toEqual([ids[2], ids[0]]);
      const { added } = await house.call('putIntoAlbum', { params: { id }, body: { ids: [ids[0]!, ids[1]!] } });
      expect(added).toEqual([ids[1]]);
      expect(await order(id)).toEqual([ids[2], ids[0], ids[1]]);
      await house.call('orderAlbum', { params: { id }, body: { ids: [ids[1]!, ids[2]!, ids[0]!] } });
      expect(await order(id)).toEqual([ids[1], ids[2], ids[0]]);
      const taken = await house.call('takeOutOfAlbum', { params: { id }, body: { ids: [ids[2]!] } });
      expect(await order(id)).toEqual([ids[1], ids[0]]);
      await house.undo(taken);
      expect(await order(id)).toEqual([ids[1], ids[2], ids[0]]);
      await expect(house.call('putIntoAlbum', { params: { id }, body: { ids: [999_999] } })).rejects.toThrow();
    });

    test('point to pictures: removing one takes no picture away and can be undone', async () => {
      const id = await make('To go', [ids[0]!, ids[1]!]);
      const kept = await count({ all: [] });
      expect((await picture(ids[0]!)).albums.map((a) => a.name)).toContain('To go');
      const removed = await house.call('removeAlbum', { params: { id } });
      expect(await count({ all: [] })).toBe(kept);
      expect((await picture(ids[0]!)).albums.map((a) => a.name)).not.toContain('To go');
      await expect(house.call('album', { params: { id } })).rejects.toMatchObject({ status: 404 });
      expect(await count({ album: id })).toBe(0);
      await house.undo(removed);
      expect(await order(id)).toEqual([ids[0], ids[1]]);
    });

    test('one that fills itself follows every change, and cannot be filled by hand or from another such', async () => {
      const question: Question = { all: [{ rating: { min: 4 } }, { kind: 'photo' }] };
      const { id } = await house.call('makeAlbum', { body: { name: 'The good ones', question } });
      expect(await order(id)).toEqual([]);
      await house.call('change', { body: { ids: [ids[4]!, ids[2]!], change: { rating: 4 } } });
      const filled = await order(id);
      expect([...filled].sort()).toEqual([ids[2], ids[4]].sort());
      const { album } = await house.call('album', { params: { id } });
      expect(album.question).toEqual(question);
      expect(album.pictures).toBe(2);
      await expect(house.call('putIntoAlbum', { params: { id }, body: { ids: [ids[0]!] } })).rejects.toThrow(
        'A smart album fills itself',
      );
      await expect(house.call('makeAlbum', { body: { name: 'From it', question: { album: id } } })).rejects.toThrow(
        'cannot be filled from another smart album',
      );
      await house.call('changeAlbum', { params: { id }, body: { question: { favourite: true }, name: 'Hearts' } });
      expect((await house.call('album', { params: { id } })).album).toMatchObject({ name: 'Hearts', pictures: 0 });
      const plain = await make('By hand', []);
      await expect(
        house.call('changeAlbum', { params: { id: plain }, body: { question: { favourite: true } } }),
      ).rejects.toThrow('filled by hand');
    });

    test('one of an event is in the order of time', async () => {
      const { events } = await house.call('events', {});
      const event = events.reduce((a, b) => (b.pictures > a.pictures ? b : a));
      const { id } = await house.call('makeAlbum', { body: { name: 'The event', event: event.id } });
      const times = await Promise.all((await order(id)).map(async (p) => (await picture(p)).taken!));
      expect(times).toHaveLength(event.pictures);
      expect([...times].sort()).toEqual(times);
    });
  });

  test('the pile is each member’s own, keeps its order and takes only pictures that are here', async () => {
    const helper = await house.member('helper');
    await house.call('setPile', { body: { ids: [ids[2]!, ids[0]!] } });
    await house.call('setPile', { body: { ids: [ids[1]!] } }, helper);
    expect((await house.call('pile', {})).ids).toEqual([ids[2], ids[0]]);
    expect((await house.call('pile', {}, helper)).ids).toEqual([ids[1]]);
    await expect(house.call('setPile', { body: { ids: [999_999] } })).rejects.toThrow();
    expect((await house.call('pile', {})).ids).toEqual([ids[2], ids[0]]);
  });

  test('names of events are kept while pictures come and go', async () => {
    const { events } = await house.call('events', {});
    const event = events[0]!;
    await house.call('nameEvent', { params: { id: event.id }, body: { title: 'Crayfish' } });
    const [first] = (await house.app.db('pictures').where('event_id', event.id).select('id')) as { id: number }[];
    await house.call('mendDates', { body: { ids: [first!.id], how: { shift: 60 } } });
    await house.quiet();
    const after = (await house.call('events', {})).events.find((e) => e.id === event.id);
    expect(after?.title).toBe('Crayfish');
    expect(await count({ event: event.id })).toBe(after!.pictures);
    await expect(house.call('nameEvent', { params: { id: 999_999 }, body: { title: 'x' } })).rejects.toThrow();
  });

  test('a share of an album shows what the album holds now', async () => {
    const { id } = await house.call('makeAlbum', { body: { name: 'Growing', ids: [ids[0]!] } });
    const { share } = await house.call('openShare', {
      body: { title: 'Growing', of: { album: id }, reach: 'house', until: null },
    });
    const token = share.path!.split('/').pop()!;
    const seen = async () => (await house.call('guest', { params: { token } })).pictures.map((p) => p.id);
    expect(await seen()).toEqual([ids[0]]);
    await house.call('putIntoAlbum', { params: { id }, body: { ids: [ids[1]!] } });
    expect(await seen()).toEqual([ids[0], ids[1]]);
    await house.call('removeAlbum', { params: { id } });
    expect(await seen()).toEqual([]);
    const listed = (await house.call('shares', {})).shares.find((s) => s.id === share.id)!;
    expect(listed.opened).toBe(3);
  });

  test('another library’s things are not here', async () => {
    const { db } = house.app;
    const [other] = await db('libraries').insert({ slug: 'club', name: 'Club' });
    const [album] = await db('albums').insert({ library_id: other!, kind: 'plain', name: 'Theirs' });
    const [event] = await db('events').insert({ library_id: other!, start_day: '2026-01-01', end_day: '2026-01-01' });
    await expect(house.call('album', { params: { id: album! } })).rejects.toMatchObject({ status: 404 });
    await expect(house.call('nameEvent', { params: { id: event! }, body: { title: 'x' } })).rejects.toMatchObject({
      status: 404,
    });
    expect((await house.call('albums', {})).albums.some((a) => a.name === 'Theirs')).toBe(false);
  });
});
