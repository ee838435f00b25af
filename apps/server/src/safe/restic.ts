import { spawn, type ChildProcess } from 'node:child_process';
import { mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { createInterface } from 'node:readline';
import { stepBack } from '../apart/behind';
import { beganAt } from '../running';

/** How restic reaches a repository: where it is, what it is told in its environment, and further options. */
export interface Way {
  repository: string;
  /** The pass phrase and keys: in the environment, where only this user can read them, and never among the arguments. */
  env: Record<string, string>;
  options: readonly string[];
  /** Where restic keeps what it may forget, and where files are brought back to be looked at. */
  folder: string;
}

/** Why restic did not do something. */
export type ResticFault = 'nothing-there' | 'wrong-phrase' | 'full' | 'locked' | 'away' | 'damaged' | 'other';

/** Restic said no. `some` is that it did its work except for some files (its exit code 3). */
export class ResticError extends Error {
  constructor(
    readonly fault: ResticFault,
    /** The end of what it said. */
    readonly said: string,
    readonly some = false,
  ) {
    super(said || `restic: ${fault}`);
  }
}

/** What its own words mean; they are not said by codes in the versions that Debian has. */
const FAULTS: readonly [RegExp, ResticFault][] = [
  [/wrong password or no key found/i, 'wrong-phrase'],
  [/no space left on device|EDQUOT|quota exceeded/i, 'full'],
  [/already locked|unable to create lock/i, 'locked'],
  [
    /unable to open config file|Is there a repository at the following location|does not exist|no such file or directory|NoSuchKey|NoSuchBucket/i,
    'nothing-there',
  ],
  [
    /connection refused|no such host|timed? ?out|unreachable|network is|Host key verification failed|Permission denied \(|connection reset|ssh command exited|unable to start the sftp session|Access ?Denied|SignatureDoesNotMatch/i,
    'away',
  ],
  [
    /ciphertext verification failed|hash (mismatch|does not match)|not found in (the )?index|damaged|contains (\d+ )?errors/i,
    'damaged',
  ],
];

const faultIn = (said: string): ResticFault => FAULTS.find(([pattern]) => pattern.test(said))?.[1] ?? 'other';

/** How much of what it says beside its answers is kept, in characters. */
const MOST_SAID = 60_000;
/** What has a command take what others leave of processors and disks. */
const GENTLY = ['nice', '-n', '10', 'ionice', '-c', '3'] as const;
/** How a program ends that was to run another which is not there. */
const NOT_FOUND = 127;
/** How often it is looked whether it is to pause, in ms. */
const LOOK = 1500;

export interface Doing {
  cwd?: string;
  /** Ends it: as somebody at its keyboard would, so that it takes its lock away. */
  signal?: AbortSignal | undefined;
  /** Hears each line of its answer. */
  line?: (line: string) => void;
  /** Hears what it says beside its answer. */
  aside?: (text: string) => void;
  /** Whether it is to hold still for now. */
  paused?: () => Promise<boolean>;
  /** Pictures come before copies of them: it runs when others leave time. */
  gentle?: boolean;
}

/** What a folder for files that are brought back is called: by the process it belongs to, which may have ended. */
const TRIAL = /^back-(\d+)-/;

/** A folder of its own below a place's, for files that are brought back and looked at. */
export async function ownFolder(way: Pick<Way, 'folder'>): Promise<string> {
  await mkdir(way.folder, { recursive: true, mode: 0o700 });
  return mkdtemp(path.join(way.folder, `back-${process.pid}-`));
}

/** Removes the folders below a place's whose processes were ended before they had removed them. */
export async function tidyFolder(folder: string): Promise<void> {
  for (const name of await readdir(folder).catch(() => [])) {
    const [, owner] = TRIAL.exec(name) ?? [];
    if (owner && Number(owner) !== process.pid && beganAt(Number(owner)) === null)
      await rm(path.join(folder, name), { recursive: true, force: true });
  }
}

/** Holds a process still while it is asked to, until the answer's function is called. */
function pausing(child: ChildProcess, paused: () => Promise<boolean>): () => void {
  let still = false;
  const look = setInterval(() => {
    void paused()
      .catch(() => still)
      .then((now) => {
        if (now === still || child.exitCode !== null) return;
        still = now;
        child.kill(now ? 'SIGSTOP' : 'SIGCONT');
      });
  }, LOOK);
  return () => clearInterval(look);
}

/**
 * Runs restic and waits for its end. However this process ends, the system ends restic as well (prctl(2), PR_SET_PDEATHSIG), so that it does
 * not write on while another begins.
 * @throws {@link ResticError} when it says no, and what aborted `signal` when that ended it.
 */
export async function restic(way: Way, args: readonly string[], doing: Doing = {}): Promise<void> {
  const { cwd, signal, line, aside, paused, gentle = true } = doing;
  signal?.throwIfAborted();
  await mkdir(way.folder, { recursive: true });
  const child = spawn(
    'setpriv',
    ['--pdeathsig', 'KILL', ...(gentle ? GENTLY : []), 'restic', ...way.options, ...args],
    {
      cwd: cwd ?? way.folder,
      env: {
        PATH: process.env['PATH'],
        HOME: way.folder,
        TMPDIR: process.env['TMPDIR'],
        LC_ALL: 'C.UTF-8',
        RESTIC_REPOSITORY: way.repository,
        RESTIC_CACHE_DIR: path.join(way.folder, 'cache'),
        RESTIC_PROGRESS_FPS: '2',
        ...way.env,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
      // A session of its own, which can step back behind others.
      detached: gentle,
    },
  );
  if (gentle && child.pid) stepBack(child.pid);
  const ended = new Promise<number>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', (code) =>
      code === NOT_FOUND
        ? reject(new ResticError('other', 'restic is not installed: apt-get install restic'))
        : resolve(code ?? -1),
    );
  });
  let said = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => {
    said = (said + text).slice(-MOST_SAID);
    aside?.(text);
  });
  const lines = createInterface({ input: child.stdout });
  lines.on('line', (text) => {
    line?.(text);
    if (!line) said = `${said}${text}\n`.slice(-MOST_SAID);
  });
  const stop = () => {
    child.kill('SIGCONT');
    child.kill('SIGINT');
    // One that does not listen is ended.
    setTimeout(() => child.exitCode === null && child.kill('SIGKILL'), 10_000).unref();
  };
  signal?.addEventListener('abort', stop, { once: true });
  if (signal?.aborted) stop();
  const rest = paused ? pausing(child, paused) : () => undefined;
  try {
    const code = await ended;
    signal?.throwIfAborted();
    if (code !== 0) throw new ResticError(faultIn(said), said.trim(), code === 3);
  } finally {
    rest();
    signal?.removeEventListener('abort', stop);
  }
}

/** What restic answers as one piece of JSON. */
export async function resticJson<T>(way: Way, args: readonly string[], doing: Doing = {}): Promise<T> {
  const lines: string[] = [];
  await restic(way, args.includes('--json') ? args : [...args, '--json'], {
    ...doing,
    line: (line) => lines.push(line),
  });
  return JSON.parse(lines.join('\n')) as T;
}

/** A state that a repository holds. */
export interface Snapshot {
  id: string;
  time: string;
  tags?: string[];
}

/** The states a repository holds, oldest first. */
export async function snapshotsOf(way: Way, doing: Doing = {}): Promise<Snapshot[]> {
  const all = (await resticJson<Snapshot[] | null>(way, ['snapshots', '--no-lock', '--tag', TAG], doing)) ?? [];
  return all.sort((a, b) => Date.parse(a.time) - Date.parse(b.time));
}

/** What marks our states, and the name they are kept under whatever machine they come from. */
export const TAG = 'gemmel';
export const HOST = 'gemmel';

/** A path as a pattern of restic's that means this path alone (Go's filepath.Match). */
export const exactly = (at: string): string => at.replace(/[\\*?[\]]/g, (c) => `\\${c}`);

/** Brings paths of a state back below a folder; missing ones are simply not there afterwards. */
export async function bringBack(
  way: Way,
  snapshot: string,
  paths: readonly string[],
  target: string,
  doing: Doing = {},
): Promise<void> {
  await restic(
    way,
    ['restore', snapshot, '--no-lock', '--target', target, ...paths.flatMap((at) => ['--include', exactly(at)])],
    { ...doing, line: () => undefined },
  );
}
