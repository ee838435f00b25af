import { request } from '@playwright/test';
import { createHash } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { OUT, ROOT, startServer } from './server';

/** What the loaded household depends on: the server as it is built, the files of the subset, and how they are chosen. */
function hashOfHousehold(): string {
  const hash = createHash('sha256');
  const dist = path.join(ROOT, 'apps/server/dist');
  // What the worker's parts are is in their names, which it says.
  for (const name of ['main.js', 'worker.js', 'apart.js']) hash.update(readFileSync(path.join(dist, name)));
  const visit = (at: string) => {
    for (const entry of readdirSync(at, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const full = path.join(at, entry.name);
      if (entry.isDirectory()) visit(full);
      else hash.update(path.relative(OUT, full)).update(readFileSync(full));
    }
  };
  visit(path.join(OUT, 'demo'));
  return hash.digest('hex').slice(0, 16);
}

/** Waits until the made-up household has come in, has said what it has to say, and nothing is left to do. */
async function loaded(url: string): Promise<void> {
  const api = await request.newContext({ baseURL: url });
  const until = Date.now() + 240_000;
  const get = async <T>(at: string) => (await (await api.get(at)).json()) as T;
  let still = 0;
  try {
    for (;;) {
      await api.post('/api/sign-in', { data: { email: 'ilse@hallorin.example', password: 'sunday-table' } });
      const { albums = [] } = await get<{ albums?: unknown[] }>('/api/albums');
      const { groups = [] } = await get<{ groups?: unknown[] }>('/api/introductions');
      const { running = [null] } = await get<{ running?: unknown[] }>('/api/library');
      // Work asks for more work: it is over when there has been none for a while.
      still = running.length === 0 ? still + 1 : 0;
      if (albums.length >= 4 && groups.length > 2 && still > 4) return;
      if (Date.now() > until) throw new Error('The household did not come in within four minutes.');
      await new Promise((resolve) => setTimeout(resolve, 400));
    }
  } finally {
    await api.dispose();
  }
}

/** Before all tests: the household is loaded once, and each worker copies it. */
export default async function household(): Promise<void> {
  execFileSync(process.execPath, [path.join(import.meta.dirname, 'subset.mjs')], { stdio: 'inherit' });
  const snapshot = path.join(OUT, `household-${hashOfHousehold()}`);
  process.env['E2E_HOUSEHOLD'] = snapshot;
  for (const name of readdirSync(OUT))
    if (/^(household|worker|loading)-?/.test(name) && path.join(OUT, name) !== snapshot)
      rmSync(path.join(OUT, name), { recursive: true, force: true });
  if (existsSync(snapshot)) return;
  const loading = path.join(OUT, 'loading');
  const server = await startServer(loading, { GEMMEL_DEMO: path.join(OUT, 'demo') });
  try {
    await loaded(server.url);
  } finally {
    await server.stop();
  }
  renameSync(loading, snapshot);
}
