import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { ask } from '../src/jobs/jobs';
import { DEMO, openHouse, type House } from './house';
import { LONG } from './long';
import { shaOfFile, vaultShas } from './pictures';

interface Truth {
  path: string;
  sha256: string;
  kind: string;
  folder: string;
  burst: string | null;
  moment: string | null;
  nearDuplicateOf: string | null;
  duplicateOf: string | null;
  clockErrorSeconds: number | null;
  dateIsApproximate?: boolean;
  blurred: boolean;
  people: { person: string; eyesClosed: boolean }[];
}

const TRUTH = (JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as { files: Truth[] }).files;
const bad = (t: Truth) => t.blurred || t.people.some((p) => p.eyesClosed);
/** What two shots of one moment have in common. */
const runOf = (t: Truth) => t.burst ?? t.moment;

/**
 * The shots that are taken in: of the short form three bursts, four moments by two devices whose clocks are right, and two copies with
 * what they are copies of; of the long form every photograph of the household.
 */
function chosen(): Truth[] {
  const photos = TRUTH.filter((t) => t.kind === 'photo' && !t.path.startsWith('bad') && !t.path.startsWith('later'));
  if (LONG) return photos.filter((t) => !t.duplicateOf);
  const jpg = photos.filter((t) => /\.jpg$/i.test(t.path) && !t.duplicateOf);
  const bursts = [...new Set(jpg.map((t) => t.burst).filter(Boolean))].slice(0, 2);
  const right = jpg.filter((t) => t.moment && !t.clockErrorSeconds);
  const moments = [...new Set(right.map((t) => t.moment))]
    .filter((name) => right.filter((t) => t.moment === name && !t.nearDuplicateOf).length > 1)
    .slice(0, 2);
  const copies = jpg.filter((t) => t.nearDuplicateOf && jpg.some((o) => o.path === t.nearDuplicateOf)).slice(0, 2);
  return jpg.filter(
    (t) =>
      (t.burst && bursts.includes(t.burst)) ||
      (t.moment && moments.includes(t.moment)) ||
      copies.some((copy) => copy.path === t.path || copy.nearDuplicateOf === t.path),
  );
}

describe('runs and doubles of the made-up household', () => {
  let house: House;
  let source: string;
  const shots = chosen();
  let rows: { id: number; truth: Truth; run_id: number | null; alike_id: number | null }[];

  const read = async () => {
    const all = await house.app.db('pictures').select('id', 'sha256', 'run_id', 'alike_id');
    rows = all.map(({ sha256, ...row }) => ({
      ...row,
      truth: shots.find((t) => t.sha256 === sha256.toString('hex'))!,
    }));
  };

  beforeAll(async () => {
    house = await openHouse({ recognise: true });
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-runs-'));
    for (const t of shots) cpSync(path.join(DEMO, t.path), path.join(source, t.folder, t.path.replaceAll('/', '~')));
    await house.takeIn(source);
    // Clocks are mended, as somebody would after the yes on Arrivals.
    for (const t of shots.filter((one) => one.clockErrorSeconds))
      await house.app
        .db('pictures')
        .where('sha256', Buffer.from(t.sha256, 'hex'))
        .where('taken_source', 'camera')
        .update({
          taken_local: house.app.db.raw('taken_local - INTERVAL ? SECOND', [t.clockErrorSeconds!]),
        });
    await ask(house.app.db, 1, 'alike');
    await house.quiet();
    await read();
  }, 900_000);
  afterAll(async () => {
    await house?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  test('shots of one moment are found, by one device or two, and nothing else is', () => {
    const taken = rows.filter((row) => !row.truth.nearDuplicateOf && !row.truth.dateIsApproximate);
    let right = 0;
    let found = 0;
    let all = 0;
    const wrong: string[] = [];
    taken.forEach((a, i) => {
      for (const b of taken.slice(i + 1)) {
        const same = runOf(a.truth) !== null && runOf(a.truth) === runOf(b.truth);
        const together = a.run_id !== null && a.run_id === b.run_id;
        if (same) all++;
        if (together) found++;
        if (same && together) right++;
        if (same !== together) wrong.push(`${a.truth.path} ${same ? 'apart from' : 'with'} ${b.truth.path}`);
      }
    });
    console.log(
      `${all} pairs of one moment: precision ${((100 * right) / found).toFixed(1)} %, recall ${((100 * right) / all).toFixed(1)} %; wrong: ${wrong.slice(0, 5).join(', ')}`,
    );
    expect(right / found).toBeGreaterThanOrEqual(0.98);
    expect(right / all).toBeGreaterThanOrEqual(0.95);
  });

  test('copies are found with what they are copies of, and nothing else is', () => {
    const copies = rows.filter((row) => row.truth.nearDuplicateOf);
    const original = (row: (typeof rows)[number]) => rows.find((o) => o.truth.path === row.truth.nearDuplicateOf);
    const right = copies.filter((row) => {
      const of = original(row);
      return of && (row.alike_id === of.id || of.alike_id === row.id || (row.alike_id && row.alike_id === of.alike_id));
    });
    const marked = rows.filter((row) => row.alike_id !== null);
    console.log(`${copies.length} copies: ${right.length} found; ${marked.length} marked`);
    expect(right.length).toBeGreaterThanOrEqual(Math.ceil(copies.length * 0.95));
    expect(marked.length).toBe(right.length);
    const kept = new Set(rows.filter((row) => row.alike_id === null).map((row) => row.id));
    expect(rows.every((row) => row.alike_id === null || kept.has(row.alike_id))).toBe(true);
  });

  test('the shot that is proposed is neither blurred nor one in which somebody blinks, where there is such a one', async () => {
    const { runs } = await house.call('runs', { query: { limit: 500 } });
    const wrong: string[] = [];
    let judged = 0;
    for (const { id } of runs) {
      const run = await house.call('run', { params: { id } });
      const truths = run.shots.map((shot) => rows.find((row) => row.id === shot.id)!.truth);
      if (!truths.some(bad) || truths.every(bad)) continue;
      judged++;
      const best = rows.find((row) => row.id === run.best)!.truth;
      if (bad(best)) wrong.push(`${best.path} (${best.blurred ? 'blurred' : 'blinking'})`);
      expect(run.reasons.length).toBeGreaterThan(0);
    }
    console.log(`${judged} runs with a blink or a blur: ${wrong.length} propose a bad shot ${wrong.join(', ')}`);
    expect(judged - wrong.length).toBeGreaterThanOrEqual(Math.floor(judged * 0.95));
  });

  test('a choice keeps some and bins the others in one act, asks no more, and can be taken back', async () => {
    const { runs, total } = await house.call('runs', {});
    const one = runs.find((run) => run.shots >= 3)!;
    const run = await house.call('run', { params: { id: one.id } });
    const did = await house.call('chooseInRun', {
      params: { id: run.id },
      body: { keep: [run.best, run.shots.find((s) => s.id !== run.best)!.id] },
    });
    expect(did).toMatchObject({ kept: 2, binned: run.shots.length - 2 });
    await house.quiet();
    expect((await house.call('runs', {})).total).toBe(total - 1);
    expect((await house.call('bin', {})).pictures).toBe(run.shots.length - 2);
    // Whoever chooses in it meanwhile is told.
    await expect(
      house.call('chooseInRun', { params: { id: run.id }, body: { keep: run.shots.map((s) => s.id) } }),
    ).rejects.toMatchObject({ status: 404 });
    expect(await house.undo(did)).toMatchObject({ left: 0 });
    await house.quiet();
    expect((await house.call('runs', {})).total).toBe(total);
    const again = await house.call('run', {
      params: { id: (await house.call('runs', {})).runs.find((r) => r.shots === one.shots && r.from === one.from)!.id },
    });
    expect(again.shots.map((s) => s.id)).toEqual(run.shots.map((s) => s.id));
  });

  test('doubles are merged: what the copy knows is carried over, and all of it can be taken back', async () => {
    const { db } = house.app;
    const { groups, total } = await house.call('doubles', {});
    expect(total).toBe(groups.length);
    const [keep, copy] = groups[0]!;
    expect(keep!.width * keep!.height).toBeGreaterThan(copy!.width * copy!.height);
    await house.call('change', {
      body: { ids: [copy!.id], change: { caption: 'Sent by Gran', rating: 4, favourite: true, addTags: ['ice'] } },
    });
    const album = await house.call('makeAlbum', { body: { name: 'Of the copy', ids: [copy!.id] } });
    await house.call('comment', { body: { ids: [copy!.id], text: 'Lovely' } });
    const said = async () => ({
      pictures: await db('pictures')
        .orderBy('id')
        .select('id', 'caption', 'rating', 'favourite', 'title', 'taken_local'),
      tags: await db('picture_tags').orderBy(['picture_id', 'tag_id']).select('picture_id', 'tag_id'),
      albums: await db('album_pictures').orderBy('picture_id').select('album_id', 'picture_id', 'position'),
      comments: await db('comments').orderBy('id').select('picture_id', 'text'),
      faces: await db('faces').orderBy('id').select('id', 'picture_id', 'person_id', 'state'),
    });
    await house.quiet();
    const before = await said();
    const did = await house.call('mergeDoubles', { body: { keep: keep!.id, others: [copy!.id] } });
    expect(did.carried).toEqual(expect.arrayContaining(['caption', 'stars', 'heart', 'tags', 'albums', 'comments']));
    expect((await house.call('album', { params: { id: album.id } })).ids).toEqual([keep!.id]);
    const kept = await house.call('picture', { params: { id: keep!.id } });
    expect(kept).toMatchObject({ caption: 'Sent by Gran', rating: 4, favourite: true });
    expect(kept.comments.map((one) => one.text)).toContain('Lovely');
    expect(await house.undo(did)).toMatchObject({ left: 0 });
    expect(await said()).toEqual(before);
    await house.quiet();
    const apart = await house.call('keepDoublesApart', { body: { ids: [keep!.id, copy!.id] } });
    await house.quiet();
    expect((await house.call('doubles', {})).groups.flat().map((one) => one.id)).not.toContain(copy!.id);
    await house.undo(apart);
    await house.quiet();
  });

  test('a copy that comes later finds its like by itself, mirrored, too', async () => {
    const scan = await sharp({
      create: { width: 900, height: 600, channels: 3, background: '#c8b090' },
    })
      .composite([
        {
          input: Buffer.from(
            '<svg width="900" height="600"><circle cx="200" cy="220" r="130" fill="#7a3b2e"/><rect x="480" y="300" width="320" height="210" fill="#2f5d50"/><path d="M0 560 L900 470 L900 600 L0 600 Z" fill="#e8dcc0"/></svg>',
          ),
        },
      ])
      .jpeg()
      .toBuffer();
    const folder = path.join(source, 'later');
    mkdirSync(folder);
    writeFileSync(path.join(folder, 'scan_1.jpg'), scan);
    await house.takeIn(folder);
    writeFileSync(
      path.join(folder, 'scan_1 small.jpg'),
      await sharp(scan).resize(400).jpeg({ quality: 60 }).toBuffer(),
    );
    writeFileSync(
      path.join(folder, 'scan_1 back.jpg'),
      await sharp(scan).flop().resize(600).jpeg({ quality: 80 }).toBuffer(),
    );
    await house.takeIn(folder);
    await house.quiet();
    const scans = await house.app
      .db('pictures')
      .where('name', 'like', 'scan_1%')
      .orderBy('id')
      .select('id', 'name', 'alike_id');
    expect(scans).toHaveLength(3);
    expect(scans.slice(1).map((row) => row.alike_id)).toEqual([scans[0]!.id, scans[0]!.id]);
    expect(vaultShas(house.app)).toContain(shaOfFile(path.join(folder, 'scan_1 small.jpg')));
  });
});
