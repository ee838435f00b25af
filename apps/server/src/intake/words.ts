import { todayIn } from '../time/home';
import { chooseTaken, mergeSaid, sameSpot, type Conflict, type Said, type SaidFace, type Taken } from '@gemmel/core';
import type { App } from '../context';
import type { PicturesRow } from '../db/tables';
import { ask } from '../jobs/jobs';
import { spanColumns, spanOf } from '../time/span';
import type { Db } from '../db/open';
import { bringComments } from '../comment/comments';
import { markColumns, meaningOf } from '../mark/marks';
import { placeColumns } from '../place/places';
import { turnBox, type Marked } from '../media/said';
import { wholeSize } from '../touchup/key';
import { readAgain } from '../question/words';
import { tagPathIds } from '../tag/tags';
import { markDirty } from '../vault/sidecar';

interface Spot {
  x: number;
  y: number;
  w: number;
  h: number;
}

/**
 * Marked faces on the upright picture. Some programs mark the picture as it is stored, others as it is shown: the size they
 * state tells, and where it does not, the faces that were found do.
 */
export function upright(
  marked: Marked,
  picture: { width: number; height: number; orientation: number },
  found: readonly Spot[],
): SaidFace[] {
  if (picture.orientation <= 1 || marked.shown) return marked.faces;
  const turned = marked.faces.map((face) => turnBox(face, picture.orientation));
  const hits = (faces: readonly SaidFace[]) => faces.filter((f) => found.some((spot) => sameSpot(f, spot))).length;
  const [asIs, asTurned] = [hits(marked.faces), hits(turned)];
  if (asIs !== asTurned) return asIs > asTurned ? marked.faces : turned;
  if (picture.orientation >= 5 && marked.width && marked.height)
    return marked.width > marked.height === picture.width > picture.height ? marked.faces : turned;
  return turned;
}

async function personId(trx: Db, library: number, name: string): Promise<number> {
  await trx('people').insert({ library_id: library, name }).onConflict(['library_id', 'name']).ignore();
  return (await trx('people').where({ library_id: library, name }).first('id'))!.id;
}

/**
 * Gives found faces the names somebody gave them elsewhere, or what else was said of them; a marked face that was not found is
 * kept as it was marked.
 */
export async function nameFaces(
  trx: Db,
  library: number,
  picture: number,
  height: number,
  faces: readonly SaidFace[],
): Promise<void> {
  if (faces.length === 0) return;
  const spots = await trx('faces')
    .where({ picture_id: picture, library_id: library })
    .select('id', 'x', 'y', 'w', 'h', 'state');
  const used = new Set<number>();
  for (const face of faces) {
    const said = {
      state: face.is ?? ('named' as const),
      person_id: face.is ? null : await personId(trx, library, face.name),
      named_by: face.byMachine ? ('machine' as const) : ('hand' as const),
    };
    const spot = spots.find((s) => !used.has(s.id) && sameSpot(s, face));
    if (spot) {
      used.add(spot.id);
      if (spot.state === 'waiting')
        await trx('faces')
          .where('id', spot.id)
          .update({ ...said, group_key: null, likely_person_id: null });
    } else
      await trx('faces').insert({
        library_id: library,
        picture_id: picture,
        x: face.x,
        y: face.y,
        w: face.w,
        h: face.h,
        height_px: Math.round(face.h * height),
        quality: 0,
        vector_a: Buffer.alloc(0),
        vector_b: Buffer.alloc(0),
        ...said,
      });
  }
}

/** Notes what was said differently elsewhere, so that nothing is overwritten in silence. */
export async function noteConflicts(
  trx: Db,
  library: number,
  item: { batch_id: number; path: string },
  picture: number,
  conflicts: readonly Conflict[],
): Promise<void> {
  for (const { what, kept, other } of conflicts) {
    const row = { library_id: library, batch_id: item.batch_id, picture_id: picture, what, kept, other };
    if (!(await trx('said_conflicts').where(row).first('id')))
      await trx('said_conflicts').insert({ ...row, path: item.path });
  }
}

/** The time a picture has so far. */
const takenOf = (row: PicturesRow): Taken | null =>
  row.taken_local === null
    ? null
    : {
        local: row.taken_local.replace(' ', 'T'),
        offset: row.offset_minutes,
        source: row.taken_source as Taken['source'],
        certainty: row.taken_certainty ?? 0,
        ...(spanOf(row) && { span: spanOf(row)! }),
      };

/** The columns a time fills. */
export const takenColumns = (taken: Taken | null) => ({
  taken_local: taken ? taken.local.replace('T', ' ') : null,
  offset_minutes: taken?.offset ?? null,
  taken_source: taken?.source ?? null,
  taken_certainty: taken?.certainty ?? null,
  // The middle of its days for what knows no more than a season or a year.
  day: taken ? taken.local.slice(0, 10) : null,
  ...spanColumns(taken?.span ?? null),
});

/** Adds what was said elsewhere of a picture the library already has. What people said here has the last word. */
export async function sayMore(
  app: App,
  library: number,
  item: { batch_id: number; path: string },
  picture: number,
  came: Said,
  marked: readonly Marked[],
  beside: Taken | null = null,
): Promise<void> {
  const { db } = app;
  const row = await db('pictures').where({ id: picture, library_id: library }).first();
  if (!row) return;
  const here: Said = {
    title: row.title,
    caption: row.caption,
    rating: row.rating,
    favourite: Boolean(row.favourite),
    label: row.mark_id === null ? row.label : await meaningOf(db, row.mark_id),
    tags: [],
    lat: row.lat,
    lon: row.lon,
    faces: [],
  };
  const { said, conflicts } = mergeSaid(here, came);
  const where =
    here.lat === null && said.lat !== null && said.lon !== null
      ? await placeColumns(app, library, { lat: said.lat, lon: said.lon })
      : null;
  const taken =
    beside && row.taken_source !== 'hand' ? chooseTaken([beside, takenOf(row)], await todayIn(db, library)) : null;
  await db.transaction(async (trx) => {
    await trx('pictures')
      .where('id', picture)
      .update({
        ...(taken && takenColumns(taken)),
        title: said.title,
        caption: said.caption,
        rating: said.rating,
        favourite: said.favourite,
        ...(row.mark_id === null ? await markColumns(trx, library, said.label) : {}),
        ...where,
      });
    await bringComments(trx, library, picture, said.comments ?? []);
    await readAgain(trx, library, [picture]);
    const tags = await tagPathIds(trx, library, said.tags);
    if (tags.length)
      await trx('picture_tags')
        .insert(tags.map((tag_id) => ({ library_id: library, picture_id: picture, tag_id })))
        .onConflict(['picture_id', 'tag_id'])
        .ignore();
    const found = await trx('faces').where('picture_id', picture).select('x', 'y', 'w', 'h');
    const [width, height] = wholeSize(row);
    const whole = { ...row, width, height };
    for (const one of marked) await nameFaces(trx, library, picture, whole.height, upright(one, whole, found));
    await noteConflicts(trx, library, item, picture, conflicts);
    await markDirty(trx, library, [picture]);
    if (taken) await ask(trx, library, 'events');
  });
  app.worked(library, 'pictures', 'people', 'tags');
}
