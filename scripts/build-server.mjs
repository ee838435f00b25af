// Bundles the server, its worker threads and the command line; packages stay where npm put them.
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const { dependencies } = JSON.parse(readFileSync(path.join(root, 'apps/server/package.json'), 'utf8'));
await build({
  absWorkingDir: root,
  entryPoints: ['apps/server/src/main.ts', 'apps/server/src/cli.ts', 'apps/server/src/worker.ts'],
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  external: Object.keys(dependencies).filter((name) => !name.startsWith('@gemmel/')),
  outdir: 'apps/server/dist',
  logLevel: 'warning',
});
