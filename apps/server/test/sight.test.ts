import { api, fileRoutes, type Endpoint } from '@gemmel/contract';
import { EVERYTHING } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { derivedBase } from '../src/context';
import { NotThrough, narrowed } from '../src/sight/through';
import { openHouse, type Caller, type House } from './house';

/**
 * What a relative sees: every route they may call is asked about what is outside their view, by every number there is. What lies
 * outside has numbers and names by which it is known wherever it turns up.
 */
const FAR = 7_770_000;
const SECRET = 'zzunseen';
const sha = (text: string) => createHash('sha256').update(text).digest();

describe('what a relative sees', () => {
  let house: House;
  let relative: Caller;
  const inside: number[] = [];
  const outside: number[] = [];

  /** Plants a picture with everything that may hang on one, each told by a word. */
  async function plant(base: number, n: number, word: string): Promise<number[]> {
    const { db } = house.app;
    const one = <T extends object>(row: T) => ({ library_id: 1, ...row });
    await db('people').insert(one({ id: base + 1, name: `${word} person`, nickname: `${word} nick` }));
    await db('circles').insert(one({ id: base + 1, name: `${word} circle`, position: 1 }));
    await db('circle_people').insert(one({ circle_id: base + 1, person_id: base + 1 }));
    await db('tags').insert(one({ id: base + 1, name: `${word} tag`, folded: `${word} tag`, branch: `0 ${word} tag` }));
    // What stands below something else is told with it.
    const under = `${word} under`;
    await db('tags').insert(
      one({ id: base + 2, name: under, folded: under, parent_id: base + 1, branch: `${base + 1} ${under}` }),
    );
    await db('tag_names').insert(one({ tag_id: base + 1, name: `${word} spelling`, folded: `${word} spelling` }));
    const day = n === 3 ? '2026-05-16' : '2021-11-28';
    await db('events').insert(
      one({ id: base + 1, title: `${word} event`, start_day: day, end_day: day, made_by: 'hand' as const }),
    );
    await db('folders').insert([
      one({ id: base + 1, name: `${word} folder`, path_hash: sha(word) }),
      one({ id: base + 2, name: `${word} inner folder`, parent_id: base + 1, path_hash: sha(`${word} inner`) }),
    ]);
    await db('devices').insert(one({ id: base + 1, name: `${word} device`, make: word, model: word }));
    await db('batches').insert(
      one({ id: base + 1, name: `${word} batch`, named: 'given' as const, state: 'done' as const, way: 'folder' }),
    );
    await db('own_places').insert(one({ id: base + 1, name: `${word} place`, lat: 57, lon: 18, metres: 100 }));
    await db('shelves').insert([
      one({ id: base + 1, name: `${word} shelf`, position: 'a' }),
      one({ id: base + 2, name: `${word} inner shelf`, parent_id: base + 1, position: 'a' }),
    ]);
    await db('albums').insert([
      one({ id: base + 1, kind: 'plain' as const, name: `${word} album`, shelf_id: base + 2, position: 'a' }),
      one({
        id: base + 2,
        kind: 'smart' as const,
        name: `${word} smart`,
        question: '{"v":1,"question":{"all":[]}}',
        position: 'b',
      }),
    ]);
    await db('album_chapters').insert(
      one({ id: base + 1, album_id: base + 1, heading: `${word} chapter`, position: 'a' }),
    );
    const ids: number[] = [];
    for (let i = 1; i <= n; i++) {
      const id = base + 10 + i;
      const digest = sha(`${word} ${i}`);
      await db('pictures').insert(
        one({
          id,
          sha256: digest,
          kind: i === 2 ? ('video' as const) : ('photo' as const),
          format: i === 2 ? 'mp4' : 'jpg',
          name: `${word}${i}.jpg`,
          vault_path: `2026/${word}${i}.jpg`,
          bytes: 100 + i,
          width: 40,
          height: 30,
          taken_local: `${day} 1${i}:00:00`,
          day,
          taken_source: 'camera',
          taken_certainty: 0.9,
          event_id: base + 1,
          event_by_hand: true,
          batch_id: base + 1,
          device_id: base + 1,
          folder_id: base + 2,
          own_place_id: base + 1,
          camera: `${word} camera`,
          lens: `${word} lens`,
          lat: 57 + base / 1e7,
          lon: 18,
          country: word === SECRET ? 'PT' : 'SE',
          region: `${word} region`,
          place: `${word} town`,
          title: `${word} title ${i}`,
          caption: `${word} caption`,
          words: ` ${word} title caption `,
          likeness: 12345,
          thumb: Buffer.alloc(8, word === SECRET ? 7 : 1),
          verified_at: db.raw('UTC_TIMESTAMP(3)'),
        }),
      );
      await db('picture_words').insert(one({ picture_id: id, word }));
      await db('picture_tags').insert([1, 2].map((tag) => one({ picture_id: id, tag_id: base + tag })));
      await db('picture_observations').insert(
        one({ picture_id: id, kind: word === SECRET ? 'dark' : 'blurred', sure: 0.9 }),
      );
      await db('album_pictures').insert(one({ album_id: base + 1, picture_id: id, position: `a${i}` }));
      await db('comments').insert(one({ id, picture_id: id, author: 'Keeper', text: `${word} comment` }));
      await db('picture_files').insert(
        one({
          id,
          picture_id: id,
          role: 'said',
          sha256: sha(`${word} file ${i}`),
          name: `${word}.xmp`,
          vault_path: `2026/${word}${i}.xmp`,
          format: 'xmp',
          bytes: 3,
        }),
      );
      await db('faces').insert(
        one({
          id,
          picture_id: id,
          x: 0.1,
          y: 0.1,
          w: 0.2,
          h: 0.2,
          height_px: 90,
          quality: 1,
          vector_a: Buffer.alloc(4),
          vector_b: Buffer.alloc(4),
          state: 'named' as const,
          person_id: base + 1,
          named_by: 'hand' as const,
        }),
      );
      const root = path.join(house.app.paths.vault, 'home', '2026');
      mkdirSync(root, { recursive: true });
      const jpg = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#888' } })
        .jpeg()
        .toBuffer();
      writeFileSync(path.join(root, `${word}${i}.jpg`), jpg);
      writeFileSync(path.join(root, `${word}${i}.xmp`), word);
      const derived = derivedBase(house.app, digest.toString('hex'));
      mkdirSync(path.dirname(derived), { recursive: true });
      writeFileSync(`${derived}-small.webp`, jpg);
      writeFileSync(`${derived}-large.jpg`, jpg);
      writeFileSync(`${derived}-play.mp4`, 'clip');
      writeFileSync(`${derived}-moving.mp4`, 'clip');
      ids.push(id);
    }
    await db('known_words')
      .insert(one({ word, back: [...word].reverse().join('') }))
      .onConflict()
      .ignore();
    house.app.changed(1, 'pictures', 'people', 'tags', 'events', 'albums', 'said');
    return ids;
  }

  beforeAll(async () => {
    house = await openHouse();
    inside.push(...(await plant(1000, 3, 'aainside')));
    outside.push(...(await plant(FAR, 4, SECRET)));
    relative = await house.member('relative');
    await house.app
      .db('members')
      .where('part', 'relative')
      .update({ view: JSON.stringify({ v: 1, question: { tag: 1001 } }), reach: 'house' });
  });
  afterAll(() => house?.stop());

  const far = FAR + 1;
  const out = FAR + 11;
  const wish = { n: 5, spread: 0.5, people: 0.5 };
  const everything = { question: EVERYTHING };
  /** What each route that a relative may call is asked: with numbers that lie outside, and for all there is. */
  const ASKED: Record<string, { params?: Record<string, string | number>; body?: object; refused?: true }[]> = {
    'GET /api/library': [{}],
    'POST /api/skeleton': [
      { body: everything },
      { body: { question: { album: far } } },
      { body: { question: { who: { people: [far], mode: 'any' } } } },
      ...['name', 'size', 'stars', 'shape', 'arrival', 'change', 'match'].map((sort) => ({
        body: { ...everything, sort },
      })),
      { body: { ...everything, under: 'person' } },
      { body: { ...everything, under: 'place' } },
      { body: { ...everything, under: 'folder' } },
      { body: { question: { like: out }, sort: 'likeness' } },
    ],
    'POST /api/count': [{ body: { question: { not: { tag: 1001 } } } }, { body: { question: { event: far } } }],
    'POST /api/pictures/page': [
      { body: { ...everything, limit: 50 } },
      { body: { question: { text: SECRET }, limit: 50 } },
    ],
    'POST /api/tiles': [{ body: { ids: [out, out + 1] } }],
    'POST /api/tiles/at-once': [{ body: { ids: [out, out + 1] } }],
    'GET /api/opening': [{}],
    'POST /api/pictures/whole': [{ body: { ids: [out, out + 1, inside[0] ?? 1011] } }],
    'GET /api/pictures/:id': [{ params: { id: out }, refused: true }, { params: { id: inside[0] ?? 1011 } }],
    'GET /api/pictures/:id/metadata': [{ params: { id: out }, refused: true }],
    'GET /api/pictures/:id/albums': [{ params: { id: out }, refused: true }, { params: { id: 1011 } }],
    'GET /api/pictures/:id/playable': [{ params: { id: out + 1 }, refused: true }],
    'GET /api/pictures/:id/like': [{ params: { id: out }, refused: true }, { params: { id: 1011 } }],
    'POST /api/zip': [
      { body: { ids: [out] }, refused: true },
      { body: { album: far }, refused: true },
      { body: { event: far }, refused: true },
    ],
    'GET /api/parlour': [{}],
    'GET /api/notices': [{}],
    'PUT /api/pictures/:id/heart': [{ params: { id: out }, body: { on: true }, refused: true }],
    'GET /api/events': [{}],
    'GET /api/events/:id': [{ params: { id: far }, refused: true }],
    'GET /api/places': [{}],
    'GET /api/pile': [{}],
    'PUT /api/pile': [{ body: { put: [out] }, refused: true }],
    'GET /api/albums': [{}],
    'GET /api/albums/loose': [{}],
    'GET /api/albums/:id': [
      { params: { id: far }, refused: true },
      { params: { id: far + 1 }, refused: true },
      { params: { id: 1001 } },
    ],
    'GET /api/albums/:id/why/:picture': [{ params: { id: 1002, picture: out }, refused: true }],
    'POST /api/best': [
      { body: { from: everything, ...wish } },
      { body: { from: { ids: [out] }, ...wish }, refused: true },
      { body: { from: { album: far }, ...wish }, refused: true },
    ],
    'GET /api/people': [{}],
    'GET /api/people/:id': [{ params: { id: far }, refused: true }],
    'POST /api/positions': [{ body: everything }],
    'POST /api/places/search': [{ body: { typed: SECRET, near: null } }],
    'GET /api/places/own': [{}],
    'GET /api/folders': [{}],
    'POST /api/ask': [
      { body: { typed: SECRET, question: EVERYTHING, language: 'en' } },
      { body: { typed: SECRET.slice(0, 4), question: EVERYTHING, language: 'en' } },
      { body: { typed: `@${SECRET.slice(0, 3)}`, question: EVERYTHING, language: 'en' } },
      { body: { typed: `#${SECRET.slice(0, 3)}`, question: EVERYTHING, language: 'en' } },
    ],
    'POST /api/facets': [
      { body: everything },
      { body: { question: { not: { tag: 1001 } } } },
      { body: { question: { event: far } } },
    ],
    'GET /api/this-day': [{}],
    'GET /api/pins': [{}],
    'POST /api/pins': [{ body: { name: 'mine', question: { tag: 1001 } } }],
    'GET /api/marks': [{}],
    'POST /api/comments': [{ body: { ids: [out], text: 'I was here' }, refused: true }],
    'PATCH /api/comments/:id': [{ params: { id: out }, body: { text: 'changed' }, refused: true }],
    'DELETE /api/comments/:id': [{ params: { id: out }, refused: true }],
    'GET /api/tags': [{}],
    'GET /api/tags/:id/beside': [{ params: { id: far }, refused: true }, { params: { id: 1001 } }],
    'POST /api/said': [{ body: { ids: [out] } }, { body: { ids: [1011] } }],
    'POST /api/show': [
      { body: { source: everything } },
      { body: { source: { album: far } }, refused: true },
      { body: { source: { event: far } }, refused: true },
      { body: { source: { person: far } }, refused: true },
      { body: { source: { ids: [out] } } },
    ],
    'POST /api/show/slides': [{ body: { ids: [out] } }, { body: { ids: [1011] } }],
    'GET /api/shows': [{}],
    'GET /api/music': [{}],
    'POST /api/acts/:id/undo': [{ params: { id: 999_999 }, refused: true }],
    'GET /api/derived/:sha/:size': [
      { params: { sha: sha(`${SECRET} 1`).toString('hex'), size: 'small' }, refused: true },
    ],
    'GET /api/derived/:sha/moving': [{ params: { sha: sha(`${SECRET} 2`).toString('hex') }, refused: true }],
    'GET /api/pictures/:id/original': [{ params: { id: out }, refused: true }],
    'GET /api/pictures/:id/shown': [{ params: { id: out }, refused: true }],
    'GET /api/pictures/:id/play': [{ params: { id: out + 1 }, refused: true }],
    'GET /api/pictures/:id/files/:file': [
      { params: { id: out, file: out }, refused: true },
      { params: { id: 1011, file: out }, refused: true },
    ],
    'GET /api/faces/:id/portrait': [{ params: { id: out }, refused: true }],
  };
  /** Routes that say nothing of pictures, or are asked about elsewhere. */
  const NOTHING_OF_PICTURES = new Set([
    'POST /api/leave',
    'POST /api/notices/seen',
    'GET /api/notices/told',
    'PUT /api/notices/told',
    'PUT /api/push-places',
    'DELETE /api/push-places',
    'GET /api/shared-with-me',
    'POST /api/batches',
    'POST /api/uploads',
    'PATCH /api/uploads/:item',
    'HEAD /api/uploads/:item',
    'DELETE /api/uploads/:item',
    'PATCH /api/pins/:id',
    'DELETE /api/pins/:id',
    'POST /api/map/names',
    'GET /api/map/street',
    'GET /api/map/street/:name',
    'GET /api/music/:id/file',
    'GET /api/zip/:token',
    'GET /api/progress',
  ]);
  const routes = [...Object.values(api), ...fileRoutes]
    .filter((e) => (e as Endpoint).part === 'relative')
    .map((e) => `${e.method} ${e.path}`);

  test('every route a relative may call is asked about', () => {
    expect(routes.filter((name) => !ASKED[name] && !NOTHING_OF_PICTURES.has(name))).toEqual([]);
  });

  test.each(Object.entries(ASKED))('%s tells nothing of what lies outside', async (name, asked) => {
    expect(routes).toContain(name);
    const [method, at] = name.split(' ') as [string, string];
    for (const { params = {}, body, refused } of asked) {
      const response = await house.fetch(
        at.replace(/:(\w+)/g, (_, key: string) => String(params[key])),
        { method, ...(body ? { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } } : {}) },
        relative,
      );
      const text = await response.text();
      expect([JSON.stringify(params), JSON.stringify(body), response.status, text.slice(0, 300)]).toEqual([
        expect.anything(),
        body ? expect.anything() : undefined,
        refused ? 404 : 200,
        expect.anything(),
      ]);
      const told = body ? text.replaceAll(JSON.stringify(body).slice(1, -1), '') : text;
      expect(told).not.toMatch(/777\d{4}/);
      // Words somebody typed come back as the words that were asked for.
      if (!/ask|search/.test(name)) expect(told).not.toContain(SECRET);
    }
  });

  const idsSeen = async (as: Caller, headers: Record<string, string> = {}) => {
    const response = await house.fetch(
      '/api/pictures/page',
      { method: 'POST', body: JSON.stringify({ question: EVERYTHING, limit: 500 }), headers },
      as,
    );
    const { tiles } = (await response.json()) as { tiles: { id: number }[] };
    return tiles.map(({ id }) => id).sort((a, b) => a - b);
  };
  const memberOf = async (as: Caller) => (await house.call('me', {}, as)).member!.id;

  test('counts, facets and completions are of what they see', async () => {
    expect((await house.call('library', {}, relative)).pictures).toBe(3);
    expect(await house.call('count', { body: { question: EVERYTHING } }, relative)).toEqual({ count: 3 });
    const { days, count } = await house.call('skeleton', { body: { question: EVERYTHING } }, relative);
    expect([count, days]).toEqual([3, [['2026-05-16', 3]]]);
    const facets = await house.call('facets', { body: { question: EVERYTHING } }, relative);
    expect([facets.pictures, facets.people, facets.tags]).toEqual([
      3,
      [{ of: 1001, pictures: 3 }],
      [1001, 1002].map((of) => ({ of, pictures: 3 })),
    ]);
    expect((await house.call('tags', {}, relative)).tags.map(({ id, below }) => [id, below])).toEqual([
      [1001, 3],
      [1002, 3],
    ]);
    const lines = async (as: Caller) =>
      (await house.call('libraries', {}, as)).libraries.map(({ pictures, bytes }) => [pictures, bytes]);
    expect(await lines(relative)).toEqual([[3, 306]]);
    expect((await lines(house.keeper))[0]![0]).toBe(7);
    const whole = await house.call('facets', { body: { question: EVERYTHING } });
    expect(whole.pictures).toBe(7);
    const { albums } = await house.call('albums', {}, relative);
    expect(albums.map(({ name, pictures }) => [name, pictures])).toEqual([['aainside album', 3]]);
  });

  test('what is kept for other eyes is not told: the keeper asks first, then the relative, and the other way round', async () => {
    for (const [first, second] of [
      [house.keeper, relative],
      [relative, house.keeper],
    ] as const) {
      house.app.changed(1, 'pictures', 'tags', 'people');
      const ask = { body: { typed: 'zz', question: EVERYTHING, language: 'en' as const } };
      for (const as of [first, second])
        expect((await house.call('ask', ask, as)).completions.some(({ label }) => label.startsWith(SECRET))).toBe(
          as === house.keeper,
        );
    }
  });

  describe('the view', () => {
    let agathe: Caller;
    let id: number;
    beforeAll(async () => {
      agathe = await house.member('relative');
      id = await memberOf(agathe);
      await house.app.db('members').where('id', id).update({ view: null, reach: 'family' });
    });

    test('nothing is seen before it is chosen, and from then on what is asked for and is for the family', async () => {
      expect(await idsSeen(agathe)).toEqual([]);
      const question = { event: 1001 };
      const tried = await house.call('tryView', { params: { id }, body: { question, reach: 'family' } });
      expect(tried).toMatchObject({ pictures: 0, beyond: { pictures: 3 } });
      await house.call('setView', { params: { id }, body: { question, reach: 'family' } });
      expect(await idsSeen(agathe)).toEqual([]);
      const did = await house.call('sayAudience', {
        body: { of: 'pictures', ids: [inside[0]!], audience: 'family' },
      });
      expect(await idsSeen(agathe)).toEqual([inside[0]]);
      expect(await house.call('view', { params: { id } })).toMatchObject({
        question,
        names: { event: { 1001: 'aainside event' } },
        pictures: 1,
        beyond: { pictures: 2 },
      });
      await house.undo(did);
      expect(await idsSeen(agathe)).toEqual([]);
      await house.call('setView', { params: { id }, body: { question, reach: 'house' } });
      expect(await idsSeen(agathe)).toEqual(inside);
    });

    test('a keeper looks by their eyes, and can change nothing meanwhile; nobody else can', async () => {
      const eyes = { 'x-gemmel-eyes': String(id), 'content-type': 'application/json' };
      expect(await idsSeen(house.keeper, eyes)).toEqual(inside);
      const me = await house.fetch('/api/me', { headers: eyes });
      expect(await me.json()).toMatchObject({ looking: true, member: { id, part: 'relative' } });
      const write = await house.fetch('/api/comments', {
        method: 'POST',
        headers: eyes,
        body: JSON.stringify({ ids: [inside[0]], text: 'as they do' }),
      });
      expect([write.status, ((await write.json()) as { code: string }).code]).toEqual([403, 'looking-only']);
      expect(
        (await house.fetch('/api/pictures/page', { method: 'POST', headers: eyes, body: '{}' }, agathe)).status,
      ).toBe(403);
      const stranger = await house.fetch('/api/library', { headers: { 'x-gemmel-eyes': '99999' } });
      expect(stranger.status).toBe(404);
    });

    test('what they bring themselves they see, whatever is chosen', async () => {
      await house.call('setView', { params: { id }, body: { question: null, reach: 'family' } });
      await house.app.db('batches').where('id', far).update({ brought_by: id });
      expect(await idsSeen(agathe)).toEqual(outside);
      await house.app.db('batches').where('id', far).update({ brought_by: null });
    });
  });

  test('the parlour: what is new, what is theirs, hearts of their own, who answered them', async () => {
    const agathe = await house.member('relative');
    const id = await memberOf(agathe);
    await house.app
      .db('members')
      .where('id', id)
      .update({ view: JSON.stringify({ v: 1, question: { tag: 1001 } }) });
    const first = await house.call('parlour', {}, agathe);
    expect(first).toMatchObject({ since: null, chosen: true, fresh: { pictures: 3 }, answers: [] });
    // Whoever comes back after hours sees what has come since.
    await house.app
      .db('members')
      .where('id', id)
      .update({ parlour_at: house.app.db.raw('UTC_TIMESTAMP(3) - INTERVAL 7 HOUR') });
    await house.app.db('pictures').whereIn('id', inside.slice(1)).update({ created_at: '2020-01-01' });
    expect((await house.call('parlour', {}, agathe)).fresh.ids).toEqual([inside[0]]);
    await house.call('comment', { body: { ids: [inside[0]!], text: 'How lovely' } }, agathe);
    await house.call('comment', { body: { ids: [inside[0]!, outside[0]!], text: 'It was' } });
    expect((await house.call('parlour', {}, agathe)).answers).toMatchObject([
      { picture: inside[0], author: 'Keeper', text: 'It was', fresh: true },
    ]);
    await house.call('ownHeart', { params: { id: inside[1]! }, body: { on: true } }, agathe);
    expect((await house.call('parlour', {}, agathe)).loved).toEqual({ pictures: 1, ids: [inside[1]] });
    expect((await house.call('picture', { params: { id: inside[1]! } })).loved).toEqual({
      mine: false,
      by: ['relative'],
    });
    await house.call('ownHeart', { params: { id: inside[1]! }, body: { on: false } }, agathe);
    expect((await house.call('picture', { params: { id: inside[1]! } }, agathe)).loved).toEqual({
      mine: false,
      by: [],
    });
  });

  test('a relative sends pictures of their own, and nobody else’s batch takes them', async () => {
    const [agathe, kai] = [await house.member('relative'), await house.member('relative')];
    const bytes = await sharp({ create: { width: 50, height: 40, channels: 3, background: '#a30' } })
      .jpeg()
      .toBuffer();
    const body = { name: null, files: [{ path: 'mine.jpg', bytes: bytes.length }] };
    const { items } = await house.call('openBatch', { body }, agathe);
    expect((await house.send(items[0]!, bytes, kai)).status).toBe(410);
    expect((await house.send(items[0]!, bytes, agathe)).status).toBe(201);
    house.runner.nudge();
    while ((await house.call('parlour', {}, agathe)).brought.pictures === 0)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect((await house.call('parlour', {}, kai)).brought.pictures).toBe(0);
    await house.call('intoBin', { body: { ids: (await house.call('parlour', {}, agathe)).brought.ids } });
  });

  describe('for whom pictures are', () => {
    let gran: Caller;
    beforeAll(async () => {
      gran = await house.member('relative');
      await house.app
        .db('members')
        .where('id', await memberOf(gran))
        .update({ reach: 'family' });
    });
    const say = (body: Parameters<typeof house.call<'sayAudience'>>[1]['body'], as?: Caller) =>
      house.call('sayAudience', { body }, as);

    test('said of itself, else the narrowest of what it belongs to, else as for all of the library', async () => {
      expect(await idsSeen(gran)).toEqual([]);
      await say({ of: 'library', audience: 'family' });
      expect(await idsSeen(gran)).toEqual([...inside, ...outside]);
      await say({ of: 'person', id: far, audience: 'house' });
      expect(await idsSeen(gran)).toEqual(inside);
      await say({ of: 'album', id: far, audience: 'link' });
      expect(await idsSeen(gran)).toEqual(inside);
      await say({ of: 'pictures', ids: [outside[0]!], audience: 'family' });
      expect(await idsSeen(gran)).toEqual([...inside, outside[0]]);
      expect(await house.call('meant', { body: { ids: [outside[1]!] } })).toMatchObject({
        meant: { house: 1 },
        why: { of: 'person', name: 'zzunseen person' },
      });
      await say({ of: 'person', id: far, audience: null });
      await say({ of: 'circle', id: far, audience: 'house' });
      expect(await idsSeen(gran)).toEqual([...inside, outside[0]]);
      await say({ of: 'circle', id: far, audience: null });
      await say({ of: 'library', audience: 'house' });
      // What is said of an album opens what it holds.
      expect(await idsSeen(gran)).toEqual(outside);
      await say({ of: 'device', id: far, audience: 'house' });
      expect(await idsSeen(gran)).toEqual([outside[0]]);
      await say({ of: 'device', id: far, audience: null });
      await say({ of: 'place', id: far, audience: 'house' });
      expect(await idsSeen(gran)).toEqual([outside[0]]);
      await say({ of: 'place', id: far, audience: null });
      const { said } = await house.call('audiences', {});
      expect(said).toEqual([{ of: 'album', id: far, name: 'zzunseen album', audience: 'link' }]);
      await say({ of: 'album', id: far, audience: null });
      await say({ of: 'pictures', ids: [outside[0]!], audience: null });
      expect(await idsSeen(gran)).toEqual([]);
    });

    test('only me: another keeper sees it no more than a stranger, in rows, counts and by its number', async () => {
      const other = await house.member('keeper');
      await say({ of: 'pictures', ids: outside, audience: 'me' });
      expect(await idsSeen(house.keeper)).toEqual([...inside, ...outside]);
      expect(await idsSeen(other)).toEqual(inside);
      expect((await house.call('library', {}, other)).pictures).toBe(3);
      expect((await house.fetch(`/api/pictures/${outside[0]}`, {}, other)).status).toBe(404);
      expect((await house.fetch(`/api/pictures/${outside[0]}/original`, {}, other)).status).toBe(404);
      await expect(
        house.call('change', { body: { ids: [outside[0]!], change: { rating: 5 } } }, other),
      ).rejects.toMatchObject({ status: 404 });
      await expect(house.call('intoBin', { body: { ids: outside } }, other)).rejects.toMatchObject({ status: 404 });
      await house.call('change', { body: { ids: [outside[0]!], change: { rating: 5 } } });
      await say({ of: 'pictures', ids: outside, audience: null });
      expect(await idsSeen(other)).toEqual([...inside, ...outside]);
    });

    test('only a keeper says it of the library, and only of what is theirs', async () => {
      const helper = await house.member('helper');
      await expect(say({ of: 'library', audience: 'link' }, helper)).rejects.toMatchObject({ status: 403 });
      await expect(say({ of: 'album', id: 99_999, audience: 'link' })).rejects.toMatchObject({ status: 404 });
      await expect(say({ of: 'pictures', ids: [99_999], audience: 'link' })).rejects.toMatchObject({ status: 404 });
    });
  });

  test('news names no picture that lies outside', async () => {
    const response = await house.fetch('/api/progress', {}, relative);
    const reader = response.body!.getReader();
    const next = async (event: string) => {
      for (let told = ''; ;) {
        const { value } = await reader.read();
        told += Buffer.from(value!).toString();
        if (told.includes(event) && told.endsWith('\n\n')) return told;
      }
    };
    await next('event: hello');
    await house.call('change', { body: { ids: [outside[0]!], change: { rating: 4 } } });
    expect(await next('"said"')).not.toMatch(/777\d{4}/);
    await reader.cancel();
  });
});

test('a relative’s statement on a table nobody has thought of is refused', () => {
  const sight = { library: 1, member: 1, names: true, key: 'x', sql: 'TRUE', values: [] };
  expect(() => narrowed({ sql: 'SELECT * FROM shares' }, sight)).toThrow(NotThrough);
  expect(narrowed({ sql: 'select * from `faces` where `id` = ?', bindings: [5] }, sight)).toMatchObject({
    bindings: [1, 5],
  });
  // Names joined along narrowed rows are as they are; the rows are narrowed, and a comment hides nothing.
  const along = narrowed(
    { sql: 'SELECT t.name FROM picture_tags pt JOIN tags AS t /* along */ ON t.id = pt.tag_id' },
    sight,
  );
  expect(along.sql).toContain('picture_tags AS (');
  expect(along.sql).not.toMatch(/\btags AS \(WITH/);
  expect(narrowed({ sql: 'SELECT t.name FROM tags AS t' }, sight).sql).toContain('tags AS (WITH');
  expect(() => narrowed({ sql: '/* x */ SELECT * FROM pictures' }, sight)).toThrow(NotThrough);
});
