import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';

/** Where everything lies and how the server is to run. */
export interface Config {
  data: string;
  port: number;
  threads: number;
  /** Where the web application's files are. */
  web: string;
  /** Where the face engine's weights are. */
  models: string;
  /** Folder of the demo household, when this is the demo. */
  demo: string | null;
  secrets: { db: string; links: string };
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

/** Reads the configuration from the environment; `data` is made if it is missing. */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const root = env['GEMMEL_ROOT'] ?? process.cwd();
  const data = path.resolve(env['GEMMEL_DATA'] ?? path.join(root, 'data/home'));
  return {
    data,
    port: Number(env['GEMMEL_PORT'] ?? 4870),
    threads: Math.max(1, Number(env['GEMMEL_THREADS'] ?? availableParallelism())),
    web: path.join(root, 'apps/web/dist'),
    models: path.join(root, 'apps/server/models'),
    demo: env['GEMMEL_DEMO'] ? path.resolve(root, env['GEMMEL_DEMO']) : null,
    secrets: secretsOf(data),
  };
}
