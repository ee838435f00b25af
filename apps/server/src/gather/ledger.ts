import { standing, type LedgerFile } from '@gemmel/core';
import type { LedgerEntry } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { notFound } from '../problem';
import { listing } from './listing';
import type { Source } from './sources';

interface Kept {
  device_id: number;
  name: string;
  taken: string | null;
  proven: number;
  way: string | null;
}

const iso = (utc: string | null) => (utc ? `${utc.replace(' ', 'T')}Z` : null);
const local = (at: string | null) => at?.replace(' ', 'T') ?? null;

async function keptFiles(app: App, library: number): Promise<Map<number, LedgerFile[]>> {
  const rows = (await app.db('pictures').where('library_id', library).whereNotNull('device_id').select(
    'device_id',
    app.db.raw('COALESCE(original_name, name) AS name'),
    // A scan's year says nothing of when the scanner made it.
    app.db.raw('IF(taken_certainty >= 0.6, taken_local, NULL) AS taken'),
    app.db.raw('verified_at IS NOT NULL AS proven'),
  )) as Kept[];
  const kept = new Map<number, LedgerFile[]>();
  for (const row of rows) {
    const list = kept.get(row.device_id) ?? [];
    list.push({ name: row.name, taken: local(row.taken), here: Boolean(row.proven) });
    kept.set(row.device_id, list);
  }
  return kept;
}

interface Came {
  last: string | null;
  bytes: number;
}

/** What is in the bin or was: it came in, and somebody has seen it. Its number is not missing, and nothing waits for it. */
async function binnedFiles(app: App, library: number): Promise<Map<number, LedgerFile[]>> {
  const rows = (await app
    .db('binned')
    .where('library_id', library)
    .whereNotNull('device_id')
    .select(
      'device_id',
      'came_as as name',
      app.db.raw('IF(taken_certainty >= 0.6, taken_local, NULL) AS taken'),
    )) as Kept[];
  const binned = new Map<number, LedgerFile[]>();
  for (const row of rows) {
    const list = binned.get(row.device_id) ?? [];
    list.push({ name: row.name, taken: local(row.taken), here: true });
    binned.set(row.device_id, list);
  }
  return binned;
}

/** Pictures that name no camera, by the phone or card they came from: those are the device's, too. */
async function namelessFiles(app: App, library: number): Promise<Map<number, { files: LedgerFile[]; came: Came }>> {
  const rows = (await app
    .db('source_files as f')
    .leftJoin('batch_items as i', 'i.id', 'f.item_id')
    .leftJoin('pictures as s', (on) => on.on('s.library_id', 'f.library_id').andOn('s.sha256', 'f.sha256'))
    .join('pictures as p', (on) =>
      on.on('p.library_id', 'f.library_id').andOn('p.id', app.db.raw('COALESCE(s.id, i.picture_id)')),
    )
    .leftJoin('batches as b', 'b.id', 'p.batch_id')
    .where('f.library_id', library)
    .whereNull('p.device_id')
    .groupBy('f.source_id', 'p.id')
    .select(
      'f.source_id',
      app.db.raw('MIN(f.path) AS name'),
      app.db.raw('IF(p.taken_certainty >= 0.6, p.taken_local, NULL) AS taken'),
      app.db.raw('p.verified_at IS NOT NULL AS proven'),
      'p.bytes',
      'b.created_at as last',
    )) as unknown as (Omit<Kept, 'device_id'> & { source_id: number; bytes: number; last: string | null })[];
  const nameless = new Map<number, { files: LedgerFile[]; came: Came }>();
  for (const row of rows) {
    const of = nameless.get(row.source_id) ?? { files: [], came: { last: null, bytes: 0 } };
    nameless.set(row.source_id, of);
    of.files.push({
      name: row.name.slice(row.name.lastIndexOf('/') + 1),
      taken: local(row.taken),
      here: Boolean(row.proven),
    });
    of.came.bytes += Number(row.bytes);
    if (row.last && row.last > (of.came.last ?? '')) of.came.last = row.last;
  }
  return nameless;
}

/** What devices called pictures that had come in before under other names: their numbers are not missing. */
async function knownFiles(app: App, library: number): Promise<Map<number, LedgerFile[]>> {
  const rows = (await app
    .db('batch_items as i')
    .join('pictures as p', 'p.id', 'i.picture_id')
    .where({ 'i.state': 'known', 'i.role': 'main', 'p.library_id': library })
    .whereNotNull('p.device_id')
    .where('p.taken_certainty', '>=', 0.6)
    .distinct('p.device_id', 'i.path', 'p.taken_local')) as { device_id: number; path: string; taken_local: string }[];
  const known = new Map<number, LedgerFile[]>();
  for (const { device_id, path, taken_local } of rows) {
    const list = known.get(device_id) ?? [];
    list.push({ name: path.slice(path.lastIndexOf('/') + 1), taken: local(taken_local), here: true });
    known.set(device_id, list);
  }
  return known;
}

async function listedOf(app: App, library: number, sources: readonly number[]): Promise<LedgerFile[]> {
  if (sources.length === 0) return [];
  const rows = (await app
    .db('source_files as f')
    .leftJoin('pictures as p', (on) => on.on('p.sha256', 'f.sha256').andOn('p.library_id', 'f.library_id'))
    .leftJoin('picture_files as q', (on) => on.on('q.sha256', 'f.sha256').andOn('q.library_id', 'f.library_id'))
    .leftJoin('batch_items as i', 'i.id', 'f.item_id')
    .leftJoin('pictures as r', 'r.id', 'i.picture_id')
    .where({ 'f.library_id': library, 'f.listed': true })
    .whereIn('f.source_id', sources)
    .select(
      'f.path as name',
      'f.taken_local as taken',
      app.db.raw(`(COALESCE(p.verified_at, q.verified_at, r.verified_at) IS NOT NULL
        OR EXISTS (SELECT 1 FROM binned b WHERE b.library_id = f.library_id AND b.sha256 = f.sha256)
        OR EXISTS (SELECT 1 FROM binned_files b WHERE b.library_id = f.library_id AND b.sha256 = f.sha256)) AS here`),
      app.db.raw("COALESCE(i.state IN ('skipped'), 0) AS nothing"),
    )) as unknown as { name: string; taken: string | null; here: number; nothing: number }[];
  return rows
    .filter((row) => !row.nothing)
    .map((row) => ({ name: row.name, taken: local(row.taken), here: Boolean(row.here) }));
}

/** Pictures of which a second copy was read back, by the device that took them, or the source of those that name none. */
async function copiedFrom(
  { db }: App,
  library: number,
): Promise<{ devices: Map<number, number>; sources: Map<number, number> }> {
  const copied = `EXISTS (SELECT 1 FROM safe_copies c WHERE c.library_id = p.library_id AND c.sha256 = p.sha256 AND c.read_at IS NOT NULL)`;
  const devices = (await db('pictures as p')
    .where('p.library_id', library)
    .whereNotNull('p.device_id')
    .whereRaw(copied)
    .groupBy('p.device_id')
    .select('p.device_id as id', db.raw('COUNT(*) AS n'))) as unknown as { id: number; n: number }[];
  const sources = (await db('source_files as f')
    .join('pictures as p', (on) => on.on('p.library_id', 'f.library_id').andOn('p.sha256', 'f.sha256'))
    .where('f.library_id', library)
    .whereNull('p.device_id')
    .whereRaw(copied)
    .groupBy('f.source_id')
    .select('f.source_id as id', db.raw('COUNT(DISTINCT p.id) AS n'))) as unknown as { id: number; n: number }[];
  const byId = (rows: { id: number; n: number }[]) => new Map(rows.map(({ id, n }) => [id, Number(n)]));
  return { devices: byId(devices), sources: byId(sources) };
}

/** The household's devices: what came in from each, what is stored and proven whole, and up to which day it may be cleared. */
export async function ledger(app: App, library: number): Promise<LedgerEntry[]> {
  const { db } = app;
  const devices = await db('devices').where('library_id', library).orderBy('name').select('id', 'name');
  const sources = (await db('sources').where('library_id', library).whereNull('removed_at').orderBy('id')) as Source[];
  const kept = await keptFiles(app, library);
  const known = await knownFiles(app, library);
  const binned = await binnedFiles(app, library);
  const nameless = await namelessFiles(app, library);
  const settled = await db('settled_gaps').where('library_id', library);
  const cameIn = (await db('pictures as p')
    .leftJoin('batches as b', 'b.id', 'p.batch_id')
    .where('p.library_id', library)
    .whereNotNull('p.device_id')
    .groupBy('p.device_id')
    .select('p.device_id', db.raw('MAX(b.created_at) AS last, SUM(p.bytes) AS bytes'))) as unknown as {
    device_id: number;
    last: string | null;
    bytes: number;
  }[];
  const elsewhere = (await db('safe_places').first('id')) !== undefined;
  const copies = await copiedFrom(app, library);
  const result: LedgerEntry[] = [];
  const shown = async (
    id: number | null,
    name: string,
    mine: readonly Source[],
    named: readonly LedgerFile[],
    came: Came | undefined,
  ) => {
    const more = mine.flatMap((s) => nameless.get(s.id) ?? []);
    const files = [...named, ...more.flatMap((m) => m.files)];
    const looked = mine.filter((s) => s.kind === 'card' && s.listed_at);
    const listed = looked.length
      ? await listedOf(
          app,
          library,
          looked.map((s) => s.id),
        )
      : null;
    const gone = new Set(settled.filter((g) => g.device_id === id).map((g) => g.first_name));
    const seen = id === null ? [] : [...(known.get(id) ?? []), ...(binned.get(id) ?? [])];
    const state = standing([...files, ...seen], listed, gone);
    const seenAt = [came?.last ?? null, ...more.map((m) => m.came.last), ...mine.map((s) => s.seen_at)]
      .filter((at): at is string => at !== null)
      .sort();
    result.push({
      device: id,
      name,
      sources: mine.map((s) => ({
        id: s.id,
        kind: s.kind,
        name: s.name,
        slug: s.slug,
        present: Boolean(s.present),
        lastSeen: iso(s.seen_at),
        listing: listing.get(s.id) ?? null,
      })),
      lastSeen: iso(seenAt[seenAt.length - 1] ?? null),
      cameIn: files.length,
      stored: files.length,
      proven: files.filter((f) => f.here).length,
      copied: elsewhere
        ? (copies.devices.get(id ?? 0) ?? 0) + mine.reduce((sum, s) => sum + (copies.sources.get(s.id) ?? 0), 0)
        : null,
      bytes: more.reduce((sum, m) => sum + m.came.bytes, Number(came?.bytes ?? 0)),
      lookedAt: iso(looked.map((s) => s.listed_at!).sort()[looked.length - 1] ?? null),
      notHere: listed ? listed.filter((f) => !f.here).length : 0,
      clearUntil: state.clearUntil,
      missingSince: state.missingSince,
      gaps: state.gaps.slice(0, 40),
    });
  };
  for (const device of devices) {
    const files = kept.get(device.id) ?? [];
    const mine = sources.filter((s) => s.device_id === device.id);
    if (files.length === 0 && mine.length === 0 && !binned.has(device.id)) continue;
    await shown(
      device.id,
      device.name,
      mine,
      files,
      cameIn.find((c) => c.device_id === device.id),
    );
  }
  for (const source of sources.filter((s) => s.device_id === null))
    await shown(null, source.name, [source], [], undefined);
  return result;
}

/** Says that missing numbers of a device are gone and not to be waited for. `firsts` are the first name of each gap. */
export const settleGaps = (
  app: App,
  by: By,
  device: number,
  firsts: readonly string[],
): Promise<{ act: number | null }> =>
  perform(app, by, 'settle gaps', async ({ trx, library, hold, words }) => {
    const row = await trx('devices').where({ id: device, library_id: library }).first('name');
    if (!row) throw notFound('device');
    await hold('settled_gaps', [device]);
    await trx('settled_gaps')
      .insert(firsts.map((first_name) => ({ library_id: library, device_id: device, first_name })))
      .onConflict(['library_id', 'device_id', 'first_name'])
      .ignore();
    words({ name: row.name, n: firsts.length });
  });

/** Gives a device the name the household uses for it. */
export const nameDevice = (app: App, by: By, device: number, name: string): Promise<{ act: number | null }> =>
  perform(app, by, 'name device', async ({ trx, library, hold, words }) => {
    const [row] = await hold('devices', [device]);
    if (!row) throw notFound('device');
    await trx('devices').where({ id: device, library_id: library }).update({ name });
    words({ name: String(row['name']), to: name });
  });
