import { searchable, splitExtension, type Recipe } from '@gemmel/core';
import type { Answer, Api } from '@gemmel/contract';
import { createHash, randomBytes } from 'node:crypto';
import { mkdir, open, stat } from 'node:fs/promises';
import path from 'node:path';
import { perform, type Act, type By } from '../act/perform';
import type { App } from '../context';
import type { PicturesRow } from '../db/tables';
import { notFound } from '../problem';
import { firstWords } from '../question/words';
import { withFiles } from '../vault/lock';
import { freePath } from '../vault/moves';
import { markDirty, writeBeside } from '../vault/sidecar';
import { discard, libraryFolder, linkTo } from '../vault/vault';
import { lookColumns, recipeIn, wholeSize } from './key';
import { takenSha } from './original';

/** What a look is in the vault: a small file that says whose look it is; how it is shown is in the sidecar beside it. */
const textOf = (of: Buffer, id: number): string =>
  `${JSON.stringify({ gemmel: 'look', v: 1, of: of.toString('hex'), n: id })}\n`;

/** Columns that a look has of the picture it was made from: when, where and with what it was taken. */
const ALONG = [
  'library_id',
  'kind',
  'format',
  'orientation',
  'taken_local',
  'offset_minutes',
  'taken_source',
  'taken_certainty',
  'taken_exact',
  'taken_from',
  'taken_to',
  'taken_about',
  'day',
  'clock_id',
  'event_id',
  'event_by_hand',
  'batch_id',
  'device_id',
  'camera',
  'lens',
  'exposure',
  'lat',
  'lon',
  'country',
  'region',
  'place',
  'place_km',
  'place_source',
  'own_place_id',
  'folder_id',
  'title',
  'caption',
  'mark_id',
  'label',
  'thumb',
  'observed_by',
] as const satisfies readonly (keyof PicturesRow)[];

/**
 * Makes a look at a picture's original within an act: a picture of its own, with what was said of the one it comes from. Its file is
 * written afterwards, by {@link makingLooks}. Undone, it goes to the bin.
 * @param called what its name says behind that of the picture; `alone` when that is all of it, and its tags are not taken over.
 * @returns its number.
 */
export async function makeLook(
  app: App,
  { trx, library, member, born }: Pick<Act, 'trx' | 'library' | 'member' | 'born'>,
  from: PicturesRow,
  recipe: Recipe | null,
  { called, alone = false }: { called: string; alone?: boolean },
): Promise<number> {
  const of = takenSha(from);
  const { slug } = (await trx('libraries').where('id', library).first('slug'))!;
  const name = `${alone ? called : `${splitExtension(from.name)[0]} ${called}`}.look`.slice(-255);
  const words = searchable([from.title, from.caption, name]);
  const [width, height] = wholeSize(from);
  const [id] = (await trx('pictures').insert({
    ...Object.fromEntries(ALONG.map((column) => [column, from[column]])),
    ...lookColumns({ ...from, of_sha: of, width, height, whole_width: null, whole_height: null }, recipe),
    // Known when it has its number.
    sha256: randomBytes(32),
    of_sha: of,
    name,
    vault_path: await freePath(app, library, libraryFolder(app, slug), path.dirname(from.vault_path), name),
    bytes: 0,
    words,
    // Its faces come from the picture it is made of.
    faces_sought: true,
  })) as [number];
  const text = textOf(of, id);
  await trx('pictures')
    .where('id', id)
    .update({ sha256: createHash('sha256').update(text).digest(), bytes: Buffer.byteLength(text) });
  await firstWords(trx, library, id, words);
  if (!alone)
    await trx.raw(
      'INSERT INTO picture_tags (library_id, picture_id, tag_id) SELECT library_id, ?, tag_id FROM picture_tags WHERE picture_id = ?',
      [id, from.id],
    );
  await trx('picture_looks').insert({
    library_id: library,
    picture_id: id,
    member_id: member,
    recipe: recipe && JSON.stringify(recipe),
  });
  await markDirty(trx, library, [id]);
  born(id);
  return id;
}

/** Where the file of a look lies by its row, and whose look it is; null for what is no look, or no longer there. */
async function placeOf({ db, ...app }: App, { id, library_id }: Pick<PicturesRow, 'id' | 'library_id'>) {
  const row = await db('pictures as p')
    .join('libraries as l', 'l.id', 'p.library_id')
    .where({ 'p.id': id, 'p.library_id': library_id })
    .first('p.vault_path', 'p.of_sha', 'l.slug');
  if (!row?.of_sha) return null;
  const file = path.join(libraryFolder({ db, ...app } as App, row.slug as string), row.vault_path as string);
  return { file, of: row.of_sha as Buffer, there: Boolean(await stat(file).catch(() => null)) };
}

/** Writes the file of a look, if it is not there; nobody may move files meanwhile. Safe to repeat. */
async function writeLook(app: App, look: Pick<PicturesRow, 'id' | 'library_id'>): Promise<void> {
  const at = await placeOf(app, look);
  if (!at || at.there) return;
  const part = path.join(app.paths.incoming, `look-${look.id}-${randomBytes(6).toString('hex')}`);
  await mkdir(path.dirname(at.file), { recursive: true });
  try {
    const handle = await open(part, 'w');
    await handle.writeFile(textOf(at.of, look.id));
    await handle.sync();
    await handle.close();
    await linkTo(part, at.file);
  } finally {
    await discard(part);
  }
}

/** Has the file of a look written that a sudden end left out: what just moves is looked for again while nobody moves anything. */
export async function lookReady(app: App, look: Pick<PicturesRow, 'id' | 'library_id'>): Promise<void> {
  const at = await placeOf(app, look);
  if (at && !at.there) await withFiles(app, look.library_id, () => writeLook(app, look));
}

/** Makes looks in an act, with their files, while nobody moves files; what a sudden end leaves out is written with their views. */
export const makingLooks = <T extends { looks: readonly number[] }>(
  app: App,
  by: By,
  act: () => Promise<T>,
): Promise<T> =>
  withFiles(app, by.library, async () => {
    const done = await act();
    for (const id of done.looks) await writeLook(app, { id, library_id: by.library });
    // Whoever bins one at once finds what is said of it beside it.
    await writeBeside(app, by.library, done.looks);
    app.changed(by.library, 'pictures');
    return done;
  });

/** Columns of a face that are the same on another look at its picture. */
const OF_FACE = `x, y, w, h, height_px, quality, eyes, sharp, turn, vector_a, vector_b, clothes, state, person_id, named_by, drawn`;

/** Shows a picture a second time, by another recipe, as a picture of its own beside the first; one original is behind both. */
export const secondLook = (app: App, by: By, id: number, recipe: Recipe | null): Promise<Answer<Api['secondLook']>> =>
  makingLooks(app, by, () =>
    perform(app, by, 'second look', async (act) => {
      const { trx, library, then } = act;
      const from = await trx('pictures').where({ id, library_id: library, kind: 'photo' }).forUpdate().first();
      if (!from) throw notFound('picture');
      const [{ n }] = (await trx('pictures')
        .where({ library_id: library, of_sha: takenSha(from) })
        .count('* as n')) as unknown as [{ n: number }];
      const look = await makeLook(app, act, from, recipe, { called: `look ${Number(n) + 2}` });
      await trx.raw(
        `INSERT INTO faces (library_id, picture_id, ${OF_FACE}) SELECT library_id, ?, ${OF_FACE} FROM faces WHERE picture_id = ?`,
        [look, id],
      );
      then('views');
      then('faces', 250);
      return { looks: [look] };
    }),
  );

/** The looks at one original beside a picture, and the picture it came as. */
export async function looksBeside({ db }: App, library: number, row: PicturesRow) {
  const of = takenSha(row);
  const rows = await db('pictures')
    .where('library_id', library)
    .whereNot('id', row.id)
    .where((q) => void q.where('of_sha', of).orWhere('sha256', of))
    .orderBy('id')
    .limit(50)
    .select('id', 'shown', 'name', 'of_sha', 'recipe', 'width', 'height');
  return rows.map((one) => ({
    id: one.id,
    sha: one.shown.toString('hex'),
    name: one.name,
    shape: one.width / one.height,
    original: one.of_sha === null,
    print: Boolean(recipeIn(one.recipe)?.corners),
  }));
}
