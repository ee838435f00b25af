import type { NewSafePlace, SafePlaceChange } from '@gemmel/contract';
import { execFile } from 'node:child_process';
import { mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { cancel } from '../jobs/jobs';
import { notFound, refused } from '../problem';
import { seal, unseal } from '../share/links';
import { hashFile } from '../vault/vault';
import { newPhrase } from './phrase';
import { ResticError, resticJson, restic, type Way } from './restic';
import { dropStill } from './still';

const run = promisify(execFile);

/** What a place asks for and nobody else may know. */
interface PlaceSecrets {
  phrase: string;
  /** Of a bucket. */
  access?: string | undefined;
  secret?: string | undefined;
  region?: string | undefined;
  /** Our own key for another machine, as OpenSSH writes it. */
  key?: string | undefined;
}

/** Where what belongs to a place lies on this machine: nothing that could not be made again. */
export const folderOf = (app: App, place: number): string => path.join(app.config.data, 'safe', String(place));

/** The library whose keepers look after the safekeeping of the whole house: the one that was there first. */
export async function houseLibrary({ db }: App): Promise<number> {
  return (await db('libraries').min({ id: 'id' }).first())!['id'] as number;
}

/** Refuses whoever does not look after the whole house. */
export async function houseOnly(app: App, library: number): Promise<void> {
  if ((await houseLibrary(app)) !== library) throw refused('not-the-house');
}

/** A place by its number. */
export async function placeRow({ db }: App, id: number): Promise<SafePlacesRow> {
  const row = await db('safe_places').where('id', id).first();
  if (!row) throw notFound('safe-place');
  return row;
}

export function secretsIn(app: App, row: Pick<SafePlacesRow, 'sealed'>): PlaceSecrets {
  const open = unseal(app, row.sealed);
  if (open === null) throw refused('safe-secrets-lost');
  return JSON.parse(open) as PlaceSecrets;
}

/** `name@host:port/path` in its parts. */
export function machineIn(location: string): { who: string; port: number; at: string } {
  const [, who, port, at] = /^([^\s:/]+)(?::(\d+))?(\/.*)$/.exec(location) ?? [];
  if (!who || !at || who.startsWith('-')) throw refused('safe-address', { address: location });
  return { who, port: Number(port ?? 22), at };
}

/** Between quotes for restic, which takes its own arguments apart as a shell would. */
const quoted = (text: string): string => `'${text.replace(/'/g, `'\\''`)}'`;

/** How restic reaches a place. Writes what SSH reads from files. */
export async function wayTo(
  app: App,
  row: Pick<SafePlacesRow, 'id' | 'kind' | 'location' | 'host_key' | 'sealed' | 'kilobytes'>,
): Promise<Way> {
  const { phrase, access, secret, region, key } = secretsIn(app, row);
  const folder = folderOf(app, row.id);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const limits = row.kilobytes
    ? ['--limit-upload', String(row.kilobytes), '--limit-download', String(row.kilobytes)]
    : [];
  const env: Record<string, string> = { RESTIC_PASSWORD: phrase };
  if (row.kind === 'folder') return { repository: row.location, env, options: limits, folder };
  if (row.kind === 'bucket')
    return {
      repository: `s3:${row.location}`,
      env: {
        ...env,
        AWS_ACCESS_KEY_ID: access ?? '',
        AWS_SECRET_ACCESS_KEY: secret ?? '',
        ...(region ? { AWS_DEFAULT_REGION: region } : {}),
      },
      options: limits,
      folder,
    };
  const { who, port, at } = machineIn(row.location);
  const [keyFile, hosts] = [path.join(folder, 'key'), path.join(folder, 'known_hosts')];
  await writeFile(keyFile, key ?? '', { mode: 0o600 });
  await writeFile(hosts, `${row.host_key ?? ''}\n`, { mode: 0o600 });
  const ssh = [
    'ssh',
    ...['-p', String(port), '-i', quoted(keyFile), '-F', '/dev/null'],
    ...[
      'IdentitiesOnly=yes',
      'BatchMode=yes',
      'StrictHostKeyChecking=yes',
      'ConnectTimeout=15',
      'ServerAliveInterval=20',
    ].flatMap((option) => ['-o', option]),
    ...['-o', quoted(`UserKnownHostsFile=${hosts}`)],
    quoted(who),
    ...['-s', 'sftp'],
  ].join(' ');
  return {
    repository: `sftp:${who}:${at}`,
    env,
    options: ['-o', `sftp.command=${ssh}`, ...limits],
    folder,
  };
}

/** A new key of our own for another machine: what is kept, and the line its keeper lets in. */
async function newKey(app: App): Promise<{ key: string; line: string }> {
  const folder = path.join(app.config.data, 'safe');
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const file = path.join(folder, `new-key-${process.pid}-${Date.now()}`);
  try {
    await run('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-C', 'gemmel', '-f', file]);
    return { key: await readFile(file, 'utf8'), line: (await readFile(`${file}.pub`, 'utf8')).trim() };
  } finally {
    await rm(file, { force: true });
    await rm(`${file}.pub`, { force: true });
  }
}

/** The line that another machine must let in, of a key that is kept. */
export async function keyLine(app: App, row: SafePlacesRow): Promise<string | null> {
  const { key } = secretsIn(app, row);
  if (!key) return null;
  await wayTo(app, row);
  return (await run('ssh-keygen', ['-y', '-f', path.join(folderOf(app, row.id), 'key')])).stdout.trim();
}

/** What a machine shows of itself, as known_hosts writes it. */
async function hostKeyOf(location: string): Promise<string> {
  const { who, port } = machineIn(location);
  const host = who.split('@').pop()!;
  const { stdout } = await run('ssh-keyscan', ['-T', '10', '-t', 'ed25519', '-p', String(port), host]).catch(() => ({
    stdout: '',
  }));
  const line = stdout.split('\n').find((one) => one && !one.startsWith('#'));
  if (!line) throw refused('safe-away');
  return line.trim();
}

/** The fingerprint of what a machine shows of itself, as its keeper can read it there (ssh-keygen -l). */
export async function fingerprintOf(app: App, row: SafePlacesRow): Promise<string | null> {
  if (!row.host_key) return null;
  const file = path.join(folderOf(app, row.id), 'known_hosts');
  await wayTo(app, row);
  return (await run('ssh-keygen', ['-l', '-f', file])).stdout.split(' ')[1] ?? null;
}

/** A folder that is to hold a copy: there, empty or already a backup of ours, and not within what it is to keep. */
async function refuseFolder(app: App, location: string): Promise<void> {
  if (!path.isAbsolute(location)) throw refused('safe-address', { address: location });
  const inside = path.relative(app.config.data, path.resolve(location));
  if (!inside.startsWith('..') && !path.isAbsolute(inside)) throw refused('safe-within');
  if (!(await stat(path.dirname(location)).catch(() => null))?.isDirectory())
    throw refused('safe-no-folder', { folder: path.dirname(location) });
}

/** Puts a restic fault into a refusal that whoever sets the place up can act on. */
function refusalOf(error: unknown): unknown {
  if (!(error instanceof ResticError)) return error;
  switch (error.fault) {
    case 'wrong-phrase':
      return refused('safe-wrong-phrase');
    case 'full':
      return refused('safe-full');
    case 'away':
    case 'nothing-there':
      return refused('safe-away');
    default:
      return refused('safe-refused', { why: error.said.split('\n').pop()!.slice(0, 200) });
  }
}

/** Which repository a place holds; null when there is none. */
export async function repositoryAt(way: Way, signal?: AbortSignal): Promise<string | null> {
  try {
    const { id } = await resticJson<{ id: string }>(way, ['cat', 'config', '--no-lock'], { signal, gentle: false });
    return id;
  } catch (error) {
    if (error instanceof ResticError && error.fault === 'nothing-there') return null;
    throw error;
  }
}

/** Adds a place. For another machine the key is made and nothing is asked of it yet: its keeper must let the key in first. */
export async function addPlace(app: App, library: number, wish: NewSafePlace): Promise<number> {
  await houseOnly(app, library);
  const { kind, name, often, hour } = wish;
  const location = wish.location.trim();
  if (kind === 'folder') await refuseFolder(app, location);
  if (kind === 'bucket' && !/^https?:\/\/[^/\s]+\/[^/\s]+/.test(location))
    throw refused('safe-address', { address: location });
  if (kind === 'machine') machineIn(location);
  const secrets: PlaceSecrets = {
    phrase: wish.phrase ?? newPhrase(),
    ...(kind === 'bucket' ? { access: wish.access, secret: wish.secret, region: wish.region } : {}),
    ...(kind === 'machine' ? { key: (await newKey(app)).key } : {}),
  };
  const host_key = kind === 'machine' ? await hostKeyOf(location) : null;
  const [id] = (await app.db('safe_places').insert({
    library_id: library,
    kind,
    name,
    location,
    host_key,
    often,
    hour,
    sealed: seal(app, JSON.stringify(secrets)),
  })) as [number];
  if (kind !== 'machine')
    try {
      await openPlace(app, await placeRow(app, id));
    } catch (error) {
      await removePlace(app, library, id);
      throw error;
    }
  app.changed(library, 'safe');
  return id;
}

/**
 * Opens the repository of a place: one that is there is taken with its phrase, else a new one is begun, but only the first time. Once a
 * place is known, an empty folder in its stead is a disk that is not there.
 */
export async function openPlace(app: App, row: SafePlacesRow, signal?: AbortSignal): Promise<Way> {
  const way = await wayTo(app, row);
  // Restic asks for seconds of reckoning before it opens anything: a folder that is known by its own file is not asked.
  const config =
    row.kind === 'folder' ? () => hashFile(path.join(row.location, 'config')).catch(() => null) : async () => null;
  if (row.repository !== null && row.config_hash && (await config())?.equals(row.config_hash)) {
    await seen(app, row, true);
    return way;
  }
  try {
    let id = await repositoryAt(way, signal);
    if (row.repository === null) {
      if (id === null) {
        if (row.kind === 'folder') await mkdir(row.location, { recursive: true, mode: 0o700 });
        await restic(way, ['init'], { signal, gentle: false });
        id = await repositoryAt(way, signal);
      }
      await app.db('safe_places').where({ id: row.id }).whereNull('repository').update({ repository: id });
    } else if (id === null) throw new ResticError('nothing-there', '');
    else if (id !== row.repository) throw refused('safe-another');
  } catch (error) {
    const away = error instanceof ResticError && (error.fault === 'away' || error.fault === 'nothing-there');
    if (away && !signal?.aborted) await seen(app, row, false);
    throw refusalOf(error);
  }
  const config_hash = await config();
  if (config_hash) await app.db('safe_places').where('id', row.id).update({ config_hash });
  await seen(app, row, true);
  return way;
}

/** Notes whether a place answers. */
export async function seen(
  app: App,
  row: Pick<SafePlacesRow, 'id' | 'library_id' | 'there'>,
  there: boolean,
): Promise<void> {
  await app
    .db('safe_places')
    .where('id', row.id)
    .update({ there, ...(there ? { seen_at: app.db.raw('UTC_TIMESTAMP(3)') } : {}) });
  if (Boolean(row.there) !== there) app.changed(row.library_id, 'safe');
}

/** Changes how a place is looked after. Its phrase and where it is stay. */
export async function changePlace(app: App, library: number, id: number, change: SafePlaceChange): Promise<void> {
  await houseOnly(app, library);
  const set = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
  const done = Object.keys(set).length ? await app.db('safe_places').where({ id, library_id: library }).update(set) : 1;
  if (!done) throw notFound('safe-place');
  app.changed(library, 'safe');
}

/** Looks after a place no longer. What it holds stays there, and opens with its phrase. */
export async function removePlace(app: App, library: number, id: number): Promise<void> {
  await houseOnly(app, library);
  for (const kind of ['backup', 'rehearse', 'safePart'] as const) await cancel(app.db, library, kind, id);
  if (!(await app.db('safe_places').where({ id, library_id: library }).delete())) throw notFound('safe-place');
  await dropStill(app, id);
  await rm(folderOf(app, id), { recursive: true, force: true });
  app.changed(library, 'safe', 'library');
}
