import { fill, searchable, vaultFolder, withoutTail, WORDS, type SaidAudience, type Taken } from '@gemmel/core';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { Db } from '../db/open';
import { folderOf } from '../folder/folders';
import { markColumns } from '../mark/marks';
import { keepNoticed, LOOKED } from '../observe/kinds';
import { bringComments } from '../comment/comments';
import { firstWords, readAgain } from '../question/words';
import { ask } from '../jobs/jobs';
import type { Metadata } from '../media/metadata';
import type { placeColumns } from '../place/places';
import type { Prepared } from '../media/prepare';
import type { FileKind } from '../media/sniff';
import { tagPathIds } from '../tag/tags';
import { markDirty } from '../vault/sidecar';
import { lookLater } from '../scan/scans';
import { meetDevice } from '../gather/devices';
import { lookColumns } from '../touchup/key';
import { libraryFolder, place } from '../vault/vault';
import { noteAlbums } from './albumsSaid';
import { pathTaken, type Item } from './items';
import { notePlaced, takeBack } from './placed';
import { nameFaces, noteConflicts, takenColumns, upright } from './words';

/** Everything that is known of a new picture. */
export interface NewPicture {
  file: string;
  sha256: Buffer;
  kind: FileKind;
  metadata: Metadata;
  prepared: Prepared;
  taken: Taken | null;
  where: Awaited<ReturnType<typeof placeColumns>>;
}

async function deviceId(db: Db, library: number, { make, model }: Metadata): Promise<number | null> {
  if (!make && !model) return null;
  return meetDevice(db, library, make ?? '', model ?? '');
}

/** What the folders a batch came with lie in: its own name, or for loose files one of the day they came. */
const topOf = ({ batch_name, batch_named, batch_created, language }: Item): string =>
  batch_named === 'loose' ? fill(WORDS[language].folders.loose, { day: batch_created.slice(0, 10) }) : batch_name;

/** Gives a new picture its place in the vault and its row, with everything that was said of it. Safe to repeat. */
export async function store(app: App, library: number, item: Item, picture: NewPicture): Promise<number> {
  const { db } = app;
  const { file, sha256, kind, metadata, prepared, taken, where } = picture;
  const { said } = metadata;
  const came = (item.path.split('/').pop() ?? 'picture').replace(/\p{Cc}/gu, '');
  const name = [...withoutTail(came)].slice(0, 255).join('') || 'picture';
  const day = taken?.local.slice(0, 10) ?? null;
  const event = await likelyEvent(db, library, day, taken);
  const device = await deviceId(db, library, metadata);
  const { size } = await stat(file);
  const root = libraryFolder(app, item.slug);
  const layout = vaultFolder(day, event, item.layout, taken?.span ?? null, WORDS[item.language]);
  await takeBack(app, library, item, file);
  const vaultPath = await place(root, file, layout, name, pathTaken(db, library), notePlaced(app, item));
  const folder = await folderOf(db, library, topOf(item), path.posix.dirname(item.path));
  const words = searchable([said.title, said.caption, name]);
  // A camera's own picture is no scan, however it is framed.
  const isMaybeScan = kind.kind === 'photo' && !metadata.exposure && !said.recipe;
  const stored = db.transaction(async (trx) => {
    const [id] = (await trx('pictures').insert({
      library_id: library,
      sha256,
      kind: kind.kind,
      format: kind.format,
      name,
      vault_path: vaultPath,
      bytes: size,
      width: prepared.width,
      height: prepared.height,
      // A sidecar of Gemmel's own says how it is shown.
      ...(said.recipe && kind.kind === 'photo'
        ? lookColumns(
            {
              sha256,
              of_sha: null,
              width: prepared.width,
              height: prepared.height,
              whole_width: null,
              whole_height: null,
            },
            said.recipe,
          )
        : {}),
      orientation: prepared.orientation,
      seconds: prepared.seconds,
      codec: prepared.codec,
      ...takenColumns(taken),
      event_id: event?.id ?? null,
      batch_id: item.batch_id,
      device_id: device,
      camera: [metadata.make, metadata.model].filter(Boolean).join(' ').slice(0, 200) || null,
      exposure: metadata.exposure?.slice(0, 200) ?? null,
      ...where,
      folder_id: folder,
      title: said.title,
      caption: said.caption,
      words,
      rating: said.rating,
      favourite: said.favourite,
      ...(await markColumns(trx, library, said.label)),
      ...(await audienceColumns(trx, library, said.audience)),
      lens: metadata.lens?.slice(0, 200) ?? null,
      likeness: prepared.likeness,
      sharpness: prepared.sharpness,
      thumb: Buffer.from(prepared.thumb),
      faces_sought: Boolean(item.recognise),
      observed_by: LOOKED.measured.version,
    })) as [number];
    await keepNoticed(trx, library, id, prepared.noticed);
    await firstWords(trx, library, id, words);
    await noteAlbums(trx, library, item, id, said.albums);
    if (said.comments?.length) {
      await bringComments(trx, library, id, said.comments);
      await readAgain(trx, library, [id]);
    }
    const tags = await tagPathIds(trx, library, said.tags);
    if (tags.length)
      await trx('picture_tags').insert(tags.map((tag_id) => ({ library_id: library, picture_id: id, tag_id })));
    if (prepared.faces.length)
      await trx('faces').insert(
        prepared.faces.map((f) => ({
          library_id: library,
          picture_id: id,
          x: f.x,
          y: f.y,
          w: f.w,
          h: f.h,
          height_px: f.heightPx,
          quality: f.quality,
          eyes: f.eyes,
          sharp: f.sharp,
          turn: f.turn,
          vector_a: Buffer.from(f.a.buffer, f.a.byteOffset, f.a.byteLength),
          vector_b: Buffer.from(f.b.buffer, f.b.byteOffset, f.b.byteLength),
          clothes: f.clothes && Buffer.from(f.clothes),
        })),
      );
    for (const marked of metadata.marked)
      await nameFaces(trx, library, id, prepared.height, upright(marked, prepared, prepared.faces));
    await noteConflicts(trx, library, item, id, metadata.conflicts);
    const spoken = said.title || said.caption || said.rating || said.favourite || said.label;
    // What the file itself does not say goes beside it.
    const told = taken && !['camera', 'gps'].includes(taken.source);
    if (isMaybeScan) await lookLater(trx, library, id);
    if (spoken || told || said.audience || tags.length || said.faces.length || said.comments?.length)
      await markDirty(trx, library, [id]);
    return id;
  });
  try {
    const id = await stored;
    if (kind.kind === 'video') await ask(db, library, 'moving', id);
    else if (isMaybeScan) await ask(db, library, 'prints', 0, 1000);
    if (said.recipe) await ask(db, library, 'views');
    return id;
  } catch (error) {
    // The same file may have come in twice at one moment, and the other was first: ours is given back.
    await takeBack(app, library, item, file);
    throw error;
  }
}

/** For whom it is, as its sidecar says; who said so is the member of that name, and what nobody here said is a keeper's to widen. */
async function audienceColumns(trx: Db, library: number, said: SaidAudience | undefined) {
  if (!said) return {};
  const members = trx('members').where('library_id', library).orderBy('id');
  const by =
    (await members
      .clone()
      .where('name', said.by ?? '')
      .first('id')) ?? (await members.clone().where('part', 'keeper').whereNull('left_at').first('id'));
  return { audience: said.audience, audience_by: by?.id ?? null };
}

/** The event a new picture most likely belongs to until all gaps are looked at again: one that spans its time. */
async function likelyEvent(
  db: Db,
  library: number,
  day: string | null,
  taken: Taken | null,
): Promise<{ id: number; title: string | null; start: string } | null> {
  if (!day || !taken || taken.span || taken.certainty < 0.35) return null;
  const row = await db('events')
    .where('library_id', library)
    .where('start_day', '<=', day)
    .where('end_day', '>=', day)
    .orderBy('start_day', 'desc')
    .first('id', 'title', 'start_day as start');
  return (row as { id: number; title: string | null; start: string } | undefined) ?? null;
}
