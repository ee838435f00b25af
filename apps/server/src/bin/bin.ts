import type { Act } from '../act/perform';
import { withKey } from '../act/record';
import type { Row, Value } from '../act/kept';
import { chunks } from '../lists';
import type { Db } from '../db/open';
import { refreshOwnOf } from '../place/own';
import { markDirty } from '../vault/sidecar';
import { DESCRIBES, HANGING, pack, putIn, takeOff, unpack, type Described, type Packed } from './hanging';

/** How many pictures are packed at a time. */
const AT_ONCE = 250;

/** Work that follows when pictures go or come back: events span others, groups of faces change, files move. */
function follow({ then }: Act): void {
  then('events', 500);
  then('faces', 250);
  then('refile', 1000);
  then('alike', 500);
}

/** The events some pictures are the covers of, by picture. */
async function coversOf(trx: Db, library: number, ids: readonly number[]): Promise<Map<number, number[]>> {
  const covers = new Map<number, number[]>();
  for (const { id, cover_id } of await trx('events')
    .where('library_id', library)
    .whereIn('cover_id', ids)
    .select('id', 'cover_id'))
    covers.set(cover_id!, [...(covers.get(cover_id!) ?? []), id]);
  return covers;
}

/** Takes what describes faces out of their rows. */
function describedApart(faces: readonly Row[] = []): { rows: Row[]; described: Record<number, Row> | null } {
  const described: Record<number, Row> = {};
  const rows = faces.map((face) => {
    const apart = Object.fromEntries(DESCRIBES.map((column) => [column, face[column] ?? null]));
    if ((face['vector_a'] as Buffer).length) described[Number(face['id'])] = apart;
    return { ...face, vector_a: '', vector_b: '', clothes: null };
  });
  return { rows, described: Object.keys(described).length ? described : null };
}

/**
 * Moves pictures to the bin within an act: they leave every table, with all that hangs on them, and what they were is packed with
 * them. Their files follow by the journal. Pictures that are not there are passed over.
 * @returns the numbers of those that went.
 */
export async function binPictures(act: Act, ids: readonly number[]): Promise<number[]> {
  const { trx, library, member, made } = act;
  const went: number[] = [];
  for (const some of chunks(
    [...new Set(ids)].sort((a, b) => a - b),
    AT_ONCE,
  )) {
    const rows = (await trx('pictures')
      .where('library_id', library)
      .whereIn('id', some)
      .orderBy('id')
      .forUpdate()
      .select('*')) as unknown as Row[];
    if (rows.length === 0) continue;
    const there = rows.map((row) => Number(row['id']));
    const covers = await coversOf(trx, library, there);
    const along = await takeOff(trx, there);
    for (const row of rows) {
      const id = Number(row['id']);
      const own = along.get(id)!;
      const files = own['picture_files'] ?? [];
      const { rows: faces, described } = describedApart(own['faces']);
      const packed: Packed = { picture: row, along: { ...own, faces }, covers: covers.get(id) ?? [] };
      await trx('binned').insert({
        id,
        library_id: library,
        sha256: row['sha256'] as Buffer,
        of_sha: row['of_sha'] as Buffer | null,
        view: row['view'] as Buffer | null,
        kind: row['kind'] as 'photo' | 'video',
        name: row['name'] as string,
        came_as: (row['original_name'] ?? row['name']) as string,
        bytes: [row, ...files].reduce((sum, file) => sum + Number(file['bytes']), 0),
        width: Number(row['width']),
        height: Number(row['height']),
        seconds: row['seconds'] as number | null,
        thumb: row['thumb'] as Buffer,
        taken_local: row['taken_local'] as string | null,
        taken_certainty: row['taken_certainty'] as number | null,
        device_id: row['device_id'] as number | null,
        member_id: member,
        kept: await pack(packed),
        described: described && (await pack(described)),
      });
      await trx('binned_files').insert(
        [row, ...files].map((file) => ({
          library_id: library,
          picture_id: id,
          file_id: file === row ? null : Number(file['id']),
          sha256: file['sha256'] as Buffer,
          name: file['name'] as string,
          vault_path: file['vault_path'] as string,
          bytes: Number(file['bytes']),
          verified_at: file['verified_at'] as string | null,
          broken_at: file['broken_at'] as string | null,
        })),
      );
      made('binned', id);
      went.push(id);
    }
    await trx('pictures').whereIn('id', there).delete();
    // What they were grouped with is grouped anew.
    const runs = [...new Set(rows.map((row) => row['run_id']).filter((id): id is number => typeof id === 'number'))];
    await trx('pictures')
      .where('library_id', library)
      .where((q) => void q.whereIn('run_id', runs).orWhereIn('alike_id', there))
      .update({ grouped_at: null });
  }
  if (went.length) follow(act);
  return went;
}

/** What a picture's row speaks of, by column. Where that has gone, it speaks of nothing. */
const SPEAKS: Readonly<Record<string, string>> = {
  event_id: 'events',
  batch_id: 'batches',
  device_id: 'devices',
  folder_id: 'folders',
  own_place_id: 'own_places',
  mark_id: 'marks',
  alike_id: 'pictures',
};

/** Which of the rows that some columns of rows speak of are there, by column. */
async function spokenOf(
  trx: Db,
  rows: readonly Row[],
  speaks: Readonly<Record<string, string>>,
): Promise<Map<string, Set<number>>> {
  const there = new Map<string, Set<number>>();
  for (const [column, table] of Object.entries(speaks)) {
    const ids = [...new Set(rows.map((row) => row[column]).filter((id): id is number => typeof id === 'number'))];
    const found = new Set<number>();
    for (const some of chunks(ids, 2000))
      for (const { id } of (await trx(table).whereIn('id', some).select('id')) as { id: number }[]) found.add(id);
    there.set(column, found);
  }
  return there;
}

/** A row that speaks of nothing that has gone. */
function speaking(row: Row, there: ReadonlyMap<string, ReadonlySet<number>>): Record<string, Value> {
  const still: Record<string, Value> = { ...row };
  for (const [column, ids] of there)
    if (typeof still[column] === 'number' && !ids.has(still[column])) still[column] = null;
  return still;
}

/** Faces as they come back: with what describes them, where that is still kept, and waiting where whoever they were has gone. */
function facesBack(
  rows: readonly Row[],
  there: ReadonlyMap<string, ReadonlySet<number>>,
  described: Described,
): Record<string, Value>[] {
  return rows.map((face) => {
    const row = speaking(face, there);
    if (face['person_id'] !== null && row['person_id'] === null)
      Object.assign(row, { state: 'waiting', named_by: null });
    const by = described[Number(face['id'])];
    return {
      ...row,
      vector_a: by?.['vector_a'] ?? '',
      vector_b: by?.['vector_b'] ?? '',
      clothes: by?.['clothes'] ?? null,
    };
  });
}

interface Waiting {
  id: number;
  packed: Packed;
  described: Described;
}

/** What is in the bin of some numbers, unpacked, with where each original lies now. Rows and files are locked. */
async function waiting(trx: Db, library: number, ids: readonly number[]): Promise<Waiting[]> {
  const rows = await trx('binned')
    .where({ library_id: library, state: 'in' })
    .whereIn('id', ids)
    .orderBy('id')
    .forUpdate()
    .select('id', 'kept', 'described');
  const files = await trx('binned_files')
    .where('library_id', library)
    .whereIn(
      'picture_id',
      rows.map((row) => row.id),
    )
    .forUpdate()
    .select('picture_id', 'file_id', 'vault_path', 'verified_at', 'broken_at');
  return Promise.all(
    rows.map(async ({ id, kept, described }) => {
      const packed = await unpack<Packed>(kept!);
      // A file may have moved, been read back or been mended in the bin.
      const lying = new Map(files.filter((file) => file.picture_id === id).map((file) => [file.file_id, file]));
      const where = (row: Row, file: number | null): Row => {
        const { vault_path, verified_at, broken_at } = lying.get(file)!;
        return { ...row, vault_path, verified_at, broken_at };
      };
      return {
        id,
        packed: {
          ...packed,
          picture: where(packed.picture, null),
          along: {
            ...packed.along,
            picture_files: (packed.along['picture_files'] ?? []).map((file) => where(file, Number(file['id']))),
          },
        },
        described: described ? await unpack<Described>(described) : {},
      };
    }),
  );
}

/**
 * Brings pictures back from the bin within an act, each with its number and all that hung on it, as far as that is still there: an
 * album that was removed for good meanwhile does not come back with them. A picture whose very bytes have come in anew stays.
 * @returns the numbers of those that are back.
 */
export async function restorePictures(act: Act, ids: readonly number[]): Promise<number[]> {
  const { trx, library, hold } = act;
  const back: number[] = [];
  for (const some of chunks(
    [...new Set(ids)].sort((a, b) => a - b),
    AT_ONCE,
  )) {
    await hold('binned', some);
    const all = await waiting(trx, library, some);
    if (all.length === 0) continue;
    const rows = all.map((one) => one.packed.picture);
    const there = await spokenOf(trx, rows, SPEAKS);
    // Those that come back together speak of each other.
    for (const { id } of all) there.get('alike_id')!.add(id);
    await putIn(
      trx,
      'pictures',
      all.map(({ packed: { picture }, described, packed }) => {
        const row = speaking(picture, there);
        // An event that was found and had no name has gone with its pictures: it is found again.
        if (picture['event_id'] !== null && row['event_id'] === null) row['event_by_hand'] = 0;
        const undescribed = (packed.along['faces'] ?? []).some((face) => !described[Number(face['id'])]);
        return { ...row, grouped_at: null, ...(undescribed ? { faces_sought: 0 } : {}) };
      }),
    );
    const came = new Set(
      (
        await trx('pictures')
          .where('library_id', library)
          .whereIn(
            'id',
            all.map((one) => one.id),
          )
          .select('id')
      ).map((row) => row.id),
    );
    const home = all.filter((one) => came.has(one.id));
    const along = (table: string): Row[] => home.flatMap(({ packed }) => packed.along[table] ?? []);
    // Recognition may have been switched off meanwhile: then no mark comes back that nobody made.
    const { recognise } = (await trx('libraries').where('id', library).first('recognise'))!;
    const faces = along('faces').filter((face) => recognise || face['state'] !== 'waiting' || face['drawn']);
    const people = await spokenOf(trx, faces, { person_id: 'people', likely_person_id: 'people' });
    const described = Object.assign({}, ...home.map((one) => one.described)) as Described;
    for (const { table } of HANGING)
      await putIn(trx, table, table === 'faces' ? facesBack(faces, people, described) : along(table).map(withKey));
    for (const { id, packed } of home)
      if (packed.covers.length)
        await trx('events')
          .where('library_id', library)
          .whereIn('id', packed.covers)
          .whereNull('cover_id')
          .update({ cover_id: id });
    await trx('binned')
      .where('library_id', library)
      .whereIn('id', [...came])
      .delete();
    await refreshOwnOf(trx, library, [...came]);
    await markDirty(trx, library, [...came]);
    if (faces.some((face) => !described[Number(face['id'])])) act.then('seek');
    back.push(...came);
  }
  if (back.length) follow(act);
  return back;
}
