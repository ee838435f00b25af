import type { Corners } from '@gemmel/core';
import type { Answer, Api, PrintCorners } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import { derivedBase, type App } from '../context';
import type { Db } from '../db/open';
import type { PicturesRow } from '../db/tables';
import { defineJob, type Job } from '../jobs/kind';
import { notFound } from '../problem';
import { recipeIn, wholeSize } from '../touchup/key';

const printsIn = (kept: string): PrintCorners[] => JSON.parse(kept) as PrintCorners[];

/** Keeps where prints lie on a picture; what somebody said of it stays. */
async function keepPrints(db: Db, library: number, picture: number, prints: readonly Corners[]): Promise<void> {
  const rounded = JSON.stringify(prints.map((corners) => corners.map((v) => Math.round(v * 1e5) / 1e5)));
  // It may have gone to the bin meanwhile.
  await db.raw(
    `INSERT INTO glasses (picture_id, library_id, prints, turned) SELECT id, library_id, ?, TRUE FROM pictures
     WHERE id = ? AND library_id = ? ON DUPLICATE KEY UPDATE prints = VALUES(prints), turned = TRUE`,
    [rounded, picture, library],
  );
}

/** Has a new picture looked at for prints, behind people's backs. */
export async function lookLater(db: Db, library: number, picture: number): Promise<void> {
  await db('glasses').insert({ picture_id: picture, library_id: library, prints: '[]' }).onConflict().ignore();
}

/** Scans that are still whole: prints were noticed on them, and nobody said that they are one picture. */
const open = (db: Db, library: number) =>
  db('glasses as g')
    .join('pictures as p', 'p.id', 'g.picture_id')
    .where({ 'g.library_id': library, 'g.found': true, 'g.denied': false })
    .whereNull('p.recipe')
    .whereNull('p.of_sha');

/** Scans on which prints were noticed, latest first. */
export async function listScans({ db }: App, library: number, limit: number): Promise<Answer<Api['scans']>> {
  const [{ n }] = (await open(db, library).count('* as n')) as unknown as [{ n: number }];
  const rows = await open(db, library)
    .orderBy('g.picture_id', 'desc')
    .limit(limit)
    .select('p.id', 'p.shown', 'p.thumb', 'p.name', 'p.width', 'p.height', 'g.prints');
  return {
    total: Number(n),
    scans: rows.map((row) => ({
      id: row.id as number,
      sha: (row.shown as Buffer).toString('hex'),
      thumb: (row.thumb as Buffer).toString('base64'),
      name: row.name as string,
      shape: Number(row.width) / Number(row.height),
      prints: printsIn(row.prints as string),
    })),
  };
}

/** A picture that may be taken apart: itself, or the one a look was made from. */
async function scanned(db: Db, library: number, id: number): Promise<PicturesRow> {
  const row = await db('pictures').where({ id, library_id: library, kind: 'photo' }).first();
  const whole = row?.of_sha ? await db('pictures').where({ library_id: library, sha256: row.of_sha }).first() : row;
  if (!whole) throw notFound('picture');
  return whole;
}

/** One picture as a scan: where prints lie on it, and the next one that waits. */
export async function scanOf(app: App, library: number, id: number): Promise<Answer<Api['scan']>> {
  const { db } = app;
  const row = await scanned(db, library, id);
  const glass = await db('glasses').where('picture_id', row.id).first('prints', 'turned', 'denied');
  const next = (await open(db, library)
    .whereNot('p.id', row.id)
    .orderByRaw('p.id > ?, p.id DESC', [row.id])
    .first('p.id')) as { id: number } | undefined;
  const [width, height] = wholeSize(row);
  return {
    id: row.id,
    sha: row.sha256.toString('hex'),
    thumb: row.thumb.toString('base64'),
    name: row.name,
    width,
    height,
    prints: glass ? printsIn(glass.prints) : null,
    turned: Boolean(glass?.turned),
    denied: Boolean(glass?.denied),
    apart: Boolean(recipeIn(row.recipe)?.corners),
    next: next?.id ?? null,
  };
}

/** Looks for prints on a picture; `asked` when somebody says that some lie there. Answers whether any were found. */
async function lookAt(app: App, library: number, id: number, sha256: Buffer, asked: boolean): Promise<boolean> {
  const { recognise } = (await app.db('libraries').where('id', library).first('recognise'))!;
  const prints = (await app.pool.run(
    {
      file: `${derivedBase(app, sha256.toString('hex'))}-large.jpg`,
      models: recognise ? app.config.models : null,
      asked,
    },
    { name: 'glass' },
  )) as Corners[] | null;
  await keepPrints(app.db, library, id, prints ?? []);
  return prints !== null && prints.length > 0;
}

/** Looks for prints on a picture because somebody asks, and answers with what was found. */
export async function lookForPrints(app: App, library: number, id: number): Promise<Answer<Api['scan']>> {
  const row = await scanned(app.db, library, id);
  await lookAt(app, library, row.id, row.sha256, true);
  app.changed(library, 'scans');
  return scanOf(app, library, id);
}

/** Says that scans are one picture each, as they are; or that they are not. */
export const keepWhole = (app: App, by: By, id: number): Promise<{ act: number | null }> =>
  perform(app, by, 'keep whole', async ({ trx, library, hold }) => {
    if (!(await trx('glasses').where({ picture_id: id, library_id: library }).first('picture_id')))
      throw notFound('picture');
    await hold('glasses', [id]);
    await trx('glasses').where('picture_id', id).update({ denied: true });
  });

/** Looks for prints on what came in, and turns them by the faces on them. Goes on where it was after a crash. */
export async function turnPrints(app: App, { library, report, signal }: Job): Promise<void> {
  const { db } = app;
  const waiting = () =>
    db('glasses as g')
      .join('pictures as p', 'p.id', 'g.picture_id')
      .where({ 'g.library_id': library, 'g.turned': false, 'g.denied': false });
  const [{ n }] = (await waiting().count('* as n')) as unknown as [{ n: number }];
  for (let done = 0; !signal.aborted; done++) {
    const row = (await waiting().orderBy('g.picture_id', 'desc').first('p.id', 'p.sha256')) as
      { id: number; sha256: Buffer } | undefined;
    if (!row) break;
    if (await lookAt(app, library, row.id, row.sha256, false)) app.changed(library, 'scans', 'library');
    report(done + 1, Math.max(Number(n), done + 1));
  }
}

declare module '../jobs/kind' {
  interface JobPayloads {
    prints: null;
  }
}

/** Looking for prints on scans. */
export const printsJob = defineJob({ kind: 'prints', priority: 6, run: turnPrints });
