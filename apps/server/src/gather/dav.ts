import { isRemoved } from '../library/removed';
import { withoutTail } from '@gemmel/core';
import { XMLValidator } from 'fast-xml-parser';
import type { Context, Hono } from 'hono';
import { randomBytes, timingSafeEqual } from 'node:crypto';
import { copyFile, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { FailLimit } from '../account/limit';
import { chunks, type App } from '../context';
import { addressOf } from '../account/address';
import { sendFile } from '../files/send';
import { incomingFile } from '../intake/items';
import { ask } from '../jobs/jobs';
import { readAgain } from '../question/words';
import { isFull, needRoom } from '../intake/space';
import { mimeOf } from '../media/sniff';
import { discard, libraryFolder, receive } from '../vault/vault';
import { knownWhole } from '../vault/whole';
import { remember, takeUp } from './held';
import { heldFile } from './heldFile';
import { toXml } from '../xml';
import { secretHash, type Source } from './sources';
import { HALF } from './watched';

/** A file or folder as the phone sees it. Folders end in `/`. */
interface Entry {
  id: number;
  path: string;
  bytes: number;
  modified: number;
  sha256: Buffer | null;
  item_id: number | null;
}

type Phone = Source;

const METHODS = 'OPTIONS, GET, HEAD, PUT, MKCOL, PROPFIND, PROPPATCH, DELETE, COPY, MOVE';
const hrefOf = (slug: string, at: string) => `/dav/${slug}/${at.split('/').map(encodeURIComponent).join('/')}`;
const tagOf = ({ sha256, id }: Entry) => `"${sha256?.toString('hex').slice(0, 32) ?? id}"`;
/** Whatever lies below a folder, for LIKE. */
const below = (at: string): string => `${at.replace(/[%_\\]/g, '\\$&')}/%`;
const answer = (status: number, headers: Record<string, string> = {}) => new Response(null, { status, headers });

/** What is said of several resources at once (RFC 4918, 13). */
const multistatus = (responses: readonly object[]): Response =>
  new Response(
    `<?xml version="1.0" encoding="utf-8"?>\n${toXml({ 'd:multistatus': { '@xmlns:d': 'DAV:', 'd:response': responses } })}`,
    { status: 207, headers: { 'content-type': 'application/xml; charset=utf-8' } },
  );

/** The path below the device's folder that a request speaks of, without slashes at its ends; null for one that leads out. */
export function davPath(url: string, slug: string): string | null {
  if (!URL.canParse(url, 'http://gemmel')) return null;
  const { pathname } = new URL(url, 'http://gemmel');
  if (!`${pathname}/`.startsWith(`/dav/${slug}/`)) return null;
  let plain: string;
  try {
    plain = decodeURIComponent(pathname.slice(`/dav/${slug}`.length));
  } catch {
    return null;
  }
  const parts = plain.normalize('NFC').split('/').filter(Boolean);
  if (parts.some((part) => part === '..' || part === '.' || /[\p{Cc}\\]/u.test(part))) return null;
  return parts.join('/');
}

/**
 * WebDAV (RFC 4918, class 1 without locks) for the sync applications of phones. What a phone delivers is taken in like
 * anything else; what it deletes or overwrites is forgotten in this listing alone, never in the library.
 */
export function addDav(http: Hono<never>, app: App): void {
  const { db } = app;
  const tries = new FailLimit({ most: 20, minutes: 5 });

  const phoneOf = async (c: Context): Promise<Phone | null> => {
    const slug = c.req.param('device') ?? '';
    const [kind, token] = (c.req.header('authorization') ?? '').split(' ');
    if (kind?.toLowerCase() !== 'basic' || !token) return null;
    const said = Buffer.from(token, 'base64').toString('utf8');
    const password = said.slice(said.indexOf(':') + 1);
    // Two libraries may have a device of one name: the password tells whose it is.
    const phones = (await db('sources').where({ kind: 'phone', slug }).whereNull('removed_at')) as Phone[];
    const given = secretHash(password);
    const none = randomBytes(32);
    const right = [...phones, null].filter((phone) => timingSafeEqual(given, phone?.secret_hash ?? none));
    const phone = right[0] ?? null;
    return phone && !(await isRemoved(db, phone.library_id)) ? phone : null;
  };
  const entry = async (phone: Phone, at: string): Promise<Entry | undefined> =>
    await db('source_files')
      .where({ source_id: phone.id, listed: true })
      .whereIn('path', [at, `${at}/`])
      .first();
  const isFolder = async (phone: Phone, at: string): Promise<boolean> =>
    at === '' ||
    Boolean(
      await db('source_files')
        .where({ source_id: phone.id, listed: true })
        .where('path', 'like', below(at))
        .first('id'),
    );

  const handle = async (c: Context): Promise<Response> => {
    if (c.req.method === 'OPTIONS') return answer(200, { dav: '1', allow: METHODS, 'ms-author-via': 'DAV' });
    const key = `${addressOf(c)} ${c.req.param('device')}`;
    const phone = await phoneOf(c);
    if (!phone) {
      if (c.req.header('authorization') && !(await tries.begin(key))) return answer(429, { 'retry-after': '300' });
      return answer(401, { 'www-authenticate': 'Basic realm="Gemmel", charset="UTF-8"' });
    }
    await tries.clear(key);
    const at = davPath(c.req.url, phone.slug);
    if (at === null || at.length > 690) return answer(400);
    await db('sources')
      .where('id', phone.id)
      .update({ seen_at: db.raw('UTC_TIMESTAMP(3)'), present: true });
    switch (c.req.method) {
      case 'PUT':
        return put(c, phone, at);
      case 'GET':
      case 'HEAD':
        return get(c, phone, at);
      case 'PROPFIND':
        return find(c, phone, at);
      case 'MKCOL':
        // A body here would mean something nobody has defined (RFC 4918, 9.3).
        return (await c.req.text()) ? answer(415) : makeFolder(phone, at);
      case 'DELETE':
        return forget(phone, at);
      case 'MOVE':
      case 'COPY':
        return move(c, phone, at);
      case 'PROPPATCH':
        return keepNoProperty(phone, at);
      default:
        return answer(405, { allow: METHODS });
    }
  };

  /** Whether what a phone delivered is stored whole, or on its way there: only then may the phone do without it. */
  async function isHeld(phone: Phone, { sha256, item_id }: Entry): Promise<boolean> {
    const coming =
      item_id && (await db('batch_items').where('id', item_id).whereIn('state', ['waiting', 'received']).first('id'));
    return Boolean(coming) || (sha256 !== null && (await knownWhole(app, phone.library_id, sha256)) !== null);
  }

  async function put(c: Context, phone: Phone, at: string): Promise<Response> {
    if (!at || c.req.header('content-range')) return answer(400);
    if ((await entry(phone, at))?.path.endsWith('/')) return answer(409);
    const length = Number(c.req.header('content-length') ?? NaN);
    const there = await entry(phone, at);
    // Only if it is not there, or only if it is what the client knows (RFC 9110, 13.1).
    if (c.req.header('if-none-match')?.trim() === '*' && there) return answer(412);
    const wanted = c.req.header('if-match');
    if (wanted && !(there && (wanted.trim() === '*' || wanted.includes(tagOf(there))))) return answer(412);
    const part = path.join(app.paths.uploads, `dav-${randomBytes(8).toString('hex')}.part`);
    try {
      await needRoom(app, Number.isFinite(length) ? length : 0);
      const body = c.req.raw.body ?? new ReadableStream<Uint8Array>({ start: (s) => s.close() });
      const { sha256, bytes } = await receive(body, part);
      if (Number.isFinite(length) && bytes !== length) throw new Error('cut off');
      // Some phones say when a picture was last changed in a header of their own, in seconds.
      const seconds = Number(c.req.header('x-oc-mtime') ?? NaN);
      const stated = Number.isFinite(seconds) ? seconds * 1000 : Date.parse(c.req.header('last-modified') ?? '');
      const modified = Number.isFinite(stated) ? Math.round(stated) : Date.now();
      if (bytes === 0) {
        // Some clients try an empty file first and send the real one after it.
        await discard(part);
        await remember(app, phone, at, 0, modified, { sha256: null, item_id: null });
      } else if (HALF.test(at)) {
        await remember(app, phone, at, bytes, modified, { sha256, item_id: null });
        await rename(part, heldFile(app, (await entry(phone, at))!.id));
      } else if (!there?.sha256?.equals(sha256) || !(await isHeld(phone, there)))
        await takeUp(app, phone, at, part, { bytes, modified, sha256 });
      else await discard(part);
      return answer(there ? 204 : 201, {
        etag: `"${sha256.toString('hex').slice(0, 32)}"`,
        ...(Number.isFinite(seconds) ? { 'x-oc-mtime': 'accepted' } : {}),
      });
    } catch (error) {
      await discard(part);
      if (isFull(error)) return answer(507);
      if (error instanceof Error && /cut off|abort|terminated|ECONNRESET|premature/i.test(error.message))
        return answer(400);
      throw error;
    }
  }

  async function get(c: Context, phone: Phone, at: string): Promise<Response> {
    const found = await entry(phone, at);
    if (!found || found.path.endsWith('/')) return answer((await isFolder(phone, at)) ? 405 : 404, { allow: METHODS });
    const file = await whereIs(phone, found);
    if (!file) return found.bytes === 0 ? answer(200, { 'content-length': '0' }) : answer(404);
    // It may be on its way into the vault.
    const response = await sendFile(c, () => whereIs(phone, found), {
      mime: mimeOf(at.split('.').pop()?.toLowerCase() ?? ''),
      etag: tagOf(found),
      cache: 'private, no-cache',
    });
    if (c.req.method !== 'HEAD') return response;
    await response.body?.cancel();
    return new Response(null, { status: response.status, headers: response.headers });
  }

  /** Where the bytes a phone sent are now. */
  async function whereIs(phone: Phone, found: Entry): Promise<string | null> {
    const candidates: string[] = [heldFile(app, found.id)];
    if (found.item_id) candidates.unshift(incomingFile(app, found.item_id));
    if (found.sha256) {
      const { slug } = (await db('libraries').where('id', phone.library_id).first('slug'))!;
      for (const table of ['pictures', 'picture_files', 'binned_files']) {
        const row = (await db(table)
          .where({ library_id: phone.library_id, sha256: found.sha256 })
          .first('vault_path')) as { vault_path: string } | undefined;
        if (row) candidates.unshift(path.join(libraryFolder(app, slug), row.vault_path));
      }
    }
    for (const file of candidates) if (await stat(file).catch(() => null)) return file;
    return null;
  }

  async function find(c: Context, phone: Phone, at: string): Promise<Response> {
    const depth = c.req.header('depth') ?? '1';
    if (depth !== '0' && depth !== '1') return answer(403);
    const asked = (await c.req.text()).slice(0, 100_000);
    if (asked && XMLValidator.validate(asked) !== true) return answer(400);
    const self = await entry(phone, at);
    const folder = self ? self.path.endsWith('/') : await isFolder(phone, at);
    if (!self && !folder) return answer(404);
    const shown = new Map<string, Entry | null>([[at, folder ? null : self!]]);
    if (folder && depth === '1') {
      const inside = at ? `${at}/` : '';
      const rows = await db('source_files')
        .where({ source_id: phone.id, listed: true })
        .where('path', 'like', `${inside.replace(/[%_\\]/g, '\\$&')}%`);
      for (const row of rows) {
        const rest = row.path.slice(inside.length);
        if (!rest) continue;
        const cut = rest.indexOf('/');
        if (cut < 0) shown.set(row.path, row);
        else shown.set(inside + rest.slice(0, cut), null);
      }
    }
    return multistatus(
      [...shown].map(([name, file]) => ({
        'd:href': hrefOf(phone.slug, name) + (file || !name ? '' : '/'),
        'd:propstat': {
          'd:prop': {
            'd:displayname': name.split('/').pop() || phone.name,
            ...(file
              ? {
                  'd:resourcetype': {},
                  'd:getcontentlength': file.bytes,
                  'd:getlastmodified': new Date(Number(file.modified)).toUTCString(),
                  'd:getcontenttype': mimeOf(name.split('.').pop()?.toLowerCase() ?? ''),
                  'd:getetag': tagOf(file),
                }
              : { 'd:resourcetype': { 'd:collection': {} } }),
          },
          'd:status': 'HTTP/1.1 200 OK',
        },
      })),
    );
  }

  async function makeFolder(phone: Phone, at: string): Promise<Response> {
    if (!at || (await entry(phone, at)) || (await isFolder(phone, at))) return answer(405, { allow: METHODS });
    const above = at.slice(0, Math.max(0, at.lastIndexOf('/')));
    if (above && !(await isFolder(phone, above))) return answer(409);
    await remember(app, phone, `${at}/`, 0, Date.now());
    return answer(201);
  }

  /** The phone forgets; the library does not. */
  async function forget(phone: Phone, at: string): Promise<Response> {
    const gone = (await db('source_files')
      .where({ source_id: phone.id, listed: true })
      .where((q) => q.where('path', at).orWhere('path', 'like', below(at)))
      .pluck('id')) as number[];
    for (const some of chunks(gone, 1000)) await db('source_files').whereIn('id', some).update({ listed: false });
    // What was only held for it is nobody's now.
    for (const id of gone) await discard(heldFile(app, id));
    return answer(gone.length ? 204 : 404);
  }

  /**
   * Renames or copies. What lay at the destination, or ever did, is forgotten in the listing; half-written files that get their
   * name are taken in.
   */
  async function move(c: Context, phone: Phone, at: string): Promise<Response> {
    const copies = c.req.method === 'COPY';
    const to = davPath(c.req.header('destination') ?? '', phone.slug);
    if (to === null || !at) return answer(400);
    if (!to || to.length > 690 || to === at || `${to}/`.startsWith(`${at}/`)) return answer(403);
    const found = await entry(phone, at);
    const folder = found ? found.path.endsWith('/') : await isFolder(phone, at);
    if (!found && !folder) return answer(404);
    const above = to.slice(0, Math.max(0, to.lastIndexOf('/')));
    if (above && !(await isFolder(phone, above))) return answer(409);
    const old = (await entry(phone, to)) ?? (await isFolder(phone, to));
    if (old && c.req.header('overwrite')?.toUpperCase() === 'F') return answer(412);
    // What is above the source must not go with the destination.
    if (`${at}/`.startsWith(`${to}/`)) return answer(403);
    const shift = [...at].length + 1;
    let replaced: number[] = [];
    const copy = await db.transaction(async (trx) => {
      const gone = trx('source_files')
        .where('source_id', phone.id)
        .where((q) => q.whereIn('path', [to, `${to}/`]).orWhere('path', 'like', below(to)));
      replaced = await gone.clone().whereNull('item_id').whereNotNull('sha256').pluck('id');
      await gone.delete();
      const moved = trx('source_files').where('source_id', phone.id);
      if (folder) {
        if (copies)
          await trx.raw(
            `INSERT INTO source_files (library_id, source_id, path, bytes, modified, sha256, item_id, listed)
             SELECT library_id, source_id, CONCAT(?, SUBSTRING(path, ?)), bytes, modified, sha256, item_id, listed FROM source_files
             WHERE source_id = ? AND path LIKE ? AND listed AND (item_id IS NOT NULL OR sha256 IS NULL)`,
            [to, shift, phone.id, below(at)],
          );
        else
          await moved
            .where('path', 'like', below(at))
            .update({ path: trx.raw('CONCAT(?, SUBSTRING(path, ?))', [to, shift]) });
        return null;
      }
      if (!copies) {
        await moved.where('id', found!.id).update({ path: to });
        return null;
      }
      const { library_id, id: source_id } = phone;
      const { bytes, modified, sha256, item_id } = found!;
      const [id] = await trx('source_files').insert({
        library_id,
        source_id,
        path: to,
        bytes,
        modified,
        sha256,
        item_id,
        listed: true,
      });
      return id!;
    });
    // Only once the listing says so: a file whose name was not taken after all is still waited for.
    for (const id of replaced) await discard(heldFile(app, id));
    if (!folder) {
      const id = copy ?? found!.id;
      if (copy !== null) await copyFile(heldFile(app, found!.id), heldFile(app, copy)).catch(() => undefined);
      const held = heldFile(app, id);
      if (!found!.item_id && found!.sha256 && !HALF.test(to) && (await stat(held).catch(() => null)))
        await takeUp(app, phone, to, held, {
          bytes: Number(found!.bytes),
          modified: Number(found!.modified),
          sha256: found!.sha256,
        });
      else if (found!.item_id && !copies) await renamed(phone, found!.item_id, at, to);
    }
    return answer(old ? 204 : 201);
  }

  /** A picture that came under a name its application gave it for the time being takes the name it gets. */
  async function renamed(phone: Phone, item: number, at: string, to: string): Promise<void> {
    const [was, is] = [at, to].map((one) => one.slice(one.lastIndexOf('/') + 1)) as [string, string];
    if (was === is || HALF.test(to)) return;
    await db('batch_items')
      .where('id', item)
      .whereIn('state', ['waiting', 'received'])
      .update({ path: `${phone.name}/${to}` });
    const row = await db('batch_items as i')
      .join('pictures as p', 'p.id', 'i.picture_id')
      .where({ 'i.id': item, 'i.state': 'stored' })
      .whereNull('p.original_name')
      .first('p.id', 'p.name');
    if (!row || (row.name !== was && row.name !== withoutTail(was))) return;
    const name = withoutTail(is);
    await db.transaction(async (trx) => {
      await trx('pictures').where({ id: row.id, name: row.name }).update({ name });
      await readAgain(trx, phone.library_id, [row.id]);
    });
    await ask(db, phone.library_id, 'refile', 0, 1000);
    app.changed(phone.library_id, 'pictures');
  }

  /** Properties of a client's own are not kept, and that is said (RFC 4918, 9.2). */
  async function keepNoProperty(phone: Phone, at: string): Promise<Response> {
    return multistatus([{ 'd:href': hrefOf(phone.slug, at), 'd:status': 'HTTP/1.1 403 Forbidden' }]);
  }

  http.all('/dav/:device', handle);
  http.all('/dav/:device/*', handle);
}
