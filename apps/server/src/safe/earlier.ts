import type { EarlierState, EarlierWords } from '@gemmel/contract';
import { fold, NOTHING_SAID, type Said } from '@gemmel/core';
import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { By } from '../act/perform';
import type { App } from '../context';
import { readSidecar } from '../media/metadata';
import { changePictures } from '../picture/change';
import { notFound } from '../problem';
import { saidOf } from '../vault/sidecar';
import { hashFile } from '../vault/vault';
import { openPlace, placeRow } from './places';
import { bringBack, ownFolder, resticJson, snapshotsOf, type Way } from './restic';

/** The states that places hold, newest first: to look back at. A place that does not answer holds none just now. */
export async function earlierStates(app: App): Promise<EarlierState[]> {
  const found: EarlierState[] = [];
  for (const row of await app.db('safe_places').whereNotNull('repository').orderBy('id'))
    try {
      const way = await openPlace(app, row);
      for (const { id, time } of await snapshotsOf(way, { gentle: false }))
        found.push({ place: row.id, name: row.name, state: id, at: new Date(time).toISOString() });
    } catch {
      // It is shown among the places that it is away.
    }
  return found.sort((a, b) => (a.at < b.at ? 1 : -1));
}

/** Where a file of this name lay in a state, below `/vault/<slug>`: its folder may have been called otherwise then. */
async function placesThen(way: Way, state: string, slug: string, vaultPath: string): Promise<string[]> {
  const now = `/vault/${slug}/${vaultPath}`;
  const name = path.basename(vaultPath).replace(/[\\*?[\]]/g, (c) => `\\${c}`);
  const found = await resticJson<{ matches?: { path: string }[] }[]>(
    way,
    ['find', '--json', '--no-lock', '--snapshot', state, '--', name],
    { gentle: false },
  ).catch(() => []);
  const then = found.flatMap(({ matches = [] }) => matches.map((one) => one.path));
  return [...new Set([now, ...then.filter((at) => at.startsWith(`/vault/${slug}/`))])];
}

/** What a state says of a picture: from what was written beside it then. Null when it held no such picture. */
async function saidThen(
  app: App,
  library: number,
  picture: number,
  place: number,
  state: string,
): Promise<Said | null> {
  const { db } = app;
  const row = await db('pictures').where({ id: picture, library_id: library }).first('vault_path', 'sha256');
  if (!row) throw notFound('picture');
  const { slug } = (await db('libraries').where('id', library).first('slug'))!;
  const way = await openPlace(app, await placeRow(app, place));
  const target = await ownFolder(way);
  try {
    for (const at of await placesThen(way, state, slug, row.vault_path)) {
      await bringBack(way, state, [at, `${at}.xmp`], target, { gentle: false });
      // Another picture may have had its name then.
      const there = await hashFile(path.join(target, at)).catch(() => null);
      if (!there?.equals(row.sha256)) continue;
      const beside = path.join(target, `${at}.xmp`);
      return (await stat(beside).catch(() => null)) ? (await readSidecar(beside)).said : NOTHING_SAID;
    }
    return null;
  } finally {
    await rm(target, { recursive: true, force: true });
  }
}

/** The words of a picture, as far as they can be brought back. */
const wordsOf = (said: Pick<Said, 'title' | 'caption' | 'rating' | 'favourite' | 'tags'>): EarlierWords => ({
  title: said.title,
  caption: said.caption,
  rating: said.rating,
  favourite: said.favourite,
  tags: said.tags.map((one) => one.join(' › ')),
});

async function wordsNow(
  { db }: App,
  library: number,
  picture: number,
): Promise<EarlierWords & { ids: Map<string, number> }> {
  const said = (await saidOf(db, library, [picture])).get(picture);
  if (!said) throw notFound('picture');
  const paths = new Map(said.paths.map((one) => [fold(one.at(-1)!), one]));
  const tags = said.tags.map((name) => paths.get(fold(name)) ?? [name]);
  const rows = await db('picture_tags as pt')
    .join('tags as t', 't.id', 'pt.tag_id')
    .where('pt.picture_id', picture)
    .select('t.id', 't.name');
  return {
    ...wordsOf({ ...said, tags }),
    ids: new Map(rows.map(({ id, name }) => [fold(name as string), id as number])),
  };
}

/** What was said of a picture in a state, and what is said of it now. */
export async function earlierWords(
  app: App,
  library: number,
  picture: number,
  { place, state }: { place: number; state: string },
): Promise<{ then: EarlierWords | null; now: EarlierWords }> {
  const { ids: _, ...now } = await wordsNow(app, library, picture);
  const said = await saidThen(app, library, picture, place, state);
  return { then: said && wordsOf(said), now };
}

/** Says of a picture what was said of it in a state; an act like any other, which can be taken back. */
export async function bringWordsBack(
  app: App,
  by: By,
  picture: number,
  { place, state }: { place: number; state: string },
): Promise<{ act: number | null }> {
  const said = await saidThen(app, by.library, picture, place, state);
  if (!said) throw notFound('difference');
  return sayAs(app, by, picture, said);
}

/** Says of a picture exactly what is given: title, caption, stars, heart and tags. An act like any other. */
export async function sayAs(
  app: App,
  by: By,
  picture: number,
  said: Pick<Said, 'title' | 'caption' | 'rating' | 'favourite' | 'tags'>,
): Promise<{ act: number | null }> {
  const then = wordsOf(said);
  const now = await wordsNow(app, by.library, picture);
  const key = (tag: string) => fold(tag.split(' › ').pop()!);
  const [was, is] = [new Set(then.tags.map(key)), new Set(now.tags.map(key))];
  return changePictures(app, by, [picture], {
    title: then.title,
    caption: then.caption,
    rating: then.rating,
    favourite: then.favourite,
    addTags: then.tags.filter((tag) => !is.has(key(tag))),
    removeTags: now.tags.flatMap((tag) => (was.has(key(tag)) ? [] : [now.ids.get(key(tag))!])),
  });
}
