import type { SourcesRow } from '../db/tables';
import { createHash, randomBytes } from 'node:crypto';

import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { slugOf } from '../files/slug';
import { notFound, refused } from '../problem';

/** A way in that comes back: a card or phone that shows up as a folder, a phone's sync application, a watched folder. */
export type Source = SourcesRow;

/** The source of a name, made when it is met for the first time. */
export async function meetSource(
  app: App,
  library: number,
  source: { kind: Source['kind']; slug: string; name: string; path: string | null },
): Promise<Source> {
  const key = { library_id: library, kind: source.kind, slug: source.slug.slice(0, 80) };
  await app
    .db('sources')
    .insert({ ...key, name: source.name.slice(0, 160), path: source.path })
    .onConflict(['library_id', 'kind', 'slug'])
    .ignore();
  await app
    .db('sources')
    .where(key)
    .update({ path: source.path, seen_at: app.db.raw('UTC_TIMESTAMP(3)') });
  return (await app.db('sources').where(key).first()) as Source;
}

/** A source of this library. */
export async function sourceOf(app: App, library: number, id: number): Promise<Source> {
  const row = (await app.db('sources').where({ id, library_id: library }).whereNull('removed_at').first()) as
    Source | undefined;
  if (!row) throw notFound('device');
  return row;
}

const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** A password that can be typed from a screen: four groups of five letters and digits that cannot be mistaken, 98 bits. */
export function devicePassword(): string {
  const bytes = randomBytes(20);
  const letters = [...bytes].map((b) => LETTERS[b % LETTERS.length]!).join('');
  return letters.match(/.{5}/g)!.join('-');
}

/** A device password's hash; it is long and random, so that a plain hash is enough. */
export const secretHash = (password: string): Buffer => createHash('sha256').update(password).digest();

/** Lets a phone's sync application in: answers with the password, which is shown this once. */
export async function addPhone(
  app: App,
  library: number,
  name: string,
): Promise<{ id: number; slug: string; password: string }> {
  const slug = slugOf(name, 'phone');
  const there = await app.db('sources').where({ library_id: library, kind: 'phone', slug }).first('id', 'removed_at');
  if (there && !there.removed_at) throw refused('device-taken', { name });
  const source = await meetSource(app, library, { kind: 'phone', slug, name, path: null });
  const password = devicePassword();
  await app
    .db('sources')
    .where('id', source.id)
    .update({ name, secret_hash: secretHash(password), removed_at: null, seen_at: null });
  app.changed(library, 'sources');
  return { id: source.id, slug, password };
}

/** Gives a phone a new password; the old one is worth nothing from now on. */
export async function renewPassword(
  app: App,
  library: number,
  id: number,
): Promise<{ id: number; slug: string; password: string }> {
  const source = await sourceOf(app, library, id);
  if (source.kind !== 'phone') throw refused('phones-only');
  const password = devicePassword();
  await app
    .db('sources')
    .where('id', id)
    .update({ secret_hash: secretHash(password) });
  return { id, slug: source.slug, password };
}

/** Renames a source, puts its offer off, or takes it off the list; its pictures stay. */
export const changeSource = (
  app: App,
  by: By,
  id: number,
  change: { name?: string | undefined; removed?: boolean | undefined; putOff?: boolean | undefined },
): Promise<{ act: number | null }> =>
  perform(app, by, 'change source', async ({ trx, library, hold, words }) => {
    const [row] = await hold('sources', [id]);
    if (!row) throw notFound('device');
    const { name, removed, putOff } = change;
    const said = {
      ...(name === undefined ? {} : { name }),
      ...(removed === undefined ? {} : { removed_at: removed ? trx.raw('UTC_TIMESTAMP(3)') : null }),
      ...(putOff === undefined ? {} : { put_off: putOff }),
    };
    if (Object.keys(said).length) await trx('sources').where({ id, library_id: library }).update(said);
    words({ name: String(row['name']), what: Object.keys(change), ...(name === undefined ? {} : { to: name }) });
  });
