import { quadSize, readFrom, sizeAfter, type Corners } from '@gemmel/core';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { drawScan, sharedBy } from '../../../packages/core/src/scan/drawn.testing';
import { derivedBase, type App } from '../src/context';
import { ask } from '../src/jobs/jobs';
import { recipeIn } from '../src/touchup/key';
import { DEMO, openHouse, type House } from './house';
import { testLong, times } from './long';
import { vaultShas } from './pictures';

const scanned = drawScan(7, { prints: 4, border: 'white' }, 1600);
const jpegOf = ({ data, width, height }: typeof scanned.image) =>
  sharp(data, { raw: { width, height, channels: 3 } }).jpeg({ quality: 92 });

/** Portraits of the household on a light glass, each on a print of its own, lying by so many quarters. */
async function people(turns: readonly number[], from: number): Promise<Buffer> {
  const { files } = JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as {
    files: {
      path: string;
      kind: string;
      format: string;
      height: number;
      defect: string | null;
      blurred: boolean;
      people: { box: [number, number, number, number]; occluded: boolean }[];
    }[];
  };
  const portraits = files.filter(
    ({ kind, format, height, blurred, defect, people: who }) =>
      kind === 'photo' &&
      format === 'jpg' &&
      !blurred &&
      !defect &&
      who.length === 1 &&
      !who[0]!.occluded &&
      who[0]!.box[3] > 0.15 * height,
  );
  const prints = await Promise.all(
    turns.map(async (turn, i) => ({
      input: await sharp(
        await sharp(path.join(DEMO, portraits[(from + i) % portraits.length]!.path))
          .rotate()
          .resize(520, 520, { fit: 'inside' })
          .extend({ top: 14, bottom: 14, left: 14, right: 14, background: '#e4dcc8' })
          .toBuffer(),
      )
        .rotate(90 * turn)
        .toBuffer(),
      left: 30 + 590 * (i % 2),
      top: 30 + 590 * Math.floor(i / 2),
    })),
  );
  return sharp({ create: { width: 1200, height: 1200, channels: 3, background: '#f6f6f4' } })
    .composite(prints)
    .jpeg({ quality: 92 })
    .toBuffer();
}

describe('scans', () => {
  let house: House;
  let app: App;
  let scan: number;
  beforeAll(async () => {
    house = await openHouse();
    ({ app } = house);
    const folder = path.join(app.config.data, 'source');
    mkdirSync(folder);
    writeFileSync(path.join(folder, 'Scan 4.jpg'), await jpegOf(scanned.image).toBuffer());
    writeFileSync(
      path.join(folder, 'IMG_1.jpg'),
      await jpegOf(drawScan(8, { prints: 2, border: 'white' }, 900).image)
        .withExif({ IFD0: { Make: 'Maker', Model: 'One' }, IFD2: { FNumber: '2/1', ExposureTime: '1/60' } })
        .toBuffer(),
    );
    await house.takeIn(folder, 'Box of prints');
    scan = (await app.db('pictures').where('name', 'Scan 4.jpg').first('id'))!.id;
  }, 60_000);
  afterAll(() => house?.stop());

  const prints = async () => (await house.call('scan', { params: { id: scan } })).prints!;

  test('is noticed as it comes in, with a frame around each print; a camera’s own picture is none', async () => {
    const { scans, total } = await house.call('scans', { query: {} });
    expect([total, scans.map(({ id }) => id)]).toEqual([1, [scan]]);
    expect((await house.call('library', {})).scans).toBe(1);
    const found = await prints();
    expect(found).toHaveLength(4);
    for (const corners of found)
      expect(Math.max(...scanned.prints.map((print) => sharedBy(print, corners as Corners)))).toBeGreaterThan(0.95);
  });

  test('taken apart, each print is a picture; undone, it is whole again, and done again', async () => {
    const originals = vaultShas(app);
    const corners = await prints();
    const middle = (print: (typeof corners)[number]) => [(print[0] + print[4]) / 2, (print[1] + print[5]) / 2] as const;
    const faces: number[] = [];
    for (const print of corners) {
      const [x, y] = middle(print);
      const [id] = await app.db('faces').insert({
        library_id: 1,
        picture_id: scan,
        x: x - 0.02,
        y: y - 0.02,
        w: 0.04,
        h: 0.04,
        height_px: 60,
        quality: 0.5,
        vector_a: Buffer.alloc(0),
        vector_b: Buffer.alloc(0),
      });
      faces.push(id!);
    }
    await house.call('change', { body: { ids: [scan], change: { caption: 'From Gran’s box' } } });
    const did = await house.call('takeApart', { params: { id: scan }, body: { prints: corners } });
    expect(did.looks).toHaveLength(3);
    const ids = [scan, ...did.looks];
    for (const [i, id] of ids.entries()) {
      const picture = await house.call('picture', { params: { id } });
      const [width, height] = quadSize(scanned.image.width, scanned.image.height, corners[i] as Corners);
      expect([picture.width, picture.height]).toEqual([width, height]);
      expect(picture.caption).toBe('From Gran’s box');
      expect(picture.faces.map((face) => face.id)).toEqual([faces[i]]);
      expect(picture.faces[0]!.box[0]).toBeGreaterThan(0.3);
      expect(picture.looks).toHaveLength(3);
      expect(picture.isLook).toBe(i > 0);
      const small = await house.fetch(`/api/derived/${picture.sha}/small`);
      expect(small.status).toBe(200);
      const seen = await sharp(Buffer.from(await small.arrayBuffer())).metadata();
      expect(seen.width! / seen.height!).toBeCloseTo(width / height, 1);
    }
    // Said in two tabs, it is done once.
    await expect(house.call('takeApart', { params: { id: scan }, body: { prints: corners } })).rejects.toThrow(
      'taken apart already',
    );
    await house.quiet();
    expect((await house.call('scans', { query: {} })).total).toBe(0);
    // One original is behind all of them, whole and once.
    const now = vaultShas(app);
    expect(originals.every((sha) => now.includes(sha))).toBe(true);
    const whole = Buffer.from(await (await house.fetch(`/api/pictures/${did.looks[1]}/original`)).arrayBuffer());
    expect(whole.equals(await jpegOf(scanned.image).toBuffer())).toBe(true);
    const zip = await house.call('makeZip', { body: { ids } });
    const names = Buffer.from(await (await house.fetch(zip.path)).arrayBuffer()).toString('latin1');
    expect(names.match(/Scan 4\.jpg/g)!.length).toBeLessThan(4);
    expect(names).not.toContain('.look');
    // Files of looks are there, say whose they are, and are what their rows say.
    const row = (await app.db('pictures').where('id', did.looks[0]).first())!;
    expect(row.name).toBe('Scan 4 print 2.look');
    expect(existsSync(path.join(app.paths.vault, 'home', row.vault_path))).toBe(true);
    expect(now).toContain(row.sha256.toString('hex'));
    // A scan is shown at full size from its original, not from a smaller one.
    const full = await house.fetch(`/api/pictures/${did.looks[0]}/shown`);
    const meta = await sharp(Buffer.from(await full.arrayBuffer())).metadata();
    expect([meta.width, meta.height]).toEqual(
      sizeAfter(scanned.image.width, scanned.image.height, recipeIn(row.recipe)!),
    );

    const undone = await house.undo(did);
    expect(undone.left).toBe(0);
    const again = await house.call('picture', { params: { id: scan } });
    expect([again.touched, again.width]).toEqual([false, scanned.image.width]);
    expect(again.faces.map((face) => face.id).sort()).toEqual([...faces].sort());
    expect((await app.db('pictures').whereIn('id', did.looks)).length).toBe(0);
    expect((await house.call('bin', { query: {} })).pictures).toBe(3);
    expect((await house.call('scans', { query: {} })).total).toBe(1);
    // Of prints that lie upside down, marks nobody has named go, to be looked for anew; undone, they are back.
    const over = corners.map((print) => readFrom(print as Corners, 2) as typeof print);
    const turned = await house.call('takeApart', { params: { id: scan }, body: { prints: over } });
    expect(await app.db('faces').whereIn('id', faces)).toEqual([]);
    expect((await house.undo(turned)).left).toBe(0);
    expect((await app.db('faces').whereIn('id', faces).where('picture_id', scan)).length).toBe(4);
    await house.call('emptyBin', { body: { word: 'Test library', ids: [...turned.looks] } });
    await house.quiet();
    await house.undo(undone);
    const back = await house.call('picture', { params: { id: did.looks[2]! } });
    expect(back.faces.map((face) => face.id)).toEqual([faces[3]]);
    expect((await house.call('bin', { query: {} })).pictures).toBe(0);
    await house.quiet();
  });

  testLong('a vault that is taken into another library has its looks again, with what was said of them', async () => {
    const other = await openHouse();
    try {
      const looks = (await app.db('pictures').whereNotNull('of_sha').orderBy('name').select('id', 'name')) as {
        id: number;
        name: string;
      }[];
      expect(looks).toHaveLength(3);
      await house.call('change', { body: { ids: [looks[1]!.id], change: { title: 'By the lake', addTags: ['box'] } } });
      await app.db('jobs').update({ run_after: app.db.raw('UTC_TIMESTAMP(3)') });
      await house.quiet();
      const vault = path.join(app.paths.vault, 'home');
      const whole = await other.takeIn(vault, 'The whole vault');
      const left = await other.app.db('batch_items').where('batch_id', whole).whereNot('state', 'stored');
      expect(left.map(({ path: at, state, reason }) => [at, state, reason])).toEqual([]);
      const came = await other.app.db('pictures').whereNotNull('of_sha').orderBy('name').select('id', 'name', 'view');
      expect(came.map((row) => row.name)).toEqual(looks.map((row) => row.name));
      for (const [i, { id }] of came.entries()) {
        const [before, after] = await Promise.all([
          house.call('picture', { params: { id: looks[i]!.id } }),
          other.call('picture', { params: { id } }),
        ]);
        expect([after.sha, after.width, after.height, after.title, after.caption]).toEqual([
          before.sha,
          before.width,
          before.height,
          before.title,
          before.caption,
        ]);
        expect(after.tags.map((tag) => tag.name)).toEqual(before.tags.map((tag) => tag.name));
      }
      // Once more, and nothing comes twice.
      await other.takeIn(vault, 'Once more');
      expect((await other.app.db('pictures').whereNotNull('of_sha')).length).toBe(3);
      const alone = path.join(app.config.data, 'alone');
      mkdirSync(alone);
      writeFileSync(path.join(alone, 'x.look'), JSON.stringify({ gemmel: 'look', v: 1, of: '0'.repeat(64), n: 1 }));
      writeFileSync(path.join(alone, 'y.look'), 'not one');
      const batch = await other.takeIn(alone, 'Alone');
      const reasons = (await other.app.db('batch_items').where('batch_id', batch).orderBy('path').select('reason')).map(
        (row) => (JSON.parse(row.reason!) as { code: string }).code,
      );
      expect(reasons).toEqual(['look-alone', 'not-by-its-ending']);
    } finally {
      await other.stop();
    }
  });

  test('an original stays as long as there is a look at it, and goes with the last of them', async () => {
    const looks = (await app.db('pictures').whereNotNull('of_sha').select('id')).map((row) => row.id);
    const { sha256 } = (await app.db('pictures').where('id', scan).first('sha256'))!;
    await house.call('intoBin', { body: { ids: [scan] } });
    await house.call('emptyBin', { body: { word: 'Test library', all: true } });
    await house.quiet();
    expect(vaultShas(app)).toContain(sha256.toString('hex'));
    const [look] = looks as [number];
    expect((await house.fetch(`/api/pictures/${look}/original`)).status).toBe(200);
    expect((await house.call('look', { params: { id: look } })).sha).toBe(sha256.toString('hex'));
    expect((await house.fetch(`/api/derived/${sha256.toString('hex')}/large`)).status).toBe(200);
    await house.call('touchUp', { body: { ids: [look], recipe: null } });
    const whole = await house.call('picture', { params: { id: look } });
    expect([whole.sha, whole.width, whole.touched]).toEqual([sha256.toString('hex'), scanned.image.width, false]);
    await house.call('intoBin', { body: { ids: looks } });
    await house.call('emptyBin', { body: { word: 'Test library', all: true } });
    await house.quiet();
    await ask(app.db, 1, 'empty');
    await house.quiet();
    expect(vaultShas(app)).not.toContain(sha256.toString('hex'));
    const base = derivedBase(app, sha256.toString('hex'));
    expect(readdirSync(path.dirname(base)).filter((name) => name.startsWith(path.basename(base)))).toEqual([]);
    expect((await app.db('binned').where('state', 'going')).length).toBe(0);
  });

  test('a second look stands beside the first, and knows what was said of it', async () => {
    const { id } = (await app.db('pictures').where('name', 'IMG_1.jpg').first('id'))!;
    await app.db('faces').insert({
      library_id: 1,
      picture_id: id,
      x: 0.4,
      y: 0.4,
      w: 0.1,
      h: 0.1,
      height_px: 60,
      quality: 0.5,
      vector_a: Buffer.alloc(0),
      vector_b: Buffer.alloc(0),
    });
    const did = await house.call('secondLook', {
      params: { id },
      body: { recipe: { v: 1, grey: [30, 59, 11] } },
    });
    const [look] = did.looks as [number];
    const [first, second] = [
      await house.call('picture', { params: { id } }),
      await house.call('picture', { params: { id: look } }),
    ];
    expect(first.touched).toBe(false);
    expect(second).toMatchObject({ touched: true, isLook: true, width: first.width, name: 'IMG_1 look 2.look' });
    expect(second.faces).toHaveLength(1);
    expect(second.sha).not.toBe(first.sha);
    expect(second.looks.map((one) => [one.id, one.original])).toEqual([[id, true]]);
    await house.quiet();
    expect((await house.call('doubles', { query: {} })).groups).toEqual([]);
    await house.undo(did);
    expect((await house.call('bin', { query: {} })).pictures).toBe(1);
  });

  testLong('prints that lie upside down or on their side are turned by the faces on them', async () => {
    const turns = [0, 2, 1, 3];
    const file = path.join(app.config.data, 'people.jpg');
    /** The corner each is read from: turned once to the right, its own top left lies at the top right. */
    const corner = ([x, y, ...rest]: Corners) => {
      const middle = [(x + rest[2]) / 2, (y + rest[3]) / 2] as const;
      return x < middle[0] ? (y < middle[1] ? 0 : 3) : y < middle[1] ? 1 : 2;
    };
    let right = 0;
    const scans = times(1, 10);
    for (let n = 0; n < scans; n++) {
      writeFileSync(file, await people(turns, 4 * n));
      const found = (await app.pool.run(
        { file, models: app.config.models, asked: false },
        { name: 'glass' },
      )) as Corners[];
      expect(found).toHaveLength(4);
      right += found.filter((print, i) => corner(print) === turns[i]).length;
    }
    process.stdout.write(`prints turned by the one face on them: ${right} of ${4 * scans} upright\n`);
    // A drawn face upside down is a face to the network now and then.
    expect(right).toBeGreaterThanOrEqual(scans === 1 ? 3 : 0.9 * 4 * scans);
  });

  testLong('one picture kept as it is is not asked about again; front and back are one tile', async () => {
    const folder = path.join(app.config.data, 'backs');
    mkdirSync(folder);
    for (const [i, name] of ['0012a.jpg', '0012b.jpg', '0013.jpg', '0013 back.jpg'].entries())
      writeFileSync(
        path.join(folder, name),
        await jpegOf(drawScan(60 + i, { prints: 1, border: 'white' }, 700).image).toBuffer(),
      );
    await house.takeIn(folder, 'Fronts and backs');
    const { scans } = await house.call('scans', { query: {} });
    const kept = scans[0]!.id;
    const did = await house.call('keepWhole', { params: { id: kept } });
    expect((await house.call('scans', { query: {} })).scans.map((one) => one.id)).not.toContain(kept);
    await house.undo(did);
    expect((await house.call('scans', { query: {} })).scans.map((one) => one.id)).toContain(kept);

    const { pairs } = await house.call('backs', {});
    expect(pairs.map(({ front, back }) => [front.name, back.name]).sort()).toEqual([
      ['0012a.jpg', '0012b.jpg'],
      ['0013.jpg', '0013 back.jpg'],
    ]);
    const wanted = pairs.map(({ front, back }) => ({ front: front.id, back: back.id }));
    const paired = await house.call('pair', { body: { pairs: wanted, are: true } });
    await house.quiet();
    const { front, back } = wanted[0]!;
    const skeleton = await house.call('skeleton', { body: { question: { all: [] } } });
    expect(skeleton).toBeDefined();
    await app.db('pictures').where('id', back).update({ seen_words: 'Mormor i Lund\njuli 1962' });
    const shown = await house.call('picture', { params: { id: front } });
    expect(shown.pair).toMatchObject({
      id: back,
      front: false,
      written: 'Mormor i Lund\njuli 1962',
      datedAs: 'July 1962',
    });
    expect((await house.call('picture', { params: { id: back } })).pair).toMatchObject({ id: front, front: true });
    expect((await house.call('runs', { query: {} })).runs).toEqual([]);
    expect((await app.db('pictures').where('id', back).first('run_id', 'run_first'))!).toEqual({
      run_id: front,
      run_first: 0,
    });
    await house.undo(paired);
    expect((await house.call('picture', { params: { id: front } })).pair).toBeNull();
    await house.call('pair', { body: { pairs: wanted, are: false } });
    expect((await house.call('backs', {})).total).toBe(0);
    await expect(house.call('pair', { body: { pairs: [{ front, back: front }], are: true } })).rejects.toThrow();
  });
});
