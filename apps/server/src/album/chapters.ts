import { perform, type Act, type By } from '../act/perform';
import type { App } from '../context';
import { notFound } from '../problem';
import type { Did } from './albums';
import { filledByHand, keysFor, type Before } from './fill';

/** What a chapter says: a heading, a note, or both. */
export interface ChapterWords {
  heading: string | null;
  note: string | null;
}

/** Puts a heading or a note among the pictures of an album, before something or at its end. */
export const makeChapter = (
  app: App,
  by: By,
  album: number,
  { heading, note }: ChapterWords,
  before: Before,
): Did<{ id: number }> =>
  perform(app, by, 'make chapter', async (act) => {
    const { trx, library, made, words } = act;
    const { name } = await filledByHand(act, album);
    const [position] = await keysFor(act, album, before, 1);
    const [id] = (await trx('album_chapters').insert({
      library_id: library,
      album_id: album,
      position: position!,
      heading,
      note,
    })) as [number];
    made('album_chapters', id);
    words({ name, to: heading ?? note });
    return { id };
  });

async function held(act: Act, id: number): Promise<{ album: string; heading: string | null; note: string | null }> {
  const { trx, library, hold } = act;
  await hold('album_chapters', [id]);
  const row = await trx('album_chapters').where({ id, library_id: library }).first();
  const album = row && (await trx('albums').where('id', row.album_id).whereNull('removed_at').first('name'));
  if (!row || !album) throw notFound('chapter');
  return { album: album.name, heading: row.heading, note: row.note };
}

/** Changes what a chapter says. */
export const changeChapter = (app: App, by: By, id: number, { heading, note }: ChapterWords): Did =>
  perform(app, by, 'change chapter', async (act) => {
    const row = await held(act, id);
    await act.trx('album_chapters').where({ id, library_id: act.library }).update({ heading, note });
    act.words({ name: row.album, to: heading ?? note });
    return {};
  });

/** Removes a heading or a note; the pictures stay. */
export const removeChapter = (app: App, by: By, id: number): Did =>
  perform(app, by, 'remove chapter', async (act) => {
    const row = await held(act, id);
    await act.trx('album_chapters').where({ id, library_id: act.library }).delete();
    act.words({ name: row.album, to: row.heading ?? row.note });
    return {};
  });
