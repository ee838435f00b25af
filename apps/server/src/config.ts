import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';

/** Where everything lies and how the server is to run. */
export interface Config {
  data: string;
  port: number;
  /** The address to listen on: this machine alone, unless phones of the house are to reach it. */
  host: string;
  threads: number;
  /** Where the web application's files are. */
  web: string;
  /** Where the face engine's weights are. */
  models: string;
  /** Folder of the demo household, when this is the demo. */
  demo: string | null;
  /** Folders in which a card or a phone shows up as a folder of its own. */
  roots: string[];
  /** Folders from which whatever settles is taken, each folder in them standing for a device. */
  watched: string[];
  /** Bytes of the disk that are left for the household's other work. */
  reserve: number;
  secrets: { db: string; links: string };
}

/** What a keeper may write into `settings.json` in the data folder. */
interface Settings {
  roots?: string[];
  watched?: string[];
  reserveMegabytes?: number;
}

function secretsOf(data: string): Config['secrets'] {
  const file = path.join(data, 'secrets.json');
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Config['secrets'];
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    const made = { db: randomBytes(24).toString('base64url'), links: randomBytes(32).toString('base64url') };
    mkdirSync(data, { recursive: true });
    writeFileSync(file, JSON.stringify(made), { mode: 0o600 });
    return made;
  }
}

const RESERVE = 300;

function settingsOf(data: string): Settings {
  try {
    return JSON.parse(readFileSync(path.join(data, 'settings.json'), 'utf8')) as Settings;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return {};
    throw new Error(`settings.json in ${data} cannot be read: ${error instanceof Error ? error.message : ''}`);
  }
}

/** Where systems mount cards and phones: below these, or below a folder named after the person. */
const mountPoints = (user: string): string[] => ['/media', `/media/${user}`, `/run/media/${user}`, '/mnt', '/Volumes'];

/** Reads the configuration from the environment; `data` is made if it is missing. */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const root = env['GEMMEL_ROOT'] ?? process.cwd();
  const data = path.resolve(env['GEMMEL_DATA'] ?? path.join(root, 'data/home'));
  const settings = settingsOf(data);
  const listed = (name: string) => env[name]?.split(path.delimiter).filter(Boolean);
  return {
    roots: listed('GEMMEL_ROOTS') ??
      settings.roots ?? [...mountPoints(env['USER'] ?? 'root'), path.join(data, 'inbox')],
    watched: listed('GEMMEL_WATCHED') ?? settings.watched ?? [path.join(data, 'watched')],
    reserve: 1e6 * Number(env['GEMMEL_RESERVE_MB'] ?? settings.reserveMegabytes ?? RESERVE),
    data,
    host: env['GEMMEL_HOST'] ?? '127.0.0.1',
    port: Number(env['GEMMEL_PORT'] ?? 4870),
    threads: Math.max(1, Number(env['GEMMEL_THREADS'] ?? availableParallelism())),
    web: path.join(root, 'apps/web/dist'),
    models: path.join(root, 'apps/server/models'),
    demo: env['GEMMEL_DEMO'] ? path.resolve(root, env['GEMMEL_DEMO']) : null,
    secrets: secretsOf(data),
  };
}
