import { measure, noticedIn, noticedOfFaces, type Noticed } from '@gemmel/core';
import { mkdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { keepNoticed } from '../src/observe/kinds';
import { observeJob, observing, setObserving } from '../src/observe/observe';
import { undoAct } from '../src/act/undo';
import { openHouse, type House } from './house';
import { LONG, testLong } from './long';
import { pictureRow } from './pictures';

const DEMO = path.join(__dirname, '../../../demo');
interface True {
  path: string;
  kind: string;
  format: string;
  blurred: boolean;
}

/** What is noticed of pixels, as intake notices it. */
async function noticed(image: Sharp): Promise<Noticed[]> {
  const { data, info } = await image
    .resize(512, 512, { fit: 'inside', withoutEnlargement: true })
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return noticedIn(measure({ width: info.width, height: info.height, data }), info).map(({ kind }) => kind);
}

describe('what the machine notices', () => {
  test('of the household: blurred pictures and screenshots, with how often it is right', async () => {
    const { files } = JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as { files: True[] };
    const all = files.filter(
      ({ kind, format }) => ['photo', 'screen'].includes(kind) && ['jpg', 'png'].includes(format),
    );
    const some = all.filter((file, i) => LONG || file.blurred || file.kind === 'screen' || i % 32 === 0);
    const figures = { blurred: [0, 0, 0], screen: [0, 0, 0] };
    for (const file of some) {
      const found = await noticed(sharp(path.join(DEMO, file.path)).rotate());
      for (const kind of ['blurred', 'screen'] as const) {
        const is = kind === 'blurred' ? file.blurred : file.kind === 'screen';
        const said = found.includes(kind);
        if (is && said) figures[kind][0]!++;
        else if (said) figures[kind][1]!++;
        else if (is) figures[kind][2]!++;
      }
    }
    for (const [kind, [right, wrong, missed]] of Object.entries(figures)) {
      const precision = right! / (right! + wrong!);
      const recall = right! / (right! + missed!);
      console.log(
        `${kind}, of ${some.length} pictures: ${right} right, ${wrong} wrong, ${missed} missed; precision ${(100 * precision).toFixed(0)} %, recall ${(100 * recall).toFixed(0)} %`,
      );
      expect(precision).toBeGreaterThanOrEqual(0.95);
      expect(recall).toBeGreaterThanOrEqual(0.8);
    }
  }, 120_000);

  test('drawn pictures: dark, too bright, without colours, long, plain', async () => {
    const noise = (width: number, height: number, from: number, to: number, grey = false) => {
      let seed = 7;
      const data = Buffer.alloc(width * height * 3);
      for (let i = 0; i < width * height; i++) {
        for (let c = 0; c < 3; c++) {
          if (c === 0 || !grey) seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
          data[3 * i + c] = from + ((seed >>> 24) * (to - from)) / 255;
        }
      }
      return sharp(data, { raw: { width, height, channels: 3 } });
    };
    expect(await noticed(noise(400, 300, 0, 40))).toEqual(['dark']);
    expect(await noticed(noise(400, 300, 180, 420 - 165))).not.toContain('dark');
    expect(await noticed(noise(400, 300, 20, 230, true))).toEqual(['grey']);
    expect(await noticed(noise(500, 150, 20, 230))).toEqual(['wide']);
    expect(await noticed(noise(400, 300, 128, 128))).toEqual([]);
  });

  test('faces: many of them, and eyes shut against how open they usually are', () => {
    const open = { height: 120, eyes: 1 };
    expect(noticedOfFaces([open, open])).toEqual([]);
    expect(noticedOfFaces(Array.from({ length: 6 }, () => open)).map(({ kind }) => kind)).toEqual(['crowd']);
    expect(noticedOfFaces([open, { height: 120, eyes: 0.1 }]).map(({ kind }) => kind)).toEqual(['shut']);
    // Too small to tell.
    expect(noticedOfFaces([{ height: 30, eyes: 0.1 }])).toEqual([]);
  });

  // Of everybody's pictures at once, since eyes are measured against how open they usually are: minutes.
  testLong(
    'shut eyes of the household, with how often that is right',
    async () => {
      const house = await openHouse({ recognise: true });
      try {
        const { files } = JSON.parse(readFileSync(path.join(DEMO, 'truth.json'), 'utf8')) as {
          files: { sha256: string; people: { eyesClosed: boolean }[] }[];
        };
        const truth = new Map(files.map((file) => [file.sha256, file]));
        for (const folder of ['good-camera', 'ilses-phone', 'martens-phone'])
          await house.takeIn(path.join(DEMO, folder));
        await house.quiet();
        const rows = (await house.app
          .db('pictures as p')
          .select(
            'p.sha256',
            house.app.db.raw(
              "EXISTS (SELECT 1 FROM picture_observations o WHERE o.picture_id = p.id AND o.kind = 'shut') AS shut",
            ),
          )) as unknown as { sha256: Buffer; shut: number }[];
        let [right, wrong, missed] = [0, 0, 0];
        for (const { sha256, shut } of rows) {
          const is = truth.get(sha256.toString('hex'))?.people.some((person) => person.eyesClosed) ?? false;
          if (is && shut) right++;
          else if (shut) wrong++;
          else if (is) missed++;
        }
        console.log(`shut eyes, of ${rows.length} pictures: ${right} right, ${wrong} wrong, ${missed} missed`);
        expect(right / (right + wrong)).toBeGreaterThanOrEqual(0.85);
        expect(right / (right + missed)).toBeGreaterThanOrEqual(0.3);
      } finally {
        await house.stop();
      }
    },
    900_000,
  );

  describe('in a library', () => {
    let house: House;
    beforeAll(async () => void (house = await openHouse()));
    afterAll(() => house?.stop());

    test('older pictures are looked at; a kind switched off is gone at once, and found again after the undo', async () => {
      const { app } = house;
      await house.runner.stop();
      const id = await pictureRow(app, 1);
      const { sha256 } = (await app.db('pictures').where('id', id).first('sha256'))!;
      const sha = sha256.toString('hex');
      mkdirSync(path.join(app.paths.derived, sha.slice(0, 2)), { recursive: true });
      await sharp({ create: { width: 512, height: 384, channels: 3, background: '#0a0a0a' } })
        .composite([
          { input: Buffer.from('<svg width="512" height="384"><circle cx="90" cy="80" r="40" fill="#333"/></svg>') },
        ])
        .webp()
        .toFile(path.join(app.paths.derived, sha.slice(0, 2), `${sha}-small.webp`));
      const run = () =>
        observeJob.run(app, {
          id: 0,
          library: 1,
          kind: 'observe',
          about: 0,
          tries: 0,
          payload: null,
          report: () => undefined,
          signal: new AbortController().signal,
        });
      const count = async () => (await observing(app, 1)).kinds.find(({ kind }) => kind === 'dark')!;
      await run();
      expect(await count()).toEqual({ kind: 'dark', on: true, pictures: 1 });
      const mum = { library: 1, member: 1, part: 'keeper' as const };
      const { act } = await setObserving(app, mum, 'dark', false);
      expect(await count()).toEqual({ kind: 'dark', on: false, pictures: 0 });
      await keepNoticed(app.db, 1, id, [{ kind: 'dark', sure: 1 }]);
      expect((await count()).pictures).toBe(0);
      await undoAct(app, mum, act!);
      await run();
      expect(await count()).toEqual({ kind: 'dark', on: true, pictures: 1 });
    });
  });
});
