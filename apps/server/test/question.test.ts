import {
  keyOfNumber,
  fold,
  forgivable,
  hear,
  matches,
  middleOf,
  nodes,
  oneOff,
  readWhen,
  QUESTION_LIMITS,
  type Condition,
  type Heard,
  type PictureFacts,
  type Question,
  searchable,
  wordsOf,
  type World,
} from '@gemmel/core';
import { Question as QuestionSchema } from '@gemmel/core';
import fc from 'fast-check';
import { namesOf } from '../src/question/named';
import { toSql } from '../src/question/toSql';
import { readAgain } from '../src/question/words';
import { worldOf } from '../src/question/world';
import { folderTree } from '../src/folder/folders';
import { spanColumns } from '../src/time/span';
import { tagTree } from '../src/tag/tags';
import { openHouse, type House } from './house';
import { LONG, times } from './long';

/** How many random questions are asked in all; each is held against every picture of its library. */
const QUESTIONS = times(200, 10_000);
/** The same questions in every short run. */
const SEED = LONG ? Date.now() % 1e9 : 100;
const LIBRARIES = 4;
const PICTURES = 60;
const TODAY = '2026-11-24';

/** Small ranges, so that questions hit often; awkward values (no date, accents, wildcards) among them. */
const day = fc.constantFrom(
  '2024-02-29',
  '2025-12-31',
  '2026-01-01',
  '2026-05-16',
  '2026-11-18',
  '2026-11-23',
  '2026-11-24',
  '1970-07-15',
);
const few = (most: number) => fc.integer({ min: 1, max: most });
const words = fc.constantFrom(
  'Kite day',
  'kïte',
  '100%',
  'a_b',
  'Møre',
  'STRASSE straße',
  '=',
  'gran’s',
  'é',
  '  two  words ',
);
const picture = fc.record({
  kind: fc.constantFrom('photo' as const, 'video' as const),
  day: fc.option(day),
  /** What is known instead of a day. */
  said: fc.option(
    fc.constantFrom(
      '1970',
      'summer 1970',
      'about 1960',
      'May 2026',
      '2026',
      '1960s',
      'about 16 May 2026',
      'winter 2025',
    ),
    { freq: 3 },
  ),
  rating: fc.integer({ min: 0, max: 5 }),
  favourite: fc.boolean(),
  people: fc.uniqueArray(few(4), { maxLength: 3 }),
  waiting: fc.integer({ min: 0, max: 2 }),
  passing: fc.integer({ min: 0, max: 1 }),
  tags: fc.uniqueArray(few(5), { maxLength: 3 }),
  event: fc.option(few(3)),
  albums: fc.uniqueArray(few(3), { maxLength: 2 }),
  batch: few(2),
  device: fc.option(few(2)),
  added: day,
  double: fc.boolean(),
  where: fc.option(
    fc.record({
      country: fc.constantFrom('SE', 'PT'),
      region: fc.option(fc.constantFrom('Visby', 'Umeå')),
      place: fc.constantFrom('Visby', 'visby', 'Porto'),
    }),
  ),
  position: fc.option(
    fc.record({ lat: fc.constantFrom(57.64, 41.15, -17.5, 0), lon: fc.constantFrom(18.29, -8.61, 179.9, -179.9) }),
  ),
  ownPlace: fc.option(few(2)),
  folder: fc.option(few(3)),
  title: fc.option(words),
  caption: fc.option(fc.oneof(words, fc.constant(''))),
  comments: fc.array(
    words.filter((w) => w.trim() !== ''),
    { maxLength: 2 },
  ),
  seen: fc.option(words, { freq: 4 }),
  mark: fc.option(few(2)),
  observed: fc.uniqueArray(fc.constantFrom('blurred' as const, 'dark' as const, 'dog' as const), { maxLength: 2 }),
  camera: fc.option(fc.constantFrom('Lumiva X100', 'lumiva x100')),
  lens: fc.option(fc.constantFrom('35mm f/2', '50mm')),
  format: fc.constantFrom('jpg', 'heic'),
  sides: fc.constantFrom(
    [4000, 3000],
    [3000, 4000],
    [103, 100],
    [1031, 1000],
    [2200, 1000],
    [2201, 1000],
    [1000, 2300],
  ),
  time: fc.constantFrom('12:00:00', '12:29:59.500', '13:00:00'),
  /** Who said something of it, and on which day. */
  acts: fc.array(fc.record({ member: few(2), day }), { maxLength: 2 }),
});
/** Names of things that texts may hit, too: some are the same, or one letter off. */
const TAGS = ['kites', 'Lake', 'lakes', 'lantern', 'Møre'];
const PEOPLE = ['Tove Hallorin', 'Gran', 'Emil', 'Tove Lake'];
const EVENTS = ['Kite day on the heath', null, 'Lantern parade'];
const ALBUMS = ['Best of kites', 'For Gran', 'Gone with lakes'];
const FOLDERS = ['Grandpa’s disk', '1974', 'Big one'];
const OWN = ['the allotment', 'Gran’s house'];
type Drawn = typeof picture extends fc.Arbitrary<infer T> ? T : never;

const span = fc.oneof(
  fc.tuple(day, day).map(([a, b]) => (a < b ? { from: a, to: b } : { from: b, to: a })),
  day.map((from) => ({ from })),
  day.map((to) => ({ to })),
  fc.constantFrom(1, 7, 400).map((lastDays) => ({ lastDays })),
  fc.record({ month: fc.constantFrom(1, 2, 5, 11) }),
  fc.record({ month: fc.constantFrom(2, 5, 11), day: fc.constantFrom(16, 24, 29) }),
  fc.constantFrom('1970', '2026', '1960', '2026-05', '2026-12').map((only) => ({ only })),
  fc
    .constantFrom<[string, string]>(
      ['1970-01-01', '1970-12-31'],
      ['1970-06-01', '1970-08-31'],
      ['2026-05-01', '2026-05-31'],
    )
    .map(([from, to]) => ({ from, to })),
);
const thing = fc.constantFrom(
  'title' as const,
  'comment' as const,
  'mark' as const,
  'place' as const,
  'date' as const,
  'caption' as const,
  'names' as const,
  'tags' as const,
  'event' as const,
  'double' as const,
  'day' as const,
);
const condition: fc.Arbitrary<Condition> = fc.oneof(
  fc
    .record({
      people: fc.uniqueArray(few(5), { minLength: 1, maxLength: 3 }),
      mode: fc.constantFrom('all' as const, 'any' as const, 'among' as const, 'only' as const),
    })
    .map((who) => ({ who })),
  few(4).map((min) => ({ faces: { min } })),
  few(6).map((tag) => ({ tag })),
  span.map((taken) => ({ taken })),
  fc.constantFrom(
    { where: { country: 'SE' } },
    { where: { country: 'SE', place: 'Visby' } },
    { where: { country: 'PT', place: 'Visby' } },
    { where: { country: 'SE', region: 'Umeå' } },
    { where: { box: [18, 57, 19, 58] as [number, number, number, number] } },
    { where: { box: [170, -90, -170, 90] as [number, number, number, number] } },
    { where: { circle: { lat: 57, lon: 18, km: 75 } } },
    { where: { circle: { lat: -17, lon: -179.95, km: 100 } } },
    { where: { circle: { lat: 0, lon: 0, km: 20_000 } } },
    { where: { own: 1 } },
    { folder: { id: 1 } },
    { folder: { id: 1, only: true } },
    { folder: { id: 2 } },
  ),
  few(4).map((event) => ({ event })),
  few(4).map((album) => ({ album })),
  few(3).map((batch) => ({ batch })),
  few(3).map((device) => ({ device })),
  fc.constantFrom(1, 7, 400).map((lastDays) => ({ added: { lastDays } })),
  fc.constantFrom({ kind: 'photo' as const }, { kind: 'video' as const }),
  fc
    .tuple(fc.integer({ min: 0, max: 5 }), fc.integer({ min: 0, max: 5 }))
    .map(([a, b]) => ({ rating: { min: Math.min(a, b), max: Math.max(a, b) } })),
  fc.boolean().map((favourite) => ({ favourite })),
  fc
    .oneof(
      words.filter((w) => w.trim() !== ''),
      fc.constantFrom(
        '%',
        '_',
        'kite',
        'IMG',
        '.jpg',
        'lantren',
        'lak',
        'big one',
        'one big',
        'two words',
        'hallorin',
        'sverige',
      ),
      fc.constantFrom(
        'visbi',
        'Visby',
        'day on',
        'allotmant',
        'gran',
        'grandpas',
        'img 1',
        'kites kites',
        'strase',
        '!!',
      ),
    )
    .map((text) => ({ text })),
  few(3).map((mark) => ({ mark })),
  few(3).map((saidBy) => ({ saidBy })),
  fc.constantFrom(1, 7, 400).map((lastDays) => ({ changed: { lastDays } })),
  fc
    .constantFrom('blurred' as const, 'dark' as const, 'dog' as const, 'cat' as const)
    .map((observed) => ({ observed })),
  fc.constantFrom('Lumiva X100', 'none').map((camera) => ({ camera })),
  fc.constantFrom('35mm f/2', 'none').map((lens) => ({ lens })),
  fc.constantFrom('jpg', 'heic', 'gif').map((format) => ({ format })),
  fc
    .constantFrom('landscape' as const, 'portrait' as const, 'square' as const, 'panorama' as const)
    .map((shape) => ({ shape })),
  fc.constantFrom({ min: 12 }, { max: 0.0103 }, { min: 2.2, max: 2.3 }, { min: 0 }).map((size) => ({ size })),
  fc
    .record({
      at: fc.constantFrom('2026-05-16T12:00:00', '2026-01-01T00:30:00'),
      minutes: fc.constantFrom(1, 29, 30, 10_080),
    })
    .map((near) => ({ near })),
  few(70).map((like) => ({ like })),
  fc.constant({ inNoAlbum: true as const }),
  thing.map((has) => ({ has })),
  thing.map((lacks) => ({ lacks })),
);
const question: fc.Arbitrary<Question> = fc.letrec<{ tree: Question }>((tie) => ({
  tree: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    { weight: 5, arbitrary: condition as fc.Arbitrary<Question> },
    { weight: 1, arbitrary: fc.array(tie('tree'), { maxLength: 3 }).map((all) => ({ all })) },
    { weight: 1, arbitrary: fc.array(tie('tree'), { maxLength: 3 }).map((any) => ({ any })) },
    { weight: 1, arbitrary: tie('tree').map((not) => ({ not })) },
  ),
})).tree;

describe('questions in the database', () => {
  let house: House;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house?.stop());

  /** Writes a random library: its numbers 1, 2, 3 … of people, tags, events become rows with ids of their own. */
  async function settle(drawn: readonly Drawn[], n: number) {
    const { db } = house.app;
    const [library] = await db('libraries').insert({ slug: `random-${n}`, name: `Random ${n}` });
    const row = { library_id: library! };
    const ids = async (table: string, rows: object[]) => {
      const made: number[] = [];
      for (const one of rows) made.push((await db(table).insert({ ...row, ...one }))[0]!);
      return (k: number) => made[k - 1] ?? 999_000 + k;
    };
    const count = (k: number) => Array.from({ length: k }, (_, i) => i + 1);
    const person = await ids(
      'people',
      PEOPLE.map((name, i) => ({ name, nickname: i === 2 ? 'Lantern boy' : null })),
    );
    const tag = await ids(
      'tags',
      TAGS.map((name) => ({ name, folded: fold(name), branch: `0 ${fold(name)}` })),
    );
    await db('tag_names').insert({ ...row, tag_id: tag(4), name: 'Laterne', folded: 'laterne' });
    const mark = await ids(
      'marks',
      ['to print', 'scan again'].map((meaning, i) => ({ meaning, colour: 'plum', shape: 'ring', position: i })),
    );
    const member = await ids(
      'members',
      count(2).map((k) => ({ name: `M${k}`, part: 'helper' })),
    );
    // 2 below 1, 3 below 2: asking for 1 asks for all three.
    await db('tags')
      .where('id', tag(2))
      .update({ parent_id: tag(1) });
    await db('tags')
      .where('id', tag(3))
      .update({ parent_id: tag(2) });
    const event = await ids(
      'events',
      EVENTS.map((title) => ({ title, start_day: TODAY, end_day: TODAY })),
    );
    const album = await ids(
      'albums',
      ALBUMS.map((name) => ({ kind: 'plain', name })),
    );
    await db('albums')
      .where('id', album(3))
      .update({ removed_at: db.raw('UTC_TIMESTAMP(3)') });
    const batch = await ids(
      'batches',
      count(2).map((k) => ({ name: `b${k}` })),
    );
    const device = await ids(
      'devices',
      count(2).map((k) => ({ name: `d${k}`, make: 'm', model: `d${k}` })),
    );
    const ownPlace = await ids(
      'own_places',
      OWN.map((name) => ({ name, lat: 0, lon: 0, metres: 100 })),
    );
    const folder = await ids(
      'folders',
      FOLDERS.map((name, k) => ({ name, path_hash: Buffer.alloc(32, k + 1) })),
    );
    // 2 below 1, 3 below 2, as with the tags.
    await db('folders')
      .where('id', folder(2))
      .update({ parent_id: folder(1) });
    await db('folders')
      .where('id', folder(3))
      .update({ parent_id: folder(2) });
    const facts = new Map<number, PictureFacts>();
    for (const [i, d] of drawn.entries()) {
      const name = `IMG_${i}.jpg`;
      const text = searchable([d.title, d.caption, name, null, ...d.comments, d.seen]);
      const span = d.said === null ? null : readWhen(d.said, 2026)!;
      const taken = span ? middleOf(span).slice(0, 10) : d.day;
      const [id] = await db('pictures').insert({
        ...row,
        sha256: Buffer.alloc(32, i + 1),
        kind: d.kind,
        format: d.format,
        name,
        vault_path: name,
        bytes: 1,
        width: d.sides[0]!,
        height: d.sides[1]!,
        camera: d.camera,
        lens: d.lens,
        mark_id: d.mark && mark(d.mark),
        seen_words: d.seen,
        day: taken,
        taken_local: taken && `${taken} ${d.time}`,
        ...spanColumns(span),
        event_id: d.event && event(d.event),
        batch_id: batch(d.batch),
        device_id: d.device && device(d.device),
        created_at: `${d.added} 23:59:00`,
        alike_id: d.double ? 1 : null,
        lat: d.position?.lat ?? null,
        lon: d.position?.lon ?? null,
        region: d.where?.region ?? null,
        own_place_id: d.ownPlace && ownPlace(d.ownPlace),
        folder_id: d.folder && folder(d.folder),
        country: d.where?.country ?? null,
        place: d.where?.place ?? null,
        title: d.title,
        caption: d.caption,
        words: '',
        rating: d.rating,
        favourite: d.favourite,
        thumb: Buffer.alloc(0),
      });
      const face = (more: object) =>
        db('faces').insert({
          ...row,
          picture_id: id!,
          x: 0,
          y: 0,
          w: 0.1,
          h: 0.1,
          height_px: 50,
          quality: 0.5,
          vector_a: Buffer.alloc(4),
          vector_b: Buffer.alloc(4),
          ...more,
        });
      for (const p of d.people) await face({ state: 'named', person_id: person(p), named_by: 'hand' });
      for (let f = 0; f < d.waiting; f++) await face({ state: 'waiting' });
      for (let f = 0; f < d.passing; f++) await face({ state: 'passer-by' });
      for (const t of d.tags) await db('picture_tags').insert({ ...row, picture_id: id!, tag_id: tag(t) });
      for (const a of d.albums)
        await db('album_pictures').insert({ ...row, picture_id: id!, album_id: album(a), position: keyOfNumber(i) });
      for (const said of d.comments) await db('comments').insert({ ...row, picture_id: id!, author: 'M', text: said });
      for (const kind of d.observed)
        await db('picture_observations').insert({ ...row, picture_id: id!, kind, sure: 1 });
      for (const act of d.acts) {
        const [done] = await db('acts').insert({
          ...row,
          member_id: member(act.member),
          kind: 'say',
          words: '{}',
          pictures: 1,
          at: `${act.day} 23:59:00`,
        });
        await db('act_pictures').insert({ ...row, picture_id: id!, act_id: done! });
      }
      facts.set(id!, {
        id: id!,
        title: d.title,
        comments: d.comments.length,
        mark: d.mark === null ? null : mark(d.mark),
        observed: d.observed,
        camera: d.camera,
        lens: d.lens,
        format: d.format,
        width: d.sides[0]!,
        height: d.sides[1]!,
        moment: taken && !span ? `${taken}T${d.time.slice(0, 8)}` : null,
        saidBy: d.acts.map((act) => member(act.member)),
        changed:
          d.acts
            .map((act) => act.day)
            .sort()
            .at(-1) ?? null,
        kind: d.kind,
        day: taken,
        span,
        rating: d.rating,
        favourite: d.favourite,
        people: d.people.map(person),
        faces: d.people.length + d.waiting,
        unnamed: d.waiting,
        tags: d.tags.map(tag),
        event: d.event === null ? null : event(d.event),
        albums: d.albums.filter((a) => a !== 3).map(album), // a removed album holds nothing
        batch: batch(d.batch),
        device: d.device === null ? null : device(d.device),
        added: d.added,
        hasDouble: d.double,
        country: d.where?.country ?? null,
        place: d.where?.place ?? null,
        position: d.position,
        region: d.where?.region ?? null,
        ownPlace: d.ownPlace === null ? null : ownPlace(d.ownPlace),
        folder: d.folder === null ? null : folder(d.folder),
        caption: d.caption,
        words: text,
      });
    }
    await readAgain(db, library!, [...facts.keys()]);
    const all = [...facts.keys()];
    /** The same question with this library's own ids. */
    const here = (q: Question): Question => {
      if ('all' in q) return { all: q.all.map(here) };
      if ('any' in q) return { any: q.any.map(here) };
      if ('not' in q) return { not: here(q.not) };
      if ('who' in q) return { who: { ...q.who, people: q.who.people.map(person) } };
      if ('tag' in q) return { tag: tag(q.tag) };
      if ('event' in q) return { event: event(q.event) };
      if ('mark' in q) return { mark: mark(q.mark) };
      if ('saidBy' in q) return { saidBy: member(q.saidBy) };
      if ('like' in q) return { like: all[q.like - 1] ?? 999_000 };
      if ('album' in q) return { album: album(q.album) };
      if ('batch' in q) return { batch: batch(q.batch) };
      if ('device' in q) return { device: device(q.device) };
      if ('folder' in q) return { folder: { ...q.folder, id: folder(q.folder.id) } };
      if ('where' in q && 'own' in q.where) return { where: { own: ownPlace(q.where.own) } };
      return q;
    };
    return { library: library!, facts, here };
  }

  test(`the predicate and SQL agree on ${QUESTIONS} random questions`, async () => {
    const { db } = house.app;
    let asked = 0;
    let hits = 0;
    for (let n = 0; n < LIBRARIES; n++) {
      const drawn = fc.sample(picture, { numRuns: PICTURES, seed: SEED + 11 + n });
      const { library, facts, here } = await settle(drawn, n);
      const { named } = await namesOf(db, library);
      const tagParent = await tagTree(db, library);
      const folderParent = await folderTree(db, library);
      /** Words of all pictures, and a few that look like one, as plain lists: what the database must agree with. */
      const spoken = new Set([...facts.values()].flatMap((f) => wordsOf(f.words)));
      const alike = new Map([...facts.keys()].map((id, i, all) => [id, new Set([id, all[(i * 7) % all.length]!])]));
      await fc.assert(
        fc.asyncProperty(question, async (drawnQuestion) => {
          const q = here(drawnQuestion);
          const heard = new Map<string, Heard>();
          for (const part of nodes(q))
            if ('text' in part) {
              const word = forgivable(part.text);
              const begins = word === null || [...spoken].some((other) => other.startsWith(word));
              const near = word === null ? [] : [...spoken].filter((other) => oneOff(word, other));
              heard.set(part.text, hear(part.text, named, { tagParent, folderParent }, { begins, near }));
            }
          const world: World = { today: TODAY, tagParent, folderParent, heard, alike };
          const found_ = await worldOf(db, library, q);
          for (const [text, one] of heard) expect([text, found_.heard!.get(text)]).toEqual([text, one]);
          const { sql, values } = toSql(q, library, world);
          const [rows] = (await db.raw(`SELECT p.id FROM pictures p WHERE p.library_id = ? AND (${sql})`, [
            library,
            ...values,
          ])) as [{ id: number }[]];
          const found = rows.map((r) => r.id).sort((a, b) => a - b);
          const expected = [...facts].filter(([, f]) => matches(q, f, world)).map(([id]) => id);
          asked++;
          hits += found.length;
          expect(found).toEqual(expected);
        }),
        { numRuns: Math.ceil(QUESTIONS / LIBRARIES), seed: SEED + n },
      );
    }
    console.log(`${asked} questions on ${LIBRARIES} libraries of ${PICTURES}: predicate and SQL agree; ${hits} hits`);
    expect(asked).toBeGreaterThanOrEqual(QUESTIONS);
    expect(hits).toBeGreaterThan(asked);
  }, 400_000);

  test('questions from outside are kept within bounds', () => {
    let deep: unknown = { favourite: true };
    for (let i = 0; i < QUESTION_LIMITS.depth * 3; i++) deep = { not: deep };
    expect(QuestionSchema.safeParse(deep).success).toBe(false);
    expect(QuestionSchema.safeParse({ all: Array.from({ length: 500 }, () => ({ favourite: true })) }).success).toBe(
      false,
    );
    expect(QuestionSchema.safeParse({ tag: "1'; DROP TABLE pictures" }).success).toBe(false);
    expect(QuestionSchema.safeParse({ all: [{ favourite: true, rating: { min: 1 } }] }).success).toBe(false);
  });
});
