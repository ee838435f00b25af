import type { Frame, FrameFeed, FrameSettings as Settings, ShowSource } from '@gemmel/contract';
import { FrameSettings } from '@gemmel/contract';
import { cropAround, shuffled } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { mkdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { hashOf } from '../account/links';
import type { App } from '../context';
import type { FramesRow } from '../db/tables';
import { isRemoved } from '../library/removed';
import { writeImage } from '../piece/image';
import { notFound, refused } from '../problem';
import { newLink, unseal } from '../share/links';
import { homeOf } from '../time/home';
import { throughHouse } from '../sight/house';
import { showOf, slidesOf } from '../show/shows';

const DARK = '#131A19';
/** How long what a frame shows is kept before it is looked up anew, in ms. */
const FRESH = 30_000;

interface Open {
  row: FramesRow;
  source: ShowSource;
  settings: Settings;
}

const readRow = (row: FramesRow): Open => ({
  row,
  source: JSON.parse(row.source) as ShowSource,
  settings: FrameSettings.parse(JSON.parse(row.settings)),
});

function toFrame(app: App, { row, source, settings }: Open): Frame {
  const token = unseal(app, row.sealed);
  return {
    id: row.id,
    name: row.name,
    source,
    settings,
    path: token && `/frame/${token}`,
    seen: row.seen_at && `${row.seen_at.replace(' ', 'T')}Z`,
  };
}

/** The frames of a library, by name. */
export const listFrames = async (app: App, library: number): Promise<Frame[]> =>
  (await app.db('frames').where('library_id', library).orderBy(['name', 'id'])).map((row) =>
    toFrame(app, readRow(row)),
  );

const ownFrame = async (app: App, library: number, id: number): Promise<Open> => {
  const row = await app.db('frames').where({ id, library_id: library }).first();
  if (!row) throw notFound('frame');
  return readRow(row);
};

/** Feeds a frame by a secret address. What it shows is checked to be of this library. */
export async function makeFrame(
  app: App,
  library: number,
  { name, source, settings }: { name: string; source: ShowSource; settings: Settings },
): Promise<Frame> {
  await showOf(app, library, source);
  const [id] = (await app.db('frames').insert({
    library_id: library,
    name,
    source: JSON.stringify(source),
    settings: JSON.stringify(settings),
    ...newLink(app),
  })) as [number];
  app.changed(library, 'shows');
  return toFrame(app, await ownFrame(app, library, id));
}

/** Changes what a frame shows, or how. */
export async function changeFrame(
  app: App,
  library: number,
  id: number,
  {
    name,
    source,
    settings,
  }: { name?: string | undefined; source?: ShowSource | undefined; settings?: Settings | undefined },
): Promise<Frame> {
  await ownFrame(app, library, id);
  if (source) await showOf(app, library, source);
  const set = {
    ...(name !== undefined && { name }),
    ...(source && { source: JSON.stringify(source) }),
    ...(settings && { settings: JSON.stringify(settings) }),
  };
  if (Object.keys(set).length) await app.db('frames').where({ id, library_id: library }).update(set);
  shown.delete(id);
  app.changed(library, 'shows');
  return toFrame(app, await ownFrame(app, library, id));
}

/** Feeds a frame no longer: its address leads nowhere. */
export async function endFrame(app: App, library: number, id: number): Promise<void> {
  if (!(await app.db('frames').where({ id, library_id: library }).delete())) throw notFound('frame');
  shown.delete(id);
  app.changed(library, 'shows');
}

/** The frame a secret belongs to. @throws when there is none. */
async function frameOf(app: App, token: string): Promise<Open> {
  const row = await app.db('frames').where('token_hash', hashOf(token)).first();
  if (!row || (await isRemoved(app.db, row.library_id))) throw refused('frame-ended');
  return readRow(row);
}

/** What frames show, lately looked up: a frame that asks each second must not ask the whole library each second. */
const shown = new Map<number, { at: number; ids: Promise<number[]> }>();

async function idsOf(app: App, { row, source, settings }: Open): Promise<number[]> {
  const known = shown.get(row.id);
  if (known && Date.now() - known.at < FRESH) return known.ids;
  const ids = (async () => {
    // What somebody keeps to themselves is on no frame.
    const { pictures } = await showOf(await throughHouse(app, row.library_id), row.library_id, source);
    const stills = pictures.filter(({ seconds }) => seconds === null);
    if (settings.order === 'shuffled') return shuffled(stills, row.id).map(({ id }) => id);
    if (settings.order === 'time') stills.sort((a, b) => (a.taken ?? '~').localeCompare(b.taken ?? '~') || a.id - b.id);
    return stills.map(({ id }) => id);
  })();
  shown.set(row.id, { at: Date.now(), ids });
  ids.catch(() => shown.delete(row.id));
  return ids;
}

/** Whether an hour lies in the quiet ones, which may pass midnight. */
export const isQuiet = (quiet: Settings['quiet'], hour: number): boolean =>
  quiet !== null &&
  (quiet.from <= quiet.to ? hour >= quiet.from && hour < quiet.to : hour >= quiet.from || hour < quiet.to);

async function quietNow(app: App, { row, settings }: Open): Promise<boolean> {
  if (!settings.quiet) return false;
  const zone = await homeOf(app.db, row.library_id);
  const hour = Number(
    new Intl.DateTimeFormat('en', { hour: 'numeric', hourCycle: 'h23', timeZone: zone }).format(new Date()),
  );
  return isQuiet(settings.quiet, hour);
}

const MOST = 500;

/** What a frame is told: its pictures as they are found just now, in its order. */
export async function feedOf(app: App, token: string): Promise<FrameFeed> {
  const frame = await frameOf(app, token);
  const ids = (await idsOf(app, frame)).slice(0, MOST);
  const words = new Map<number, string | null>();
  for (let i = 0; i < ids.length; i += 200)
    for (const one of await slidesOf(app, frame.row.library_id, ids.slice(i, i + 200)))
      words.set(one.id, one.caption ?? one.title);
  return {
    name: frame.row.name,
    seconds: frame.settings.seconds,
    quiet: await quietNow(app, frame),
    next: `/frame/${token}/next.jpg`,
    pictures: ids.map((id) => ({
      id,
      url: `/frame/${token}/pictures/${id}.jpg`,
      kind: 'photo',
      words: words.get(id) ?? null,
    })),
  };
}

/** A picture as large as a frame: filling it with faces whole, or whole with a dark edge. It says nothing on the side. */
async function sized(app: App, { row, settings }: Open, id: number): Promise<string> {
  const library = row.library_id;
  const { width, height, fit } = settings;
  const [slide] = await slidesOf(app, library, [id]);
  const picture = await app.db('pictures').where({ id, library_id: library }).first('width', 'height');
  if (!slide || !picture) throw notFound('picture');
  const part =
    fit === 'fill'
      ? cropAround(
          { ratio: picture.width / picture.height, faces: slide.faces.map(([x, y, w, h]) => ({ x, y, w, h })) },
          { w: width, h: height },
        )
      : null;
  const key = createHash('sha256')
    .update(JSON.stringify([slide.sha, part, width, height]))
    .digest('hex')
    .slice(0, 40);
  const file = path.join(app.paths.derived, 'frames', key.slice(0, 2), `${key}.jpg`);
  if (await stat(file).catch(() => null)) return file;
  await mkdir(path.dirname(file), { recursive: true });
  const bare = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}.jpg`;
  await writeImage(app, library, id, { part, width, height, quality: 88 }, bare);
  await sharp(bare)
    .resize(width, height, { fit: 'contain', background: DARK })
    .jpeg({ quality: 88 })
    .toFile(`${bare}.part`);
  await rename(`${bare}.part`, file);
  await rm(bare, { force: true });
  return file;
}

/** A picture of a frame. @throws for one that it does not show. */
export async function framePicture(app: App, token: string, id: number): Promise<string> {
  const frame = await frameOf(app, token);
  if (!(await idsOf(app, frame)).includes(id)) throw notFound('picture');
  return sized(app, frame, id);
}

/** The next picture of a frame, which moves on with each; dark in quiet hours, and while there is nothing to show. */
export async function nextPicture(app: App, token: string): Promise<{ file: string } | { dark: Buffer }> {
  const { db } = app;
  const frame = await frameOf(app, token);
  const ids = (await quietNow(app, frame)) ? [] : await idsOf(app, frame);
  const { width, height } = frame.settings;
  await db('frames')
    .where('id', frame.row.id)
    .update({ at: db.raw(ids.length ? 'at + 1' : 'at'), seen_at: db.raw('UTC_TIMESTAMP(3)') });
  if (ids.length === 0)
    return {
      dark: await sharp({ create: { width, height, channels: 3, background: DARK } })
        .jpeg()
        .toBuffer(),
    };
  return { file: await sized(app, frame, ids[frame.row.at % ids.length]!) };
}
