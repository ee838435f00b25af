import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openHouse, type House } from './house';
import { CLIPS, everyKind } from './kinds';
import { describeLong, LONG, times } from './long';

/** What is said of one picture in its turn, so that all of it is said of some picture of nearly every kind. */
const DATES = [
  '16 May 2026 14:07',
  '16 May 2026',
  'May 2026',
  'summer 1988',
  'about 1960',
  '1960s',
  'about 16 May 2026',
] as const;
const FACES = [
  { state: 'named', named_by: 'hand', x: 0.1, y: 0.2 },
  { state: 'named', named_by: 'machine', x: 0.6, y: 0.2 },
  { state: 'passer-by', named_by: 'hand', x: 0.1, y: 0.6 },
  { state: 'not a face', named_by: 'hand', x: 0.6, y: 0.6 },
] as const;
const MOVES = times(1, 3);
/** Clips of those kinds; the short form has a few of them. */
const MOVING = LONG ? CLIPS : CLIPS.filter(([name]) => name === 'e.avi');

interface Known {
  offset: number | null;
  source: string | null;
  size: unknown[];
  [what: string]: unknown;
}

/** Everything that is known of a library's pictures, by their fingerprints. */
async function known(house: House) {
  const { db } = house.app;
  const all = new Map<string, Known>();
  const pictures = await db('pictures').orderBy('id');
  const tags = await db('picture_tags as pt')
    .join('tags as t', 't.id', 'pt.tag_id')
    .select('pt.picture_id', 't.id', 't.name');
  const tree = new Map((await db('tags').select('id', 'name', 'parent_id')).map((tag) => [tag.id, tag]));
  const pathOf = (id: number): string[] => {
    const { name, parent_id } = tree.get(id)!;
    return [...(parent_id === null ? [] : pathOf(parent_id)), name];
  };
  const faces = await db('faces as f')
    .leftJoin('people as n', 'n.id', 'f.person_id')
    .select('f.picture_id', 'f.state', 'f.named_by', 'n.name', 'f.x', 'f.y', 'f.w', 'f.h')
    .orderBy(['f.state', 'f.named_by']);
  const comments = await db('comments').orderBy('id').select('picture_id', 'author', 'at', 'text');
  for (const p of pictures)
    all.set(p.sha256.toString('hex'), {
      name: p.name,
      title: p.title,
      caption: p.caption,
      rating: p.rating,
      audience: p.audience,
      // The keeper of either library, by whom all is said here.
      audienceBy: p.audience_by,
      favourite: p.favourite,
      label: p.label,
      comments: comments.filter((c) => c.picture_id === p.id).map((c) => [c.author, c.at.slice(0, 19), c.text]),
      taken: p.taken_local,
      offset: p.offset_minutes,
      source: p.taken_source,
      certainty: p.taken_certainty?.toFixed(3),
      span: [p.taken_exact, p.taken_from, p.taken_to, p.taken_about],
      place: [p.lat?.toFixed(5), p.lon?.toFixed(5)],
      size: [p.width, p.height, p.kind, p.format],
      tags: tags
        .filter((t) => t.picture_id === p.id)
        .map((t) => pathOf(t.id))
        .sort(),
      faces: faces
        .filter((f) => f.picture_id === p.id)
        .map((f) => [f.state, f.named_by, f.name, ...[f.x, f.y, f.w, f.h].map((v) => v.toFixed(4))]),
    });
  return all;
}

describeLong('from vault to vault', () => {
  let houses: House[];
  let folder: string;
  beforeAll(async () => {
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-round-'));
    houses = [await openHouse()];
  });
  afterAll(async () => {
    for (const house of houses) await house.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test(`a file of every kind, with everything said of it, is the same after ${MOVES} moves from a vault into an empty library`, async () => {
    const [first] = houses as [House];
    await everyKind(path.join(folder, 'Summer 1992'), MOVING);
    await first.takeIn(path.join(folder, 'Summer 1992'));
    const { db } = first.app;
    const ids = (await db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    expect(ids.length).toBeGreaterThan(20);
    for (const [i, id] of ids.entries()) {
      await first.call('change', {
        body: {
          ids: [id],
          change: {
            title: `Title ${i} “&” <b>`,
            caption: `One line ${i}\n\n\tand another, with a tab`,
            rating: i % 6,
            favourite: i % 2 === 0,
            addTags: [`either|or ${i % 4}`, 'a/b', `${'a long word '.repeat(15)}${i}`, 'Ölberg'].slice(0, 1 + (i % 4)),
          },
        },
      });
      const audience = ([null, 'me', 'house', 'family', 'link'] as const)[i % 5]!;
      if (audience) await first.call('sayAudience', { body: { of: 'pictures', ids: [id], audience } });
      const set = DATES[i % (DATES.length + 2)];
      if (set) await first.call('mendDates', { body: { ids: [id], how: { set } } });
      await db('pictures')
        .where({ id })
        .update({ label: i % 3 ? 'to print' : null });
      if (i % 3 === 0)
        await db('comments').insert({
          library_id: 1,
          picture_id: id,
          author: 'Agathe “Gran” Wend',
          text: `Oh, ${i}!\n[“that” one]`,
          at: '2026-05-16 12:00:00',
        });
      const face = FACES[i % FACES.length]!;
      const [person] = await db('people').insert({ library_id: 1, name: `Kin ${i} "${i}"` });
      await db('faces').insert({
        library_id: 1,
        picture_id: id,
        ...face,
        w: 0.2,
        h: 0.3,
        height_px: 40,
        quality: 0.4,
        vector_a: Buffer.alloc(0),
        vector_b: Buffer.alloc(0),
        person_id: face.state === 'named' ? person! : null,
      });
    }
    await first.call('givePlace', {
      body: { given: [{ ids: ids.filter((_, i) => i % 2), spot: { lat: -16.43, lon: 179.5 } }] },
    });
    await db('tags')
      .where('name', 'a/b')
      .update({ parent_id: (await db('tags').where('name', 'Ölberg').first('id'))!.id });
    await db.raw('UPDATE sidecars SET dirty_at = UTC_TIMESTAMP(3)');
    await first.quiet();
    const said = await known(first);
    for (let move = 1; move <= MOVES; move++) {
      const next = await openHouse();
      houses.push(next);
      const { app } = houses[move - 1]!;
      await next.takeIn(path.join(app.paths.vault, 'home'));
      expect(
        await next.app.db('batch_items').whereNotIn('state', ['stored', 'known']).select('path', 'state', 'reason'),
      ).toEqual([]);
      const now = await known(next);
      expect([move, now.size]).toEqual([move, said.size]);
      for (const [sha, one] of said)
        // Where no zone was known, the place tells it on the way in.
        expect([move, now.get(sha)]).toEqual([move, { ...one, offset: one.offset ?? now.get(sha)?.offset }]);
    }
    const all = [...said.values()];
    console.log(
      `${said.size} files of ${new Set(all.map((one) => one.size[3])).size} kinds, dated by ${[...new Set(all.map((one) => one.source))].sort().join(', ')}: the same after ${MOVES} moves`,
    );
  }, 360_000);
});
