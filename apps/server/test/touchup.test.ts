import { plainRecipe, touched, type Recipe } from '@gemmel/core';
import { copyFileSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { derivedBase, type App } from '../src/context';
import { exiftool } from '../src/media/exiftool';
import { pixelsOf } from '../src/media/pixels';
import { ask } from '../src/jobs/jobs';
import { sniffFile } from '../src/media/sniff';
import { DEMO, openHouse, type House } from './house';
import { times } from './long';
import { shaOf, vaultShas } from './pictures';

/** A shore with somebody in red at the left. */
const shore = (n: number) =>
  sharp({ create: { width: 1200, height: 800, channels: 3, background: { r: 150, g: 180, b: 205 } } })
    .composite([
      {
        input: Buffer.from(
          `<svg width="1200" height="800"><rect y="${420 + 9 * n}" width="1200" height="400" fill="#3c5f78"/><circle cx="240" cy="330" r="90" fill="#c08060"/><rect x="160" y="420" width="160" height="300" fill="#a02c20"/><circle cx="${800 + 20 * n}" cy="200" r="60" fill="#f2e6c0"/></svg>`,
        ),
      },
    ])
    .withExif({ IFD0: { Make: 'Maker', Model: 'One' }, IFD2: { DateTimeOriginal: `2026:05:16 12:0${n}:00` } })
    .jpeg({ quality: 92 })
    .toBuffer();

const RECIPE: Recipe = {
  v: 1,
  turn: 1,
  crop: [0, 0, 1, 0.5],
  light: { exposure: 20, shadows: 15 },
  colour: { warmth: 12 },
};

/** On how many pictures preview and result are held against each other. */
const SAME = times(2, 30);

describe('touch-ups', () => {
  let house: House;
  let app: App;
  let ids: number[];
  beforeAll(async () => {
    house = await openHouse();
    ({ app } = house);
    const folder = path.join(app.config.data, 'source');
    mkdirSync(folder);
    for (let n = 0; n < 4; n++) writeFileSync(path.join(folder, `IMG_${3001 + 7 * n}.jpg`), await shore(n));
    await house.takeIn(folder, 'Shore');
    ids = (await app.db('pictures').orderBy('name').select('id')).map((row) => row.id);
  }, 60_000);
  afterAll(() => house?.stop());

  test('every place shows the view, the original stays, and it can be taken back', async () => {
    const [id] = ids as [number];
    const originals = vaultShas(app);
    const before = await house.call('picture', { params: { id } });
    await app.db('faces').insert({
      library_id: 1,
      picture_id: id,
      x: 0.12,
      y: 0.3,
      w: 0.16,
      h: 0.22,
      height_px: 170,
      quality: 0.5,
      vector_a: Buffer.alloc(0),
      vector_b: Buffer.alloc(0),
    });
    const did = await house.call('touchUp', { body: { ids: [id], recipe: RECIPE } });
    const after = await house.call('picture', { params: { id } });
    expect(after).toMatchObject({ width: 800, height: 600, touched: true });
    expect(after.sha).not.toBe(before.sha);
    // Turned to the right, whoever stood at the left is at the top.
    const [face] = after.faces;
    expect(face!.box[1] + face!.box[3] / 2).toBeCloseTo(0.4, 1);
    const skeleton = await house.call('skeleton', { body: { question: { all: [] } } });
    expect(skeleton.shapes).toContain(133);
    expect((await house.call('tiles', { body: { ids: [id] } })).tiles[0]!.sha).toBe(after.sha);
    // Its file is there as soon as it is asked for, whether or not it was made.
    const small = await house.fetch(`/api/derived/${after.sha}/small`);
    expect(small.status).toBe(200);
    const meta = await sharp(Buffer.from(await small.arrayBuffer())).metadata();
    expect([meta.width, meta.height]).toEqual([512, 384]);
    await house.quiet();
    expect((await app.db('pictures').where('id', id).first('thumb_view', 'view'))!.thumb_view).toEqual(
      (await app.db('pictures').where('id', id).first('view'))!.view,
    );
    expect(vaultShas(app)).toEqual(originals);
    // What was asked for is what the one computation makes.
    const large = await pixelsOf(sharp(`${derivedBase(app, before.sha)}-large.jpg`));
    const wanted = touched(large, plainRecipe(RECIPE));
    const made = await pixelsOf(sharp(`${derivedBase(app, after.sha)}-large.jpg`));
    expect([made.width, made.height]).toEqual([wanted.width, wanted.height]);
    let sum = 0;
    for (let i = 0; i < made.data.length; i += 7) sum += Math.abs(made.data[i]! - wanted.data[i]!);
    expect(sum / (made.data.length / 7)).toBeLessThan(2);
    const undone = await house.undo(did);
    expect(await house.call('picture', { params: { id } })).toMatchObject({
      sha: before.sha,
      width: 1200,
      height: 800,
      touched: false,
    });
    await house.undo(undone as { act: number });
    expect((await house.call('picture', { params: { id } })).sha).toBe(after.sha);
    await house.quiet();
  });

  test(`what a page shows before is what is made of it, on ${SAME} pictures of the household`, async () => {
    const { files } = JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as {
      files: { path: string; kind: string; format: string; defect: string | null }[];
    };
    const some = files.filter(({ kind, format, defect }) => kind === 'photo' && format === 'jpg' && !defect);
    const far = { mean: 0, most: 0, beyond: 0, pixels: 0 };
    for (let n = 0; n < SAME; n++) {
      const file = path.join(DEMO, some[(n * 11) % some.length]!.path);
      const base = path.join(app.config.data, `same-${n}`);
      const large = await sharp(file).rotate().resize(1600, 1600, { fit: 'inside', withoutEnlargement: true });
      await large.jpeg({ quality: 84 }).toFile(`${base}-taken.jpg`);
      const kind = (await sniffFile(file))!;
      const recipe: Recipe = {
        v: 1,
        ...(n % 3 ? { level: 40 * n } : { mirror: true }),
        crop: [0.02, 0.02, 0.98, 0.96],
        light: { exposure: n, shadows: 10 + n, highlights: -n },
        colour: { warmth: n - 10, vibrance: 12 },
        detail: { clarity: n % 20, sharp: n % 10 },
      };
      await app.pool.run(
        { file, kind, inside: null, large: `${base}-taken.jpg`, recipe, to: { derived: base } },
        { name: 'render' },
      );
      // The page's worker has the pixels of the same large size, and the same computation.
      const shown = touched(await pixelsOf(sharp(`${base}-taken.jpg`)), recipe);
      const made = await pixelsOf(sharp(`${base}-large.jpg`));
      expect([made.width, made.height]).toEqual([shown.width, shown.height]);
      let [sum, most, beyond] = [0, 0, 0];
      for (let i = 0; i < shown.data.length; i++) {
        const d = Math.abs(shown.data[i]! - made.data[i]!);
        sum += d;
        if (d > most) most = d;
        if (d > 8) beyond++;
      }
      far.mean = Math.max(far.mean, sum / shown.data.length);
      far.most = Math.max(far.most, most);
      far.beyond += beyond;
      far.pixels += shown.data.length;
    }
    process.stdout.write(
      `preview and what is made, ${SAME} pictures: mean of the worst ${far.mean.toFixed(2)}, beyond 8 of 255 ${((100 * far.beyond) / far.pixels).toFixed(3)} %, most ${far.most}\n`,
    );
    expect(far.mean).toBeLessThanOrEqual(2);
    // What lies beyond is of the JPEG it is kept as, at hard edges.
    expect(far.beyond / far.pixels).toBeLessThan(0.01);
  });

  test('the same recipe on the same original is the same file; light and colours are copied without the frame', async () => {
    const others = ids.slice(1);
    await house.call('touchUp', { body: { ids: others, recipe: RECIPE, colours: true } });
    const one = await house.call('look', { params: { id: others[0]! } });
    expect(one.recipe).toEqual({ v: 1, light: RECIPE.light, colour: RECIPE.colour });
    expect((await house.call('picture', { params: { id: others[0]! } })).width).toBe(1200);
    expect(one.looks).toHaveLength(1);
    expect(one.last).toEqual(one.recipe);
    const key = (await app.db('pictures').where('id', others[0]!).first('view'))!.view;
    await house.call('touchUp', { body: { ids: others, recipe: null } });
    await house.call('touchUp', { body: { ids: others, recipe: one.recipe } });
    expect((await app.db('pictures').where('id', others[0]!).first('view'))!.view).toEqual(key);
    await house.call('setLooksKept', { body: { kept: 2 } });
    await house.call('touchUp', { body: { ids: others, recipe: { v: 1, mirror: true } } });
    expect((await house.call('look', { params: { id: others[0]! } })).looks).toHaveLength(2);
    await house.quiet();
  });

  test('what is saved as shown is a new file with what people said; the original is byte for byte', async () => {
    const [id] = ids as [number];
    await house.call('change', { body: { ids: [id], change: { title: 'At the shore', rating: 4, addTags: ['sea'] } } });
    await house.quiet();
    const bytes = Buffer.from(await (await house.fetch(`/api/pictures/${id}/original`)).arrayBuffer());
    expect(vaultShas(app)).toContain(shaOf(bytes));
    const shown = Buffer.from(await (await house.fetch(`/api/pictures/${id}/shown`)).arrayBuffer());
    const meta = await sharp(shown).metadata();
    expect([meta.width, meta.height, meta.orientation ?? 1]).toEqual([800, 600, 1]);
    const file = path.join(app.config.data, 'shown.jpg');
    writeFileSync(file, shown);
    const tags = await exiftool().read(file);
    expect(tags).toMatchObject({ Title: 'At the shore', Rating: 4, Model: 'One' });
    expect([tags.Subject].flat()).toContain('sea');
    expect(String(tags.DateTimeOriginal)).toContain('2026');
    const sidecar = readFileSync(
      path.join(
        app.paths.vault,
        'home',
        `${(await app.db('pictures').where('id', id).first('vault_path'))!.vault_path}.xmp`,
      ),
      'utf8',
    );
    expect(sidecar).toContain('gemmel:recipe');
  });

  test('a sidecar brings the look along to another library', async () => {
    const id = ids[3]!;
    await house.call('touchUp', { body: { ids: [id], recipe: RECIPE } });
    await house.quiet();
    const row = (await app.db('pictures').where('id', id).first('vault_path', 'name'))!;
    const at = path.join(app.paths.vault, 'home', row.vault_path);
    const folder = path.join(app.config.data, 'elsewhere');
    mkdirSync(folder);
    for (const end of ['', '.xmp']) copyFileSync(`${at}${end}`, path.join(folder, `${row.name}${end}`));
    await house.call('intoBin', { body: { ids: [id] } });
    await house.call('emptyBin', { body: { ids: [id], word: 'Test library' } });
    await house.quiet();
    await app.db('binned').where('id', id).delete();
    await house.takeIn(folder, 'Elsewhere');
    await house.quiet();
    const back = (await app.db('pictures').where('name', row.name).first('id', 'recipe', 'width', 'height'))!;
    expect(JSON.parse(back.recipe!)).toEqual(plainRecipe(RECIPE));
    expect([back.width, back.height]).toEqual([800, 600]);
    ids[3] = back.id;
  });

  test('a clip is not touched up, a recipe that does not fit is refused, and nothing is changed', async () => {
    await expect(house.call('touchUp', { body: { ids: [999_999], recipe: RECIPE } })).rejects.toMatchObject({
      status: 404,
    });
    const crop = [0.9, 0, 0.1, 1] as unknown as [number, number, number, number];
    await expect(house.call('touchUp', { body: { ids: [ids[0]!], recipe: { v: 1, crop } } })).rejects.toMatchObject({
      status: 400,
    });
    const relative = await house.member('relative');
    await expect(house.call('touchUp', { body: { ids: [ids[0]!], recipe: null } }, relative)).rejects.toMatchObject({
      status: 403,
    });
  });

  test('two who touch up the same at once leave one look, with its file, and guests see it', async () => {
    const [id] = ids as [number];
    const helper = await house.member('helper');
    await Promise.all([
      house.call('touchUp', { body: { ids: [id], recipe: { v: 1, turn: 2 } } }),
      house.call('touchUp', { body: { ids: [id], recipe: { v: 1, mirror: true } } }, helper),
    ]);
    await house.quiet();
    const { sha } = await house.call('picture', { params: { id } });
    expect(existsSync(`${derivedBase(app, sha)}-small.webp`)).toBe(true);
    const { share } = await house.call('openShare', {
      body: { title: 'Shore', of: { ids: [id] }, reach: 'house', until: null },
    });
    const token = share.path!.split('/').pop()!;
    const guest = await house.fetch(`/api/guest/${token}/pictures/${id}/large`, {}, null);
    expect(guest.status).toBe(200);
    expect(shaOf(Buffer.from(await guest.arrayBuffer()))).toBe(
      shaOf(readFileSync(`${derivedBase(app, sha)}-large.jpg`)),
    );
    const whole = await house.fetch(`/api/guest/${token}/pictures/${id}/original`, {}, null);
    expect(whole.headers.get('content-type')).toContain('jpeg');
    // In the bin and back it is shown as before.
    const binned = await house.call('intoBin', { body: { ids: [id] } });
    await house.undo(binned);
    expect((await house.call('picture', { params: { id } })).sha).toBe(sha);
    await ask(app.db, 1, 'views');
    await house.quiet();
  });
});
