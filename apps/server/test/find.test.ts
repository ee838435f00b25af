import { EVERYTHING, SIZES, type Question } from '@gemmel/core';
import { askTyped } from '../src/question/ask';
import { facetsOf } from '../src/question/facets';
import { newsOf } from '../src/question/news';
import { bitsOf, firstOf, sizeOf } from '../src/question/sets';
import { changePictures } from '../src/picture/change';
import { countOf, idsOf } from '../src/picture/pictures';
import { skeleton } from '../src/picture/skeleton';
import { moreLike } from '../src/question/like';
import type { Sort, Under } from '@gemmel/contract';
import { notAgain, thisDay } from '../src/picture/thisDay';
import { changePerson } from '../src/person/people';
import { writeComment } from '../src/comment/comments';
import { undoAct } from '../src/act/undo';
import { changeTag, joinTags, listTwins } from '../src/tag/tree';
import { listTags, tagPathIds } from '../src/tag/tags';
import { openHouse, type House } from './house';
import { pictureRow } from './pictures';

describe('finding', () => {
  let house: House;
  const mum = { library: 1, member: 1, part: 'keeper' as const };
  let ids: number[];
  beforeAll(async () => {
    house = await openHouse();
    await house.runner.stop();
    ids = [];
    for (let i = 0; i < 12; i++) ids.push(await pictureRow(house.app, i, { day: `2026-05-${10 + i}` }));
  });
  afterAll(() => house?.stop());
  const count = (question: Question) => countOf(house.app, 1, question);
  const ask = (typed: string, question: Question = EVERYTHING) =>
    askTyped(house.app, 1, { typed, question, language: 'en' });

  test('what is said is found at once, by its beginnings, with a letter wrong, and no longer after an undo', async () => {
    const { app } = house;
    const { act } = await changePictures(app, mum, [ids[0]!], { caption: 'The lantern parade by the quay' });
    for (const text of ['lantern', 'lant', 'lantren', 'lantern parade', 'parade by the qu'])
      expect([text, await count({ text })]).toEqual([text, 1]);
    for (const text of ['parade lantern', 'nter', 'lanterns parade'])
      expect([text, await count({ text })]).toEqual([text, 0]);
    await undoAct(app, mum, act!);
    expect(await count({ text: 'lantern' })).toBe(0);
    const comment = await writeComment(app, mum, [ids[1]!], 'Ruben hid the zwieback');
    expect(await count({ text: 'zwieback' })).toBe(1);
    await undoAct(app, mum, comment.act!);
    expect(await count({ text: 'zwieback' })).toBe(0);
  });

  test('names of tags, their spellings and people find their pictures; a rename is one row', async () => {
    const { app } = house;
    await changePictures(app, mum, [ids[2]!, ids[3]!], { addTags: ['cycling'] });
    const [tag] = await listTags(app.db, 1);
    await changeTag(app, mum, tag!.id, { spellings: ['biking'] });
    expect(await count({ text: 'biking' })).toBe(2);
    expect((await ask('biki')).completions[0]).toMatchObject({
      kind: 'tag',
      label: 'biking',
      hint: 'cycling',
      pictures: 2,
    });
    const [person] = await app.db('people').insert({ library_id: 1, name: 'Agathe Wend' });
    await app.db('faces').insert({
      library_id: 1,
      picture_id: ids[4]!,
      x: 0,
      y: 0,
      w: 0.1,
      h: 0.1,
      height_px: 80,
      quality: 1,
      vector_a: Buffer.alloc(0),
      vector_b: Buffer.alloc(0),
      state: 'named',
      person_id: person!,
      named_by: 'hand',
    });
    await changePerson(app, mum, person!, { nickname: 'Gran' });
    expect(await count({ text: 'gran' })).toBe(1);
    expect((await ask('agathe')).question).toEqual({ who: { people: [person], mode: 'all' } });
    expect((await ask('gra without cyc')).completions[0]).toMatchObject({ kind: 'tag', pictures: 1 });
  });

  test('the counts of what is typed are those of the database, after every change', async () => {
    const { app } = house;
    for (let i = 0; i < 6; i++) {
      await changePictures(app, mum, ids.slice(i, i + 3), { rating: i % 6, ...(i % 2 ? { favourite: true } : {}) });
      for (const question of [
        { rating: { min: 3 } },
        { not: { favourite: true } },
        { any: [{ rating: { max: 1 } }, { text: 'biking' }] },
        { all: [] },
        { any: [] },
      ] as Question[]) {
        const bits = await bitsOf(app, 1, question, await newsOf(app.db, 1));
        expect([question, sizeOf(bits)]).toEqual([question, await count(question)]);
        expect(await firstOf(app, 1, question, 5)).toEqual((await idsOf(app, 1, question)).slice(0, 5));
      }
    }
  });

  test('facets are what asking for each of them counts, for few and for most of the library', async () => {
    const { app } = house;
    // One lies on the border of two sizes.
    for (const [i, [width, height]] of [
      [640, 480],
      [2000, 1000],
      [4000, 3000],
      [8000, 6000],
    ].entries())
      await app.db('pictures').where('id', ids[i]!).update({ width: width!, height: height! });
    for (const question of [EVERYTHING, { not: { rating: { min: 5 } } }, { tag: 1 }] as Question[]) {
      const facets = await facetsOf(app, 1, question);
      expect(facets.pictures).toBe(await count(question));
      for (const { of, pictures } of facets.tags) expect(pictures).toBe(await count({ all: [question, { tag: of }] }));
      for (const [n, pictures] of facets.ratings.entries())
        expect(pictures).toBe(await count({ all: [question, { rating: { min: n, max: n } }] }));
      for (const { of, pictures } of facets.shapes)
        expect(pictures).toBe(await count({ all: [question, { shape: of }] }));
      for (const [i, size] of SIZES.entries())
        expect(facets.sizes.find(({ of }) => of === i)?.pictures ?? 0).toBe(await count({ all: [question, { size }] }));
    }
  });

  test('one word may stand in two branches; paths from elsewhere find theirs; twins are offered and joined', async () => {
    const { app } = house;
    const [outdoors] = await tagPathIds(app.db, 1, [['outdoors', 'lake']]);
    const [films] = await tagPathIds(app.db, 1, [['films', 'lake']]);
    expect(outdoors).not.toBe(films);
    expect(await tagPathIds(app.db, 1, [['outdoors', 'lake']])).toEqual([outdoors]);
    await expect(changeTag(app, mum, films!, { parent: films! })).rejects.toMatchObject({
      saying: { code: 'tag-in-itself' },
    });
    await changePictures(app, mum, [ids[7]!], { addTags: ['kite'] });
    await changePictures(app, mum, [ids[8]!, ids[9]!], { addTags: ['kites'] });
    const tags = await listTags(app.db, 1);
    const id = (name: string) => tags.find((tag) => tag.name === name)!.id;
    expect(await listTwins(app, 1)).toContainEqual({ tag: id('kite'), other: { tag: id('kites') }, why: 'plural' });
    const { act, pictures } = await joinTags(app, mum, id('kite'), id('kites'));
    expect(pictures).toBe(1);
    expect(await count({ tag: id('kites') })).toBe(3);
    expect((await listTags(app.db, 1)).find((tag) => tag.id === id('kites'))!.spellings).toEqual(['kite']);
    await undoAct(app, mum, act!);
    expect(await count({ tag: id('kites') })).toBe(2);
    expect(await count({ tag: id('kite') })).toBe(1);
  });

  test('other orders than time, each turned round; what looks alike and more like one', async () => {
    const { app } = house;
    const { db } = app;
    for (const [i, id] of ids.entries())
      await db('pictures')
        .where('id', id)
        .update({
          name: `${String.fromCharCode(97 + i)}.jpg`,
          bytes: 1000 * (i + 1),
          likeness: i < 3 ? '255' : `${2n ** 62n - 1n}`,
        });
    const order = async (sort: Sort, backwards = false) => {
      const { ids: steps } = await skeleton(app, 1, EVERYTHING, { backwards, sort });
      let at = 0;
      return steps.map((step) => (at += step));
    };
    expect(await order('name')).toEqual(ids);
    expect(await order('name', true)).toEqual([...ids].reverse());
    expect(await order('size')).toEqual([...ids].reverse());
    expect(await order('size', true)).toEqual(ids);
    const { act } = await changePictures(app, mum, [ids[6]!], { title: 'The last one changed' });
    expect((await order('change'))[0]).toBe(ids[6]);
    await undoAct(app, mum, act!);
    expect(await count({ like: ids[0]! })).toBe(3);
    const offers = await moreLike(app, 1, ids[0]!);
    expect(offers.find(({ by }) => by === 'look')).toEqual({ by: 'look', question: { like: ids[0] }, pictures: 2 });
  });

  test('under people, places or folders: group by group by their names, each picture once, those without last', async () => {
    const { app } = house;
    const { db } = app;
    const [kai, tove] = await Promise.all(
      ['Kai Under', 'Åsa Under'].map(async (name) => (await db('people').insert({ library_id: 1, name }))[0]!),
    );
    const [folder] = await db('folders').insert({ library_id: 1, name: 'laptop', path_hash: Buffer.alloc(32, 1) });
    const face = (picture_id: number, person_id: number) =>
      db('faces').insert({
        library_id: 1,
        picture_id,
        person_id,
        state: 'named',
        named_by: 'hand',
        x: 0,
        y: 0,
        w: 0.1,
        h: 0.1,
        height_px: 90,
        quality: 1,
        vector_a: Buffer.alloc(0),
        vector_b: Buffer.alloc(0),
      });
    await db('faces').where('library_id', 1).delete();
    await face(ids[0]!, tove!);
    await face(ids[1]!, kai!);
    await face(ids[2]!, kai!);
    await face(ids[2]!, tove!);
    await db('pictures').where('id', ids[4]!).update({ folder_id: folder!, place: 'Uppsala', country: 'SE' });
    const under = async (what: Under) => {
      const { ids: steps, groups, count: all } = await skeleton(app, 1, EVERYTHING, { under: what });
      let at = 0;
      const found = steps.map((step) => (at += step));
      expect([...found].sort((a, b) => a - b)).toEqual([...ids].sort((a, b) => a - b));
      expect(groups!.reduce((sum, [, n]) => sum + n, 0)).toBe(all);
      return { found, groups: groups! };
    };
    const who = (...people: (number | undefined)[]) => ({ who: { people, mode: 'all' } });
    expect((await under('person')).groups).toEqual([
      [who(tove), 1],
      [who(tove, kai), 1],
      [who(kai), 1],
      [null, 9],
    ]);
    expect((await under('place')).groups).toEqual([
      [{ where: { country: 'SE', place: 'Uppsala' } }, 1],
      [null, 11],
    ]);
    // In Swedish å stands after all of a to z.
    await db('libraries').where('id', 1).update({ language: 'sv' });
    expect((await under('person')).groups.map(([, n]) => n)).toEqual([1, 1, 1, 9]);
    expect((await under('person')).groups[0]).toEqual([who(kai), 1]);
    await db('libraries').where('id', 1).update({ language: 'en' });
    const { found, groups } = await under('folder');
    expect(groups).toEqual([
      [{ folder: { id: folder, only: true } }, 1],
      [null, 11],
    ]);
    expect(found[0]).toBe(ids[4]);
    await db('faces').where('library_id', 1).delete();
  });

  test('by likeness: the picture itself first, then the likest; without one to be like, by time', async () => {
    const { app } = house;
    const hash = (bits: number) => String(2n ** BigInt(bits) - 1n);
    for (const [i, id] of ids.entries())
      await app
        .db('pictures')
        .where('id', id)
        .update({ likeness: i === 5 ? hash(0) : i < 4 ? hash(3 * (4 - i)) : hash(60) });
    const order = async (question: Question, backwards = false) => {
      let at = 0;
      return (await skeleton(app, 1, question, { sort: 'likeness', backwards })).ids.map((step) => (at += step));
    };
    expect(await order({ like: ids[5]! })).toEqual([ids[5], ids[3], ids[2], ids[1], ids[0]]);
    expect(await order({ like: ids[5]! }, true)).toEqual([ids[0], ids[1], ids[2], ids[3], ids[5]]);
    expect(await order(EVERYTHING)).toEqual([...ids].reverse());
  });

  test('by the best match: a title before a tag before a caption; without words to match, by time', async () => {
    const { app } = house;
    const acts = [
      await changePictures(app, mum, [ids[1]!], { caption: 'nobody saw the windmill' }),
      await changePictures(app, mum, [ids[2]!], { title: 'Windmill' }),
      await changePictures(app, mum, [ids[3]!], { addTags: ['windmill'] }),
      await changePictures(app, mum, [ids[4]!], { title: 'Windmills of the coast' }),
    ];
    const order = async (question: Question, backwards = false) => {
      let at = 0;
      return (await skeleton(app, 1, question, { sort: 'match', backwards })).ids.map((step) => (at += step));
    };
    expect(await order({ text: 'windmill' })).toEqual([ids[2], ids[4], ids[3], ids[1]]);
    expect(await order({ text: 'windmill' }, true)).toEqual([ids[1], ids[3], ids[4], ids[2]]);
    expect(await order({ all: [{ text: 'windmill' }, { not: { text: 'coast' } }] })).toEqual([ids[2], ids[3], ids[1]]);
    expect(await order(EVERYTHING)).toEqual([...ids].reverse());
    for (const { act } of acts.reverse()) await undoAct(app, mum, act!);
  });

  test('this day in other years: the best picture, without hidden people and what is not to be met again', async () => {
    const { app } = house;
    const now = new Date().toLocaleDateString('en-CA').slice(5);
    // On 29 February there are other years too seldom.
    if (now === '02-29') return;
    const [event] = await app.db('events').insert({
      library_id: 1,
      start_day: `2019-${now}`,
      end_day: `2019-${now}`,
      made_by: 'hand',
    });
    const plain = await pictureRow(app, 900, { day: `2019-${now}`, event_id: event });
    const best = await pictureRow(app, 901, { day: `2019-${now}`, event_id: event, rating: 5 });
    const shown = async () => (await thisDay(app, 1)).years.map(({ year, id }) => [year, id]);
    expect(await shown()).toEqual([[2019, best]]);
    const not = await notAgain(app, mum, { picture: best });
    expect(await shown()).toEqual([[2019, plain]]);
    const none = await notAgain(app, mum, { event: event! });
    expect(await shown()).toEqual([]);
    await undoAct(app, mum, none.act!);
    await undoAct(app, mum, not.act!);
    expect(await shown()).toEqual([[2019, best]]);
    await app.db('pictures').whereIn('id', [plain, best]).delete();
    await app.db('events').where('id', event!).delete();
  });
});
