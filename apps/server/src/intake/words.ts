import { mergeSaid, sameSpot, searchable, type Conflict, type Said, type SaidFace } from '@gemmel/core';
import type { App } from '../context';
import type { Db } from '../db/open';
import { placeColumns } from '../place/places';
import { turnBox, type Marked } from '../media/said';
import { tagPathIds } from '../tag/tags';
import { markDirty } from '../vault/sidecar';

interface Spot {
  id: number;
  x: number;
  y: number;
  w: number;
  h: number;
  person_id: number | null;
}

/**
 * Marked faces on the upright picture. Some programs mark the picture as it is stored, others as it is shown: the size they
 * state tells, and where it does not, the faces that were found do.
 */
export function upright(
  marked: Marked,
  picture: { width: number; height: number; orientation: number },
  found: readonly Omit<Spot, 'id' | 'person_id'>[],
): SaidFace[] {
  if (picture.orientation <= 1) return marked.faces;
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

/** Gives found faces the names somebody gave them elsewhere; a marked face that was not found is kept as it was marked. */
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
    .select('id', 'x', 'y', 'w', 'h', 'person_id');
  const used = new Set<number>();
  for (const face of faces) {
    const person_id = await personId(trx, library, face.name);
    const spot = spots.find((s) => !used.has(s.id) && sameSpot(s, face));
    if (spot) {
      used.add(spot.id);
      if (spot.person_id === null)
        await trx('faces')
          .where('id', spot.id)
          .update({ state: 'named', person_id, named_by: 'hand', group_key: null, likely_person_id: null });
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
        state: 'named',
        person_id,
        named_by: 'hand',
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

/** Adds what was said elsewhere of a picture the library already has. What people said here has the last word. */
export async function sayMore(
  app: App,
  library: number,
  item: { batch_id: number; path: string },
  picture: number,
  came: Said,
  marked: readonly Marked[],
): Promise<void> {
  const { db } = app;
  const row = await db('pictures').where({ id: picture, library_id: library }).first();
  if (!row) return;
  const here: Said = {
    title: row.title,
    caption: row.caption,
    rating: row.rating,
    favourite: Boolean(row.favourite),
    label: row.label,
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
  await db.transaction(async (trx) => {
    await trx('pictures')
      .where('id', picture)
      .update({
        title: said.title,
        caption: said.caption,
        words: searchable(said.title, said.caption, row.name),
        rating: said.rating,
        favourite: said.favourite,
        label: said.label,
        ...where,
      });
    const tags = await tagPathIds(trx, library, said.tags);
    if (tags.length)
      await trx('picture_tags')
        .insert(tags.map((tag_id) => ({ library_id: library, picture_id: picture, tag_id })))
        .onConflict(['picture_id', 'tag_id'])
        .ignore();
    const found = await trx('faces').where('picture_id', picture).select('x', 'y', 'w', 'h');
    for (const one of marked) await nameFaces(trx, library, picture, row.height, upright(one, row, found));
    await noteConflicts(trx, library, item, picture, conflicts);
    await markDirty(trx, library, [picture]);
  });
  app.changed(library, 'pictures', 'people', 'tags');
}
