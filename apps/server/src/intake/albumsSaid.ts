import { reason, type AskedNames } from '@gemmel/contract';
import { fold, nodes, type Question } from '@gemmel/core';
import { mkdir, open, readdir, readFile, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { makePlainAlbum, makeSmartAlbum, changeAlbum } from '../album/albums';
import { makeChapter } from '../album/chapters';
import { putIntoAlbum, setOrder } from '../album/fill';
import { Manifest } from '../album/manifest';
import { makeShelf } from '../album/shelves';
import { handAlbum } from '../album/smart';
import type { By } from '../act/perform';
import { chunks, type App } from '../context';
import type { Db } from '../db/open';
import { discard } from '../vault/vault';
import { finishItem, type Item } from './items';

const listFolder = (app: App) => path.join(app.paths.incoming, 'lists');
/** A manifest is no larger than this. */
const LARGEST = 60_000_000;
/** How a manifest begins, whatever its spaces. */
const BEGINS = /^\s*\{\s*"gemmel"\s*:\s*"album"/;

/** Notes which albums a sidecar says a picture belongs to, until all of its batch is in. Safe to repeat. */
export async function noteAlbums(
  db: Db,
  library: number,
  { batch_id }: Pick<Item, 'batch_id'>,
  picture: number,
  albums: readonly string[] | undefined,
): Promise<void> {
  if (!albums?.length) return;
  await db('albums_said')
    .insert(albums.map((name) => ({ batch_id, library_id: library, picture_id: picture, name })))
    .onConflict()
    .ignore();
}

/** Keeps a manifest that came with a batch until its pictures are in; false when the file is none. */
export async function keepManifest(app: App, library: number, item: Item, file: string): Promise<boolean> {
  if (!/\.json$/i.test(item.path) || (await stat(file)).size > LARGEST) return false;
  const handle = await open(file);
  try {
    const head = Buffer.alloc(200);
    const { bytesRead } = await handle.read(head, 0, head.length, 0);
    if (!BEGINS.test(head.subarray(0, bytesRead).toString('utf8'))) return false;
  } finally {
    await handle.close();
  }
  if (!read(await readFile(file, 'utf8'))) return false;
  await mkdir(listFolder(app), { recursive: true });
  await rename(file, path.join(listFolder(app), `${item.batch_id}-${item.id}.json`));
  await finishItem(app, library, item, 'opened', { reason: reason('list-read') });
  return true;
}

function read(text: string): Manifest | null {
  try {
    return Manifest.parse(JSON.parse(text));
  } catch {
    return null;
  }
}

/** Pictures by the fingerprints of their originals; what is not here is left out. */
async function picturesBy(db: Db, library: number, shas: readonly string[]): Promise<Map<string, number>> {
  const found = new Map<string, number>();
  for (const some of chunks([...new Set(shas)], 1000))
    for (const row of await db('pictures')
      .where('library_id', library)
      .whereIn(
        'sha256',
        some.map((sha) => Buffer.from(sha, 'hex')),
      )
      .select('id', 'sha256'))
      found.set(row.sha256.toString('hex'), row.id);
  return found;
}

/** The shelf at the end of a way of names, made where it is missing. */
async function shelfOf(app: App, by: By, names: readonly string[]): Promise<number | null> {
  let on: number | null = null;
  for (const name of names) {
    const there = await app
      .db('shelves')
      .where({ library_id: by.library, name })
      .where((q) => void (on === null ? q.whereNull('parent_id') : q.where('parent_id', on)))
      .first('id');
    on = there ? there.id : (await makeShelf(app, by, { name, on, albums: [] })).id;
  }
  return on;
}

/** Tables in which a name says what a question speaks of. */
const NAMED = {
  person: ['people', 'name'],
  tag: ['tags', 'name'],
  event: ['events', 'title'],
  album: ['albums', 'name'],
  device: ['devices', 'name'],
  folder: ['folders', 'name'],
  ownPlace: ['own_places', 'name'],
  mark: ['marks', 'meaning'],
} as const;

/**
 * The same question in this library: what it speaks of is found by name. Null when something has no name here, or more than one of that name is
 * there: then nobody can say what it asks for.
 */
export async function questionHere(
  db: Db,
  library: number,
  question: Question,
  names: AskedNames,
): Promise<Question | null> {
  const ids = new Map<string, number>();
  let whole = true;
  const seek = async (kind: keyof typeof NAMED, id: number) => {
    const name = (names[kind] as Record<string, string> | undefined)?.[String(id)];
    const [table, column] = NAMED[kind];
    const rows = name
      ? ((await db(table as string)
          .where('library_id', library)
          .where(column, name)
          .limit(2)
          .select('id', column)) as Record<string, unknown>[])
      : [];
    const same = rows.filter((row) => fold(String(row[column])) === fold(name!));
    if (same.length === 1) ids.set(`${kind} ${id}`, Number(same[0]!['id']));
    else whole = false;
  };
  for (const q of nodes(question)) {
    if ('who' in q) for (const id of q.who.people) await seek('person', id);
    else if ('tag' in q) await seek('tag', q.tag);
    else if ('event' in q) await seek('event', q.event);
    else if ('album' in q) await seek('album', q.album);
    else if ('device' in q) await seek('device', q.device);
    else if ('folder' in q) await seek('folder', q.folder.id);
    else if ('mark' in q) await seek('mark', q.mark);
    else if ('where' in q && 'own' in q.where) await seek('ownPlace', q.where.own);
    else if ('batch' in q || 'saidBy' in q || 'like' in q) whole = false;
  }
  if (!whole) return null;
  const at = (kind: keyof typeof NAMED, id: number) => ids.get(`${kind} ${id}`)!;
  const walk = (q: Question): Question => {
    if ('all' in q) return { all: q.all.map(walk) };
    if ('any' in q) return { any: q.any.map(walk) };
    if ('not' in q) return { not: walk(q.not) };
    if ('who' in q) return { who: { ...q.who, people: q.who.people.map((id) => at('person', id)) } };
    if ('tag' in q) return { tag: at('tag', q.tag) };
    if ('event' in q) return { event: at('event', q.event) };
    if ('album' in q) return { album: at('album', q.album) };
    if ('device' in q) return { device: at('device', q.device) };
    if ('folder' in q) return { folder: { ...q.folder, id: at('folder', q.folder.id) } };
    if ('mark' in q) return { mark: at('mark', q.mark) };
    if ('where' in q && 'own' in q.where) return { where: { own: at('ownPlace', q.where.own) } };
    return q;
  };
  return walk(question);
}

/** Makes or fills the album a manifest tells of, as far as its pictures are here. What stands in an album of that name already stays first. */
async function albumFrom(app: App, by: By, manifest: Manifest): Promise<void> {
  const { db } = app;
  const { library } = by;
  const shas = manifest.items.flatMap((item) => ('picture' in item ? [item.picture] : []));
  const pictures = await picturesBy(db, library, [
    ...shas,
    ...manifest.putIn,
    ...manifest.keptOut,
    ...(manifest.cover ? [manifest.cover] : []),
  ]);
  const here = (list: readonly string[]) => list.flatMap((sha) => pictures.get(sha) ?? []);
  const ids = here(shas);
  const question =
    manifest.kind === 'smart' && manifest.question
      ? await questionHere(db, library, manifest.question.question, manifest.names ?? {})
      : null;
  const kind = question ? 'smart' : 'plain';
  const there = await db('albums')
    .where({ library_id: library, name: manifest.name, kind })
    .whereNull('removed_at')
    .first('id');
  if (there) {
    if (kind === 'plain' && ids.length) await putIntoAlbum(app, by, there.id, { ids });
    return;
  }
  if (kind === 'plain' && ids.length === 0) return;
  const shelf = await shelfOf(app, by, manifest.shelves);
  const { id } = question
    ? await makeSmartAlbum(app, by, manifest.name, question, {
        best: manifest.best,
        shelf,
        description: manifest.words,
      })
    : await makePlainAlbum(app, by, manifest.name, [...new Set(ids)], { shelf, description: manifest.words });
  const cover = manifest.cover === null ? undefined : pictures.get(manifest.cover);
  await changeAlbum(app, by, id, {
    ...(manifest.days ? { days: manifest.days } : {}),
    ...(cover === undefined ? {} : { cover }),
    ...(kind === 'smart' && manifest.order === 'hand' ? {} : { sorted: manifest.order }),
    backwards: manifest.backwards,
  });
  if (kind === 'smart') {
    for (const [list, way] of [
      [here(manifest.putIn), 'in'],
      [here(manifest.keptOut), 'out'],
    ] as const)
      if (list.length) await handAlbum(app, by, id, list, way);
    return;
  }
  await setOrder(app, by, id, [...new Set(ids)]);
  for (const [i, item] of manifest.items.entries()) {
    if ('picture' in item) continue;
    const next = manifest.items
      .slice(i + 1)
      .flatMap((one) => ('picture' in one ? (pictures.get(one.picture) ?? []) : []))[0];
    await makeChapter(app, by, id, item, next === undefined ? null : { picture: next });
  }
}

/** Makes or fills the albums that manifests of a batch tell of. */
export async function albumsFromManifests(app: App, library: number, batch: number): Promise<void> {
  const names = (await readdir(listFolder(app)).catch(() => [])).filter(
    (name) => name.startsWith(`${batch}-`) && name.endsWith('.json'),
  );
  const manifests = await Promise.all(
    names.map(async (name) => ({ name, manifest: read(await readFile(path.join(listFolder(app), name), 'utf8')) })),
  );
  // Smart albums may ask for plain ones.
  manifests.sort((a, b) => Number(a.manifest?.kind === 'smart') - Number(b.manifest?.kind === 'smart'));
  for (const { name, manifest } of manifests) {
    if (manifest) await albumFrom(app, { library, member: null }, manifest);
    await discard(path.join(listFolder(app), name));
  }
}

/** Puts pictures of a batch into the albums their sidecars name, made where they are missing; in the order they were taken. */
export async function albumsFromSidecars(app: App, library: number, batch: number): Promise<void> {
  const { db } = app;
  const rows = (await db('albums_said as s')
    .join('pictures as p', 'p.id', 's.picture_id')
    .where({ 's.batch_id': batch, 's.library_id': library })
    .orderByRaw('s.name, p.taken_local IS NULL, p.taken_local, p.id')
    .select('s.name', 'p.id')) as { name: string; id: number }[];
  const albums = new Map<string, number[]>();
  for (const { name, id } of rows) albums.set(name, [...(albums.get(name) ?? []), id]);
  const by = { library, member: null };
  for (const [name, ids] of albums) {
    const there = await db('albums')
      .where({ library_id: library, kind: 'plain', name })
      .whereNull('removed_at')
      .first('id');
    if (there) await putIntoAlbum(app, by, there.id, { ids });
    else await makePlainAlbum(app, by, name, ids);
  }
  await db('albums_said').where({ batch_id: batch, library_id: library }).delete();
}
