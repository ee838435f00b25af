import { plural, t } from '@lingui/core/macro';
import { existsSync } from 'node:fs';
import { chmod, mkdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { createInterface } from 'node:readline';
import { CannotStart } from '../cannotStart';
import { addressOf, makeTables, startMariadb } from '../db/mariadb';
import { openDb } from '../db/open';
import { runningOn } from '../running';
import { secretsOf } from '../secrets';
import { clearAway } from './rehearse';
import { loadDump } from './load';
import { libraryOfState } from '../keep/fromState';
import { bringBack, restic, ResticError, resticJson, snapshotsOf, type Snapshot, type Way } from './restic';
import { ABOUT, DUMP } from './still';
import { filesBelow } from '../vault/below';

/** What somebody at the command line wants back. */
export interface Restoring {
  /** A folder, `https://host/bucket/folder`, or `name@host:port/path`. */
  from: string;
  /** The data folder that is to hold it. */
  data: string;
  /** The day whose state is wanted, `YYYY-MM-DD`, or the beginning of a state’s own name; the latest when left out. */
  state?: string | undefined;
  /** Whether what lies in the data folder may be put aside. */
  over: boolean;
  /** Says only what would happen. */
  dryRun: boolean;
}

/** How restic reaches a place from nothing but its address: with the keys of whoever sits at the machine. */
function wayFrom(from: string, phrase: string, folder: string, env: NodeJS.ProcessEnv = process.env): Way {
  const base: Record<string, string> = { RESTIC_PASSWORD: phrase };
  if (/^https?:\/\//.test(from)) {
    for (const name of ['AWS_ACCESS_KEY_ID', 'AWS_SECRET_ACCESS_KEY', 'AWS_DEFAULT_REGION'])
      if (env[name]) base[name] = env[name];
    return { repository: `s3:${from}`, env: base, options: [], folder };
  }
  const [, who, port, at] = /^([^\s:/]+@[^\s:/]+)(?::(\d+))?(\/.*)$/.exec(from) ?? [];
  if (who && at) {
    for (const name of ['SSH_AUTH_SOCK', 'HOME']) if (env[name]) base[name] = env[name];
    return { repository: port ? `sftp://${who}:${port}/${at}` : `sftp:${who}:${at}`, env: base, options: [], folder };
  }
  return { repository: path.resolve(from), env: base, options: [], folder };
}

/** The pass phrase: from `GEMMEL_PHRASE`, or asked for. What is typed is not shown. */
async function phraseFor(env: NodeJS.ProcessEnv = process.env): Promise<string> {
  if (env['GEMMEL_PHRASE']) return env['GEMMEL_PHRASE'];
  process.stdout.write(t`Pass phrase (it stands on the recovery sheet): `);
  const asked = createInterface({
    input: process.stdin,
    output: process.stdin.isTTY ? process.stdout : undefined,
    terminal: process.stdin.isTTY,
  });
  if (process.stdin.isTTY)
    (asked as unknown as { _writeToOutput: (text: string) => void })._writeToOutput = () => undefined;
  try {
    return await new Promise<string>((resolve) => {
      asked.once('line', (line) => resolve(line.trim()));
      asked.once('close', () => resolve(''));
    });
  } finally {
    asked.close();
    process.stdout.write('\n');
  }
}

/** Files below a folder, however deep, with the latest moment one was written; the database's own are not counted. */
async function filesIn(folder: string): Promise<{ files: number; bytes: number; latest: number }> {
  const sum = { files: 0, bytes: 0, latest: 0 };
  for (const { bytes, modified } of (await filesBelow(folder, (way) => way === 'db')).values()) {
    sum.files++;
    sum.bytes += bytes;
    sum.latest = Math.max(sum.latest, modified);
  }
  return sum;
}

const dayOf = (at: number | string): string => new Date(at).toISOString().slice(0, 16).replace('T', ' ');

/** The state that is meant. */
function chosen(all: readonly Snapshot[], state: string | undefined): Snapshot {
  const found = state
    ? all.filter(({ id, time }) => id.startsWith(state) || time.slice(0, 10) <= state).at(-1)
    : all.at(-1);
  if (found && (!state || !/^\d{4}-/.test(state) || found.time.slice(0, 10) <= state)) return found;
  throw new CannotStart(
    all.length
      ? t`There is no such state. There are: ${all.map(({ time }) => time.slice(0, 10)).join(', ')}.`
      : t`There is nothing in that place yet.`,
  );
}

const say = (line: string): void => void console.log(line);

/** How many files the state has that is being brought back; 0 while that is not known, or only half written. */
const filesOfState = (folder: string): Promise<number> =>
  readFile(path.join(folder, ABOUT), 'utf8')
    .then((about) => (JSON.parse(about) as { files?: number }).files ?? 0)
    .catch(() => 0);

/** Says how far bringing back is, while it lasts: n of m, per cent, once the state has said how many files it has. */
function telling(folder: string): () => void {
  let of = 0;
  let looked = 0;
  const timer = setInterval(() => {
    void (async () => {
      of ||= await filesOfState(folder);
      if (++looked % 10 !== 0 || of === 0) return;
      const { files } = await filesIn(folder);
      if (files < of) say(t`  ${files} of ${of} files, ${Math.floor((files / of) * 100)} %`);
    })();
  }, 500);
  timer.unref();
  return () => clearInterval(timer);
}

/** What restic’s refusal means for somebody who stands before a fresh machine. */
function sentenceOf(error: unknown, from: string): unknown {
  if (!(error instanceof ResticError)) return error;
  switch (error.fault) {
    case 'wrong-phrase':
      return new CannotStart(t`That is not the pass phrase of this backup. Nothing has been changed.`);
    case 'nothing-there':
      return new CannotStart(t`There is no backup at ${from}. Is the disk there, and the address right?`);
    case 'full':
      return new CannotStart(t`There is not enough space here for all of it. Make space and start again.`);
    default:
      return new CannotStart(t`That place can’t be read: ${error.said.split('\n').pop()!}`);
  }
}

/** What of a state is needed before all else: the database, what opens it, and how many files there are. */
const FIRST = [`/${DUMP}`, '/secrets.json', `/${ABOUT}`];

/** Does two things at once; when one fails, the other is ended, too, before that is said. Answers what the second did. */
async function together<T>(
  one: (signal: AbortSignal) => Promise<void>,
  two: (signal: AbortSignal) => Promise<T>,
): Promise<T> {
  const failed = new AbortController();
  const ending = <R>(work: Promise<R>) =>
    work.catch((error: unknown) => {
      failed.abort(error);
      throw error;
    });
  const [, second] = await Promise.allSettled([ending(one(failed.signal)), ending(two(failed.signal))]);
  failed.signal.throwIfAborted();
  return (second as PromiseFulfilledResult<T>).value;
}

/**
 * Brings everything back onto this machine: into a folder beside the data folder first, with a database of its own, and only when that is
 * whole in one step into its place. What lies there is never overwritten: it is put aside when that was asked for. Ended anywhere, it
 * can be begun again.
 */
export async function restoreAll({ from, data, state, over, dryRun }: Restoring): Promise<void> {
  if (await runningOn(data)) throw new CannotStart(t`Gemmel is running on ${data}. Stop it first: ./gemmel stop`);
  const folder = `${data}.restoring`;
  const way = wayFrom(from, await phraseFor(), `${data}.restoring-notes`);
  try {
    await clearAway(folder);
    const snapshot = chosen(await snapshotsOf(way, { gentle: false }), state);
    const here = await filesIn(path.join(data, 'vault'));
    const there = here.files > 0 || existsSync(path.join(data, 'db'));
    say(t`The backup shows everything as it was on ${dayOf(snapshot.time)}.`);
    if (there || dryRun) {
      const { total_file_count: files } = await resticJson<{ total_file_count: number }>(
        way,
        ['stats', '--no-lock', '--mode', 'restore-size', snapshot.id],
        { gentle: false },
      );
      say(t`It holds ${files} files.`);
    }
    if (there) {
      say(
        t`In ${data} there are ${here.files} files already, the last written ${here.latest ? dayOf(here.latest) : '–'}.`,
      );
      if (here.latest > Date.parse(snapshot.time))
        say(t`That is newer than the backup: what came since would no longer be there.`);
      if (!over) {
        if (dryRun) return;
        throw new CannotStart(
          t`Nothing has been changed. To go on, add --over: the folder is then put aside under another name, and nothing in it is removed.`,
        );
      }
    }
    if (dryRun) return;
    await mkdir(folder, { recursive: true, mode: 0o700 });
    const pictures = await together(
      async (signal) => {
        const done = telling(folder);
        try {
          const rest = FIRST.flatMap((at) => ['--exclude', at]);
          await restic(way, ['restore', snapshot.id, '--no-lock', '--target', folder, ...rest], {
            gentle: false,
            signal,
          });
        } finally {
          done();
        }
      },
      // The database comes first: it is read while the originals follow.
      (signal) => bringUp(folder, bringBack(way, snapshot.id, FIRST, folder, { gentle: false, signal }), signal),
    );
    await chmod(folder, 0o700);
    if (there || existsSync(data)) {
      const aside = `${data}.before-${new Date().toISOString().slice(0, 19).replace(/[:T]/g, '-')}`;
      if (there) say(t`What was here is now in ${aside}.`);
      await rename(data, aside);
    }
    await mkdir(path.dirname(data), { recursive: true });
    await rename(folder, data);
    say(
      plural(pictures, {
        one: '# picture is back. Start with: ./gemmel start',
        other: '# pictures are back. Start with: ./gemmel start',
      }),
    );
  } catch (error) {
    throw sentenceOf(error, from);
  } finally {
    await rm(way.folder, { recursive: true, force: true });
  }
}

/** What somebody wants of a place beside all of it: one library, opened beside what is here; or the words of all of them alone. */
export interface RestoringPart {
  from: string;
  data: string;
  state?: string | undefined;
}

/** Does something with one state of a place, named by its address. */
async function withState<T>(
  { from, data, state }: RestoringPart,
  act: (way: Way, snapshot: Snapshot) => Promise<T>,
): Promise<T> {
  const way = wayFrom(from, await phraseFor(), `${data}.restoring-notes`);
  try {
    const snapshot = chosen(await snapshotsOf(way, { gentle: false }), state);
    say(t`The backup shows everything as it was on ${dayOf(snapshot.time)}.`);
    return await act(way, snapshot);
  } catch (error) {
    throw sentenceOf(error, from);
  } finally {
    await rm(way.folder, { recursive: true, force: true });
  }
}

/** Brings one library of a place back into a folder, as an exported one; `slug` is what its folder was called. */
export const bringLibrary = (what: RestoringPart, slug: string, folder: string): Promise<void> =>
  withState(what, async (way, { id }) => {
    await rm(folder, { recursive: true, force: true });
    await libraryOfState(way, id, slug, folder);
  });

/**
 * Puts what people said back as it was in a state, for all libraries, without touching an original: their books are brought back, and the
 * database is made of them. What is here now is put aside.
 */
export const bringWords = (what: RestoringPart): Promise<void> =>
  withState(what, async (way, { id }) => {
    const { data } = what;
    const folder = `${data}.restoring`;
    await clearAway(folder);
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await bringBack(way, id, ['/said'], folder, { gentle: false });
    if (!existsSync(path.join(folder, 'said'))) throw new CannotStart(t`There are no books in this state.`);
    const aside = path.join(data, `said.before-${new Date().toISOString().slice(0, 19).replace(/[:T]/g, '-')}`);
    if (existsSync(path.join(data, 'said'))) await rename(path.join(data, 'said'), aside);
    await rename(path.join(folder, 'said'), path.join(data, 'said'));
    await rm(folder, { recursive: true, force: true });
  });

/** While a database is filled that nobody uses yet, nothing of it need survive a cut: it is written out when its server ends. */
const FILLING = ['innodb_flush_log_at_trx_commit=0', 'innodb_doublewrite=0'];

/**
 * Makes the database of what is being brought back, and notes what is to be done at the first start: its tables are made while `first` comes,
 * which is what it is made of. Answers how many pictures there are.
 */
async function bringUp(folder: string, first: Promise<void>, signal: AbortSignal): Promise<number> {
  const base = path.join(folder, 'db');
  const dump = path.join(folder, DUMP);
  const tables = makeTables(base);
  await Promise.allSettled([first, tables]);
  await first;
  await tables;
  if (!existsSync(dump)) throw new CannotStart(t`There is no database in this state.`);
  const secrets = secretsOf(folder);
  const mariadb = await startMariadb(base, secrets.db, () => undefined, FILLING);
  const address = addressOf(base, secrets.db);
  try {
    await loadDump(address, dump, signal);
    const db = openDb(address, 2);
    try {
      // What was brought back is read back: nothing is believed. Small pictures are made again.
      for (const table of ['pictures', 'picture_files', 'binned_files'])
        await db(table).whereNull('broken_at').update({ verified_at: null });
      await db('jobs').where('state', 'running').update({ state: 'ready', taken_by: null });
      // All of it lies in the vault here, whatever disks it lay on.
      if (await db.schema.hasColumn('libraries', 'home')) await db('libraries').update({ home: null });
      for (const { id } of await db('libraries').select('id'))
        for (const [kind, priority] of [
          ['verify', 8],
          ['derive', 7],
        ] as const)
          await db.raw('INSERT IGNORE INTO jobs (library_id, kind, about, priority) VALUES (?, ?, 0, ?)', [
            id,
            kind,
            priority,
          ]);
      const [{ n }] = (await db('pictures').count('* as n')) as unknown as [{ n: number }];
      return Number(n);
    } finally {
      await db.destroy();
    }
  } finally {
    await mariadb.stop();
    for (const file of [dump, path.join(folder, ABOUT)]) await rm(file, { force: true });
  }
}
