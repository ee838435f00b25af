import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { openBatch, walk } from '../src/intake/announce';
import { toXmp } from '../src/vault/sidecar';
import { filesBelow, openKillable, type Killable } from './killable';
import { chances, describeLong, times } from './long';
import { pause } from './program';

const random = chances(3);
const KILLS = times(2, 50);
const PICTURES = times(20, 100);
const shaOf = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex');

describeLong('taking in, killed again and again', () => {
  let house: Killable;
  beforeAll(async () => (house = await openKillable('kill')));
  afterAll(() => house?.stop());

  test('every file is in exactly once, whole, with its sidecar', async () => {
    const { folder, app, begin, kill } = house;
    const { db } = app;
    const source = path.join(folder, 'source');
    mkdirSync(source);
    for (let i = 0; i < PICTURES; i++) {
      const name = `IMG_${String(3000 + i)}.jpg`;
      const hue = { r: (i * 37) % 256, g: (i * 91) % 256, b: (i * 53) % 256 };
      await sharp({ create: { width: 900, height: 600, channels: 3, background: hue } })
        .composite([
          {
            input: Buffer.from(`<svg width="900" height="600"><text x="90" y="390" font-size="300">${i}</text></svg>`),
          },
        ])
        .jpeg()
        .toFile(path.join(source, name));
      const said = {
        title: `Picture ${i}`,
        caption: null,
        rating: i % 6,
        favourite: false,
        label: null,
        tags: [`tag ${i % 7}`],
        paths: [],
        position: null,
        taken: null,
        span: null,
        width: 900,
        height: 600,
        faces: [],
        comments: [],
      };
      writeFileSync(path.join(source, `${name}.xmp`), toXmp(said));
    }
    const originals = filesBelow(source);
    const batch = await openBatch(app, 1, 'Killed', await walk(source), { way: 'folder' });
    const done = async () =>
      Number(
        (
          (await db('batch_items')
            .where('batch_id', batch.id)
            .whereIn('state', ['stored', 'known'])
            .count('* as n')) as unknown as [{ n: number }]
        )[0].n,
      );
    let kills = 0;
    let restarts = 0;
    const at: number[] = [];
    while (kills < KILLS) {
      await begin();
      // Most lives end a moment after something was finished, whatever the machine's speed; some before anything could be.
      const had = await done();
      if (random() < 0.75 && had < originals.length)
        for (let i = 0; i < 200 && (await done()) === had; i++) await pause(30);
      await pause(random() * 500);
      if (kills % 5 === 4) {
        // The database goes away under the work, and comes back.
        await house.restartDb(random() * 300);
        restarts++;
        await pause(300);
      }
      await kill();
      at.push(await done());
      kills++;
    }
    await begin();
    for (
      let i = 0;
      i < 900 &&
      !((await db('batches').where('id', batch.id).first('state')) as { state: string }).state.startsWith('done');
      i++
    )
      await pause(100);
    for (let still = 0; still < 3;) {
      still = (await db('jobs').whereNot('state', 'failed').first('id')) ? 0 : still + 1;
      await pause(100);
    }
    await kill();
    const kept = filesBelow(path.join(folder, 'data/vault'));
    const brought = kept.filter((file) => file.endsWith('.brought.xmp'));
    const ours = kept.filter((file) => file.endsWith('.xmp') && !file.endsWith('.brought.xmp'));
    const pictures = kept.filter((file) => !file.endsWith('.xmp'));
    expect([...pictures, ...brought].map(shaOf).sort()).toEqual(originals.map(shaOf).sort());
    expect(ours.map((file) => path.basename(file)).sort()).toEqual(
      pictures.map((file) => `${path.basename(file)}.xmp`).sort(),
    );
    const rows = (await db('pictures').select('title', 'rating', 'name')) as {
      title: string;
      rating: number;
      name: string;
    }[];
    expect(rows).toHaveLength(PICTURES);
    for (const row of rows) {
      const i = Number(row.name.slice(4, 8)) - 3000;
      expect([row.title, row.rating]).toEqual([`Picture ${i}`, i % 6]);
    }
    expect(await db('picture_files').select('id')).toHaveLength(PICTURES);
    expect(await db('jobs').where('state', 'failed').select('kind', 'error')).toEqual([]);
    expect(filesBelow(path.join(folder, 'data/incoming'))).toEqual([]);
    const during = at.filter((n) => n > 0 && n < originals.length).length;
    console.log(
      `killed ${kills} times over ${originals.length} files (${during} times with some but not all of them in), the database restarted ${restarts} times: every file is in exactly once, whole, with its sidecar`,
    );
    expect(during).toBeGreaterThan(KILLS / 5);
  }, 400_000);
});
