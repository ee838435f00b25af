/** An album of 5 000 pictures opened, filled and arranged, and the page of 200 smart albums, in a made-up library of 100 000 pictures. */
import { monthSpan, type Question } from '../packages/core/src';
import { changePictures } from '../apps/server/src/picture/change';
import { listAlbums, makePlainAlbum, makeSmartAlbum } from '../apps/server/src/album/albums';
import { counted } from '../apps/server/src/album/facts';
import { makeChapter } from '../apps/server/src/album/chapters';
import { moveInAlbum, putIntoAlbum, takeOut } from '../apps/server/src/album/fill';
import { albumOf } from '../apps/server/src/album/page';
import { proposeBest } from '../apps/server/src/album/propose';
import { albumsWith } from '../apps/server/src/album/smart';
import { benchEngine, line, quantile } from './engine';
import { fill, steady } from './synthetic';

const N = Number(process.env['PICTURES'] ?? 100_000);
const LARGE = 5000;
const SMART = 200;
const ms = (value: number): string => `${value.toFixed(1)} ms`;

const engine = await benchEngine();
try {
  const { app } = engine;
  const { db } = app;
  await fill(app, N);
  const [member] = await db('members').insert({ library_id: 1, name: 'M', part: 'keeper' });
  const by = { library: 1, member: member! };
  const random = steady(3);
  const timed = async <T>(work: () => Promise<T>): Promise<[number, T]> => {
    const began = performance.now();
    const answer = await work();
    return [performance.now() - began, answer];
  };
  const several = async (times: number, work: () => Promise<unknown>): Promise<number[]> => {
    const took: number[] = [];
    for (let i = 0; i < times; i++) took.push((await timed(work))[0]);
    return took;
  };
  const tell = (text: string, took: readonly number[]) =>
    line(text, `${ms(quantile(took, 0.5))} median, ${ms(quantile(took, 0.95))} at the 95th percentile`);

  const ids = Array.from({ length: LARGE }, (_, i) => 1 + Math.floor((i * N) / (LARGE + 1)));
  const [made, { id }] = await timed(() => makePlainAlbum(app, by, 'Large', ids));
  line(`an album of ${LARGE} pictures made in one act`, ms(made));
  tell('  opened', await several(12, () => albumOf(app, 1, id)));
  const bare = await several(12, () =>
    db('album_pictures as ap')
      .join('pictures as p', 'p.id', 'ap.picture_id')
      .where('ap.album_id', id)
      .orderBy('ap.position')
      .select('p.id', 'p.width', 'p.height'),
  );
  tell('  the bare SELECT of its pictures', bare);
  const any = () => ids[Math.floor(random() * ids.length)]!;
  const keys = async () =>
    new Map(
      (await db('album_pictures').where('album_id', id).select('picture_id', 'position')).map((row) => [
        row.picture_id,
        row.position,
      ]),
    );
  let written = 0;
  const moves: number[] = [];
  for (let i = 0; i < 100; i++) {
    const before = i % 10 ? null : await keys();
    moves.push((await timed(() => moveInAlbum(app, by, id, { ids: [any()], before: { picture: any() } })))[0]);
    if (before) for (const [picture, key] of await keys()) if (before.get(picture) !== key) written++;
  }
  tell('  one picture moved', moves);
  line('  rows written by ten of those moves', String(written));
  tell(
    '  the same place taken again and again',
    await several(100, () => moveInAlbum(app, by, id, { ids: [any()], before: { picture: ids[7]! } })),
  );
  tell(
    '  a chapter put in',
    await several(20, () => makeChapter(app, by, id, { heading: 'x', note: null }, { picture: any() })),
  );
  const fresh = Array.from({ length: 100 }, (_, i) => N - i);
  tell('  100 pictures put in', [(await timed(() => putIntoAlbum(app, by, id, { ids: fresh })))[0]]);
  tell('  100 pictures taken out', [(await timed(() => takeOut(app, by, id, fresh)))[0]]);

  const asked = (n: number): Question =>
    [
      { who: { people: [1 + (n % 40)], mode: 'all' as const } },
      { all: [{ tag: 1 + (n % 200) }, { rating: { min: 1 + (n % 5) } }] },
      { taken: monthSpan(2006 + (n % 20), 1, 2006 + (n % 20), 12) },
      { all: [{ who: { people: [1 + (n % 40), 1 + ((n + 3) % 40)], mode: 'any' as const } }, { rating: { min: 3 } }] },
      { any: [{ where: { country: 'SE' } }, { all: [{ favourite: true }, { not: { tag: 1 + (n % 20) } }] }] },
    ][n % 5]!;
  for (let n = 0; n < SMART; n++) await makeSmartAlbum(app, by, `Smart ${n}`, asked(n));
  const [first] = await timed(() => listAlbums(app, 1));
  line(`${SMART} smart albums, never counted before: the page`, ms(first));
  const [rest] = await timed(() => counted());
  line('  until all of them are counted, behind it', ms(rest));
  tell('  the page, nothing having changed', await several(20, () => listAlbums(app, 1)));
  const after: number[] = [];
  const behind: number[] = [];
  for (let i = 0; i < 10; i++) {
    await changePictures(app, { ...by, part: 'keeper' } as never, [1 + Math.floor(random() * N)], {
      rating: 1 + (i % 5),
    });
    after.push((await timed(() => listAlbums(app, 1)))[0]);
    behind.push((await timed(() => counted()))[0]);
  }
  tell('  the page right after a star was given', after);
  tell('  until all are counted again, behind it', behind);
  tell('which of them a picture is seen in', await several(20, () => albumsWith(app, 1, 1 + Math.floor(random() * N))));
  const wish = { n: 50, spread: 0.6, people: 0.5 };
  tell('the best 50 of a year', await several(5, () => proposeBest(app, 1, { question: asked(2) }, wish)));
  tell('the best 50 of everything', await several(5, () => proposeBest(app, 1, { question: { all: [] } }, wish)));
} finally {
  await engine.end();
}
