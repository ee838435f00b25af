import type { ShowSlide, ShowSource } from '@gemmel/contract';
import { goodness, type Eligible, type Part } from '@gemmel/core';
import { eligible } from '../album/best';
import { LRUCache } from 'lru-cache';
import { chunks, type App } from '../context';
import { KEPT_FOR, newsOf } from '../question/news';
import { throughHouse } from '../sight/house';
import { seenBy } from '../sight/through';
import { showOf, slidesOf } from '../show/shows';

/** A picture as pieces are made of it. */
export interface PiecePicture extends Omit<ShowSlide, 'faces'> {
  /** Its size as it is shown, in pixels. */
  width: number;
  height: number;
  bytes: number;
  name: string;
  format: string;
  day: string | null;
  event: number | null;
  spot: { lat: number; lon: number } | null;
  faces: Part[];
  /** How good it is, from 0 to 1. */
  good: number;
  /** What it is compared by: see core's `isSame`. */
  like: Eligible;
}

/** What a piece is made of: its pictures in order, its title and its chapters. */
export interface PieceOf {
  title: string | null;
  pictures: PiecePicture[];
  chapters: Awaited<ReturnType<typeof showOf>>['chapters'];
}

/**
 * The pictures of a source as pieces are made of them: those that the whole house sees, since whoever lives there may open what was made. What
 * left the library meanwhile is left out.
 */
export async function pieceOf(whole: App, library: number, source: ShowSource): Promise<PieceOf> {
  const app = await throughHouse(whole, library);
  // What is being made is looked at again and again: as long as no news says otherwise, it is of the same.
  const news = [...(await newsOf(app.db, library))].filter(([topic]) => !OF_ELSE.has(topic));
  const key = JSON.stringify([app.config.data, library, seenBy(app.db) !== '', source, news]);
  const known = lately.get(key);
  if (known) return known;
  const of = read(app, library, source);
  lately.set(key, of);
  of.catch(() => lately.delete(key));
  return of;
}

/** News that says nothing of pictures. */
const OF_ELSE: ReadonlySet<string> = new Set(['acts', 'making', 'pieces', 'pile', 'pins', 'safe', 'shows', 'sources']);
/** What pieces were made of lately. Nobody changes what is answered. */
const lately = new LRUCache<string, Promise<PieceOf>>({ max: 6, ttl: KEPT_FOR });

async function read(app: App, library: number, source: ShowSource): Promise<PieceOf> {
  const { db } = app;
  const of = await showOf(app, library, source);
  const pictures: PiecePicture[] = [];
  for (const ids of chunks(
    of.pictures.map(({ id }) => id),
    500,
  )) {
    const slides = await slidesOf(app, library, ids);
    const marks = ids.map(() => '?').join(',');
    const likes = new Map(
      (await eligible(app, library, { sql: `p.id IN (${marks})`, values: ids })).map((one) => [one.id, one]),
    );
    const rows = new Map(
      (
        await db('pictures')
          .where('library_id', library)
          .whereIn('id', ids)
          .select('id', 'width', 'height', 'bytes', 'name', 'format', 'day', 'event_id', 'lat', 'lon')
      ).map((row) => [row.id, row]),
    );
    for (const slide of slides) {
      const row = rows.get(slide.id);
      const like = likes.get(slide.id);
      if (!row || !like) continue;
      pictures.push({
        ...slide,
        width: row.width,
        height: row.height,
        bytes: Number(row.bytes),
        name: row.name,
        format: row.format,
        day: row.day,
        event: row.event_id,
        spot: row.lat === null || row.lon === null ? null : { lat: row.lat, lon: row.lon },
        faces: slide.faces.map(([x, y, w, h]) => ({ x, y, w, h })),
        good: Math.min(1, Math.max(0, (goodness(like, 0.5) + 0.4) / 2)),
        like,
      });
    }
  }
  return { title: of.title, pictures, chapters: of.chapters };
}
