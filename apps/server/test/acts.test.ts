import fc from 'fast-check';
import { changePile } from '../src/pile/pile';
import { answerFaces } from '../src/faces/answers';
import { makeCircle, changeCircle, removeCircle } from '../src/person/circles';
import { forgetPerson, joinPeople } from '../src/person/join';
import { changePerson } from '../src/person/people';
import { changeAlbum, copyAlbum, makePlainAlbum, makeSmartAlbum, removeAlbum } from '../src/album/albums';
import { makeChapter, removeChapter } from '../src/album/chapters';
import { joinAlbums, moveInAlbum, movePictures, putIntoAlbum, setOrder, takeOut } from '../src/album/fill';
import { changeShelf, makeShelf, removeShelf, shelve } from '../src/album/shelves';
import { handAlbum } from '../src/album/smart';
import { joinEvents, makeEvent, moveToEvent, nameEvent, removeEvent, splitEvent } from '../src/event/shape';
import { pictureOf, unpack } from '../src/act/record';
import { intoBin, restore } from '../src/bin/acts';
import { undoAct } from '../src/act/undo';
import type { Row, Table } from '../src/act/kept';
import { ORDER, TABLES, columnsOf } from '../src/act/tables';
import type { App } from '../src/context';
import { changeComment, removeComment, writeComment } from '../src/comment/comments';
import { changeMark, makeMark, removeMark } from '../src/mark/marks';
import { changePictures } from '../src/picture/change';
import { makePin, removePin } from '../src/pin/pins';
import { changeTag, clearTag, joinTags, keepApart, makeTag, removeTag } from '../src/tag/tree';
import { makeOwnPlace, placePictures, removeOwnPlace } from '../src/place/places';
import { Refused } from '../src/problem';
import { mendDates } from '../src/time/redate';
import { openHouse, type Caller, type House } from './house';
import { times } from './long';
import { pictureRow } from './pictures';

/** Everything people said of a library: each row of each table that acts change, but not what the machine makes of it. */
async function said(app: App): Promise<Record<string, Record<string, Row>>> {
  const all: Record<string, Record<string, Row>> = {};
  for (const table of ORDER) {
    const kept = TABLES[table];
    const rows = (await app
      .db(table)
      .where(kept.library ?? 'library_id', 1)
      .select(
        columnsOf(kept).map((c) => (kept.json?.includes(c) ? app.db.raw('CAST(?? AS CHAR) AS ??', [c, c]) : c)),
      )) as Row[];
    all[table] = Object.fromEntries(rows.map((row) => [kept.key.map((c) => row[c]).join('|'), row]));
  }
  return all;
}

/** How long the drawn acts may take, in ms. */
const LONGEST = times(120_000, 600_000);

describe('acts', () => {
  let house: House;
  let app: App;
  let ids: number[];
  let faces: number[];
  let helper: Caller;
  let made = 0;
  const mum = { library: 1, member: 1, part: 'keeper' as const };
  let dad: { library: number; member: number; part: 'helper' };
  beforeAll(async () => {
    house = await openHouse();
    ({ app } = house);
    await house.runner.stop();
    // Marks that nobody made come back from the bin only while faces are recognised.
    await app.db('libraries').where('id', 1).update({ recognise: true });
    helper = await house.member('helper');
    const { id } = (await app.db('members').where('part', 'helper').first('id')) as { id: number };
    dad = { library: 1, member: id, part: 'helper' };
  });
  afterAll(() => house?.stop());

  const clear = async () => {
    await app.db('acts').delete();
    for (const table of [...ORDER].reverse())
      if (!['libraries', 'devices', 'sources', 'batches'].includes(table)) {
        // Words that stand below others go first.
        while (table === 'tags') {
          const parents = (await app.db('tags').whereNotNull('parent_id').select('parent_id')).map((t) => t.parent_id!);
          if (parents.length === 0) break;
          await app.db('tags').whereNotNull('parent_id').whereNotIn('id', parents).delete();
        }
        if (table === 'pictures') {
          for (const other of ['pile_pictures', 'sidecars', 'face_offers']) await app.db(other).delete();
        }
        await app.db(table).where('library_id', 1).delete();
      }
    for (const table of ['jobs', 'changes']) await app.db(table).delete();
  };
  /** Eight pictures of four days, two faces in each. */
  const again = async () => {
    await clear();
    ids = [];
    faces = [];
    for (let i = 0; i < 8; i++) {
      const id = await pictureRow(app, ++made, { day: `2026-05-${16 + (i >> 1)}` });
      ids.push(id);
      const box = { y: 0.2, w: 0.2, h: 0.3, height_px: 200, quality: 0.5 };
      const none = { vector_a: Buffer.alloc(0), vector_b: Buffer.alloc(0) };
      for (const x of [0.1, 0.6])
        faces.push((await app.db('faces').insert({ library_id: 1, picture_id: id, x, ...box, ...none }))[0]!);
    }
  };
  beforeEach(again);
  const undo = (id: number | null, by: typeof mum | typeof dad = mum) => undoAct(app, by, id!);
  const picture = (id: number) =>
    app.db('pictures').where('id', id).first('rating', 'caption', 'title', 'favourite', 'words') as Promise<{
      rating: number;
      caption: string | null;
      title: string | null;
      favourite: number;
      words: string;
    }>;

  test('taking stars back leaves the caption that somebody wrote meanwhile', async () => {
    const { act } = await changePictures(app, mum, ids, { rating: 5 });
    await changePictures(app, dad, [ids[0]!], { caption: 'The red kite' });
    await changePictures(app, dad, [ids[1]!], { rating: 2 });
    const undone = await undo(act);
    expect(undone).toMatchObject({ back: 7, left: 1, gone: [] });
    expect(await picture(ids[0]!)).toMatchObject({ rating: 0, caption: 'The red kite' });
    expect(await picture(ids[1]!)).toMatchObject({ rating: 2 });
    await expect(undo(act)).rejects.toMatchObject({ status: 409 });
    // Doing it again is undoing the undoing; what somebody said in between still stands.
    await undo(undone.act);
    expect((await Promise.all(ids.map(picture))).map((p) => p.rating)).toEqual([5, 2, 5, 5, 5, 5, 5, 5]);
    await undo(act);
    expect((await Promise.all(ids.map(picture))).map((p) => p.rating)).toEqual([0, 2, 0, 0, 0, 0, 0, 0]);
  });

  test('words are found again after an undo, sidecars are written, and everybody hears of it', async () => {
    await app.db('changes').delete();
    const { act } = await changePictures(app, mum, [ids[0]!], { title: 'Kite', caption: 'Windy' });
    expect(await app.db('changes').orderBy('id').select('topic', 'ids')).toEqual([
      { topic: 'said', ids: String(ids[0]) },
      { topic: 'acts', ids: null },
    ]);
    expect(await app.db('sidecars').where('picture_id', ids[0]!).first('dirty_at')).toBeDefined();
    expect((await picture(ids[0]!)).words).toContain('windy');
    await app.db('sidecars').delete();
    await app.db('jobs').delete();
    await undo(act);
    expect((await picture(ids[0]!)).words).not.toContain('windy');
    expect(await app.db('sidecars').where('picture_id', ids[0]!).first('dirty_at')).toBeDefined();
    expect(await app.db('jobs').where('kind', 'sidecars').first('id')).toBeDefined();
  });

  test('a new tag goes with its act, unless somebody has used it since', async () => {
    const first = await changePictures(app, mum, ids.slice(0, 3), { addTags: ['regatta'] });
    const second = await changePictures(app, dad, [ids[7]!], { addTags: ['Regatta'] });
    await undo(first.act);
    expect(await app.db('picture_tags').select('picture_id')).toEqual([{ picture_id: ids[7] }]);
    expect(await app.db('tags').select('name')).toEqual([{ name: 'regatta' }]);
    await undo(second.act);
    expect(await app.db('picture_tags').select('picture_id')).toEqual([]);
  });

  test('an album that somebody else has filled stays whole; one that nobody touched goes, and says so', async () => {
    const theirs = await makePlainAlbum(app, mum, 'Kites', ids.slice(0, 3));
    await putIntoAlbum(app, dad, theirs.id, { ids: [ids[5]!] });
    expect(await undo(theirs.act)).toMatchObject({ act: null, back: 0 });
    expect(await app.db('album_pictures').where('album_id', theirs.id)).toHaveLength(4);
    const own = await makePlainAlbum(app, mum, 'Lake', ids.slice(0, 3));
    const undone = await undo(own.act);
    expect(undone).toMatchObject({ left: 0, gone: [{ what: 'album', id: own.id }] });
    expect(await app.db('albums').where('id', own.id).first('id')).toBeUndefined();
    await undo(undone.act);
    expect(await app.db('album_pictures').where('album_id', own.id).orderBy('position').select('picture_id')).toEqual(
      ids.slice(0, 3).map((picture_id) => ({ picture_id })),
    );
  });

  test('a person whose name was taken away comes back with faces, circles and noes; not when another has the name', async () => {
    const { act } = await answerFaces(app, mum, { faces: [faces[0]!, faces[2]!], odd: [], is: { newPerson: 'Tove' } });
    const { id } = (await app.db('people').first('id')) as { id: number };
    await makeCircle(app, mum, { name: 'Cousins', people: [id] });
    await answerFaces(app, dad, { faces: [faces[4]!, faces[6]!], odd: [faces[6]!], is: { person: id } });
    const before = await said(app);
    const gone = await forgetPerson(app, dad, id);
    expect(await app.db('faces').where('state', 'named').first('id')).toBeUndefined();
    const back = await undo(gone.act, dad);
    expect(back).toMatchObject({ left: 0 });
    expect(await said(app)).toEqual(before);
    await undo(back.act, dad);
    await answerFaces(app, mum, { faces: [faces[8]!], odd: [], is: { newPerson: 'Tove' } });
    const { left } = await undo(gone.act, dad);
    expect(left).toBeGreaterThan(0);
    expect(await app.db('people').select('name')).toEqual([{ name: 'Tove' }]);
    // Her circle was said of her by somebody: taking the very first naming back would lose that, so she stays.
    expect(act).not.toBeNull();
  });

  test('nobody stands twice in a picture after an undo; what the machine filed meanwhile makes way', async () => {
    const first = await answerFaces(app, mum, { faces: [faces[0]!], odd: [], is: { newPerson: 'Tove' } });
    const { id } = (await app.db('people').first('id')) as { id: number };
    const changed = await answerFaces(app, mum, { faces: [faces[0]!], odd: [], is: { newPerson: 'Emil' } });
    await answerFaces(app, dad, { faces: [faces[1]!], odd: [], is: { person: id } });
    expect(await undo(changed.act)).toMatchObject({ left: expect.any(Number) });
    expect(await app.db('faces').where('person_id', id).select('id')).toEqual([{ id: faces[1] }]);
    await app.db('faces').where('id', faces[1]!).update({ named_by: 'machine' });
    const again = (await app.db('acts').where('id', changed.act!).first('undone_by')) as { undone_by: number | null };
    if (again.undone_by === null) await undo(changed.act);
    expect(first.act).not.toBeNull();
    const rows = (await app.db('faces').where('picture_id', ids[0]!).whereNotNull('person_id').select('person_id')) as {
      person_id: number;
    }[];
    expect(new Set(rows.map((r) => r.person_id)).size).toBe(rows.length);
  });

  test('what was done is listed by day, member and picture, and a helper cannot take back what only a keeper may do', async () => {
    await changePictures(app, mum, ids.slice(0, 2), { rating: 4 });
    await changePictures(app, dad, [ids[0]!], { favourite: true });
    const { acts, members } = await house.call('acts', {});
    expect(acts.map((a) => [a.kind, a.by?.name, a.pictures, a.words])).toEqual([
      ['say', 'helper', 1, { favourite: true }],
      ['say', 'Keeper', 2, { rating: 4 }],
    ]);
    expect(acts[1]!.shown.map((p) => p.id)).toEqual(ids.slice(0, 2));
    expect(members.length).toBeGreaterThan(1);
    const list = async (query: object) => {
      const response = await house.fetch(`/api/acts?${new URLSearchParams(query as Record<string, string>)}`);
      return ((await response.json()) as { acts: { kind: string }[] }).acts;
    };
    expect(await list({ picture: String(ids[1]) })).toHaveLength(1);
    expect(await list({ member: String(dad.member) })).toHaveLength(1);
    const layout = await house.call('setVaultLayout', { body: { layout: 'event' } });
    await expect(house.undo(layout, helper)).rejects.toMatchObject({ status: 403 });
    await expect(house.call('acts', {}, await house.member('relative'))).rejects.toMatchObject({ status: 403 });
    await house.undo(layout);
    await app.db('acts').update({ at: app.db.raw('UTC_TIMESTAMP(3) - INTERVAL 31 DAY') });
    expect((await house.call('acts', {})).acts.every((a) => !a.undoable)).toBe(true);
    await expect(undo(acts[0]!.id)).rejects.toThrow('30 days ago');
  });

  test('two take the same act back at once: it is done once', async () => {
    const { act } = await changePictures(app, mum, ids, { rating: 3 });
    const tried = await Promise.allSettled([undo(act), undo(act, dad), undo(act)]);
    expect(tried.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
    expect((await Promise.all(ids.map(picture))).every((p) => p.rating === 0)).toBe(true);
  });

  test('two browsers of one member put on the pile and down: all of it counts', async () => {
    await Promise.all([
      changePile(app, 1, 1, { put: ids.slice(0, 3) }),
      changePile(app, 1, 1, { put: ids.slice(2, 6) }),
      changePile(app, 1, 1, { put: [ids[7]!] }),
    ]);
    expect(new Set((await house.call('pile', {})).ids)).toEqual(new Set([...ids.slice(0, 6), ids[7]]));
    await Promise.all([changePile(app, 1, 1, { drop: [ids[0]!] }), changePile(app, 1, 1, { put: [ids[6]!] })]);
    expect(new Set((await house.call('pile', {})).ids)).toEqual(new Set(ids.slice(1)));
  });

  test('5 000 pictures are rated, dated and taken back in little room', async () => {
    const many = times(200, 5000);
    const rows = Array.from({ length: many }, (_, i) => i);
    const some: number[] = [];
    for (const i of rows) some.push(await pictureRow(app, ++made, { day: `20${10 + (i % 9)}-03-0${1 + (i % 8)}` }));
    const spent: Record<string, number> = {};
    const timed = async <T>(name: string, act: () => Promise<T>): Promise<T> => {
      const began = performance.now();
      const result = await act();
      spent[name] = performance.now() - began;
      return result;
    };
    const rated = await timed('rate', () => changePictures(app, mum, some, { rating: 4 }));
    const titled = await timed('title', () => changePictures(app, mum, some, { title: 'One and all' }));
    const shifted = await timed('shift', () => mendDates(app, mum, some, { shift: 3600 }));
    await timed('undo shift', () => undo(shifted.act));
    await timed('undo title', () => undo(titled.act));
    await timed('undo rate', () => undo(rated.act));
    const [[{ bytes }]] = (await app.db.raw('SELECT MAX(LENGTH(changes)) AS bytes FROM acts')) as [[{ bytes: number }]];
    expect(bytes / many).toBeLessThan(60);
    if (process.env['GEMMEL_LONG']) console.log(many, spent, bytes);
  });

  describe('any acts of two members', () => {
    type Doing = { by: 0 | 1; what: number; a: number; b: number; c: number };
    const doing = fc.record({
      by: fc.constantFrom<0 | 1>(0, 1),
      what: fc.nat(30),
      a: fc.nat(30),
      b: fc.nat(30),
      c: fc.nat(30),
    });
    const any = async (table: Table, n: number): Promise<number> => {
      const rows = (await app.db(table).where('library_id', 1).orderBy('id').select('id')) as { id: number }[];
      return rows.length ? rows[n % rows.length]!.id : 0;
    };
    const some = (a: number, b: number) => {
      const from = a % ids.length;
      return ids.slice(from, from + 1 + (b % 4));
    };
    const NAMES = ['Tove', 'Emil', 'Ruben'];
    const WORDS = ['lake', 'kite', 'regatta'];
    const perform = async ({ by, what, a, b, c }: Doing): Promise<number | null> => {
      const who = by ? dad : mum;
      const name = NAMES[c % 3]!;
      const acts: (() => Promise<{ act: number | null }>)[] = [
        () => changePictures(app, who, some(a, b), { rating: c % 6 }),
        () => changePictures(app, who, some(a, b), { favourite: c % 2 === 0, caption: WORDS[c % 3]! }),
        () => changePictures(app, who, some(a, b), { addTags: [WORDS[c % 3]!] }),
        async () => changePictures(app, who, some(a, b), { removeTags: [await any('tags', c)] }),
        () => mendDates(app, who, some(a, b), c % 2 ? { shift: 3600 * (c + 1) } : { set: `summer 19${60 + c}` }),
        () =>
          placePictures(app, who, [{ ids: some(a, b), spot: c % 3 ? { lat: 57 + c / 10, lon: 18 } : null }], 'hand'),
        () => answerFaces(app, who, { faces: [faces[a % 16]!, faces[b % 16]!], odd: [], is: { newPerson: name } }),
        () =>
          answerFaces(app, who, {
            faces: [faces[a % 16]!],
            odd: [],
            is: (['passer-by', 'not a face', 'unnamed'] as const)[c % 3]!,
          }),
        async () => forgetPerson(app, who, await any('people', a)),
        async () => joinPeople(app, who, await any('people', a), await any('people', b)),
        async () =>
          changePerson(app, who, await any('people', a), c % 2 ? { nickname: `n${b}` } : { name: `${name}${b}` }),
        async () =>
          c % 3
            ? makePlainAlbum(app, who, `Album ${c}`, some(a, b))
            : makeSmartAlbum(app, who, `Smart ${c}`, { who: { people: [await any('people', a)], mode: 'all' } }),
        async () => putIntoAlbum(app, who, await any('albums', c), { ids: some(a, b) }),
        async () => takeOut(app, who, await any('albums', c), some(a, b)),
        async () => setOrder(app, who, await any('albums', c), [...some(a, b)].reverse()),
        async () =>
          c % 2
            ? removeAlbum(app, who, await any('albums', a))
            : changeAlbum(app, who, await any('albums', a), { name: `A${b}` }),
        () =>
          c % 2
            ? moveToEvent(app, who, some(a, b), { title: `E${c}` })
            : makeEvent(app, who, `S${c}`, '2026-05-16', '2026-05-18'),
        async () =>
          c % 3 === 0
            ? nameEvent(app, who, await any('events', a), `N${b}`)
            : c % 3 === 1
              ? splitEvent(app, who, await any('events', a), ids[b % 8]!)
              : joinEvents(app, who, await any('events', a), await any('events', b)),
        async () =>
          c % 2
            ? removeEvent(app, who, await any('events', a))
            : makeOwnPlace(app, who, { name: `P${c}`, lat: 57 + c / 10, lon: 18, metres: 30_000, hidden: false }),
        async () =>
          c % 4 === 0
            ? makeCircle(app, who, { name: `C${c}`, people: [await any('people', a)].filter(Boolean) })
            : c % 4 === 1
              ? changeCircle(app, who, await any('circles', a), { position: 0, name: `C${b}x` })
              : c % 4 === 2
                ? removeCircle(app, who, await any('circles', a))
                : removeOwnPlace(app, who, await any('own_places', a)),
        async () =>
          c % 4 === 0
            ? makeTag(app, who, [WORDS[a % 3]!, WORDS[b % 3]!])
            : c % 4 === 1
              ? changeTag(app, who, await any('tags', a), { parent: b % 2 ? await any('tags', b) : null })
              : c % 4 === 2
                ? changeTag(app, who, await any('tags', a), { name: `${WORDS[b % 3]!}s`, spellings: [`w${b % 5}`] })
                : keepApart(app, who, await any('tags', a), { tag: await any('tags', b) }),
        async () => joinTags(app, who, await any('tags', a), await any('tags', b)),
        async () => (c % 2 ? clearTag : removeTag)(app, who, await any('tags', a)),
        async () =>
          c % 4 === 0
            ? makeMark(app, who, { meaning: WORDS[a % 3]! })
            : c % 4 === 1
              ? changePictures(app, who, some(a, b), { mark: c % 3 ? (await any('marks', b)) || null : null })
              : c % 4 === 2
                ? changeMark(app, who, await any('marks', a), { meaning: `m${b % 4}`, position: c % 3 })
                : removeMark(app, who, await any('marks', a)),
        async () =>
          c % 4 === 0
            ? writeComment(
                app,
                who,
                [ids[a % ids.length]!, ...(b % 3 ? [] : [ids[(a + 1) % ids.length]!])],
                `said ${b}`,
              )
            : c % 4 === 1
              ? changeComment(app, who, await any('comments', a), `said ${b} again`)
              : c % 4 === 2
                ? removeComment(app, who, await any('comments', a))
                : c % 3
                  ? makePin(app, who, { name: `pin ${b}`, question: { favourite: true } })
                  : removePin(app, who, await any('pins', a)),
        async () => (c % 3 ? intoBin(app, who, some(a, b)) : restore(app, who, { all: true })),
        async () =>
          c % 3 === 0
            ? moveInAlbum(app, who, await any('albums', c), { ids: some(a, b), before: { picture: ids[c % 8]! } })
            : c % 3 === 1
              ? makeChapter(
                  app,
                  who,
                  await any('albums', c),
                  { heading: `H${b}`, note: null },
                  { picture: ids[a % 8]! },
                )
              : removeChapter(app, who, await any('album_chapters', a)),
        async () =>
          c % 4 === 0
            ? makeShelf(app, who, { name: `S${b}`, on: (await any('shelves', a)) || null, albums: [] })
            : c % 4 === 1
              ? changeShelf(app, who, await any('shelves', a), { sorted: b % 2 ? 'name' : 'latest', name: `S${b}x` })
              : shelve(app, who, {
                  albums: c % 3 ? [await any('albums', a)].filter(Boolean) : [],
                  shelves: c % 3 ? [] : [await any('shelves', a)].filter(Boolean),
                  on: (await any('shelves', b)) || null,
                  before: null,
                }),
        async () => removeShelf(app, who, await any('shelves', a), c % 2 ? 'up' : 'go'),
        async () =>
          c % 3 === 0
            ? joinAlbums(app, who, await any('albums', a), await any('albums', b))
            : c % 3 === 1
              ? copyAlbum(app, who, await any('albums', a), `Copy ${b}`, b % 2 === 0)
              : movePictures(app, who, await any('albums', a), await any('albums', b), some(b, c)),
        async () =>
          c % 3 === 0
            ? handAlbum(app, who, await any('albums', a), some(a, b), (['in', 'out', null] as const)[b % 3]!)
            : changeAlbum(app, who, await any('albums', a), {
                sorted: (['date', 'name', 'stars'] as const)[b % 3]!,
                cover: ids[a % 8]!,
                days: b % 2 ? { from: '2026-05-01', to: '2026-05-02' } : null,
              }),
      ];
      try {
        return (await acts[what % acts.length]!()).act;
      } catch (error) {
        if (error instanceof Refused) return null;
        throw error;
      }
    };

    test(
      'all taken back in the opposite order is the first state exactly, and doing them again the last one',
      async () => {
        await fc.assert(
          fc.asyncProperty(fc.array(doing, { minLength: 3, maxLength: 14 }), async (plan) => {
            await again();
            const first = await said(app);
            const done: number[] = [];
            for (const one of plan) {
              const act = await perform(one);
              if (act !== null) done.push(act);
            }
            const last = await said(app);
            const undone: number[] = [];
            for (const act of [...done].reverse()) {
              const { act: u, left } = await undo(act);
              expect(left).toBe(0);
              undone.push(u!);
            }
            expect(await said(app)).toEqual(first);
            for (const act of [...undone].reverse()) expect(await undo(act)).toMatchObject({ left: 0 });
            expect(await said(app)).toEqual(last);
          }),
          { numRuns: times(6, 300) },
        );
      },
      LONGEST,
    );

    test(
      'taken back in any order, nothing is lost that somebody said since, and nothing hangs in the air',
      async () => {
        await fc.assert(
          fc.asyncProperty(
            fc.array(doing, { minLength: 4, maxLength: 14 }),
            fc.array(fc.nat(20), { minLength: 1, maxLength: 8 }),
            async (plan, order) => {
              await again();
              const done: number[] = [];
              for (const one of plan) {
                const act = await perform(one);
                if (act !== null) done.push(act);
              }
              for (const n of order) {
                if (done.length === 0) break;
                const [act] = done.splice(n % done.length, 1);
                const later = (await app.db('acts').where('id', '>', act!).whereIn('id', done).select('id')) as {
                  id: number;
                }[];
                const before = await said(app);
                await undo(act!);
                const after = await said(app);
                await nothingLost(
                  before,
                  after,
                  act!,
                  later.map((l) => l.id),
                );
              }
              await whole();
            },
          ),
          { numRuns: times(6, 300) },
        );
      },
      LONGEST,
    );

    /** Whatever a later act said and that stood before an undo stands after it. */
    async function nothingLost(
      before: Record<string, Record<string, Row>>,
      after: Record<string, Record<string, Row>>,
      undone: number,
      later: number[],
    ): Promise<void> {
      // What is in the bin is not lost: what was said of it is there with it.
      const binned = new Set((await app.db('binned').select('id')).map((row) => row.id));
      const own = new Map<string, Row | null>();
      const { changes: mine } = (await app.db('acts').where('id', undone).first('changes')) as { changes: Buffer };
      for (const change of await unpack(mine)) own.set(`${change.table} ${change.key.join('|')}`, change.after);
      for (const id of later) {
        const { changes } = (await app.db('acts').where('id', id).first('changes')) as { changes: Buffer };
        for (const change of await unpack(changes)) {
          const key = change.key.join('|');
          if (change.table === 'binned' || binned.has(pictureOf(change) ?? 0)) continue;
          const was = before[change.table]![key];
          const is = after[change.table]![key];
          if (change.after === null) {
            // What a later act took away does not come back.
            if (!was) expect([undone, id, change.table, key, is]).toEqual([undone, id, change.table, key, undefined]);
            continue;
          }
          if (!was) continue;
          // What is said again exactly as it was is not told apart from what the act itself left.
          const left = own.get(`${change.table} ${key}`);
          if (left && Object.entries(left).every(([c, value]) => String(was[c]) === String(value))) continue;
          for (const group of TABLES[change.table].groups) {
            if (change.before && !group.columns.some((c) => c in change.after!)) continue;
            if (!group.columns.every((c) => String(was[c]) === String(change.after![c]))) continue;
            // Days that nobody set follow what is in an event, and go with it.
            if (change.table === 'events' && !is && group.columns.includes('start_day') && !Number(was['span_by_hand']))
              continue;
            if (change.before && group.columns.every((c) => String(change.before![c]) === String(change.after![c])))
              continue;
            expect([undone, id, change.table, key, group.columns.map((c) => is?.[c])]).toEqual([
              undone,
              id,
              change.table,
              key,
              group.columns.map((c) => was[c]),
            ]);
          }
          if (TABLES[change.table].groups.length === 0 && !change.before)
            expect([undone, id, change.table, key, Boolean(is)]).toEqual([undone, id, change.table, key, true]);
        }
      }
    }

    /** Nobody stands twice in a picture. */
    async function whole(): Promise<void> {
      const [twice] = (await app.db.raw(
        'SELECT picture_id, person_id FROM faces WHERE person_id IS NOT NULL GROUP BY picture_id, person_id HAVING COUNT(*) > 1',
      )) as [object[]];
      expect(twice).toEqual([]);
    }
  });
});
