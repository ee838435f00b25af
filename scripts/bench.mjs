// Bundles and runs one benchmark: node scripts/bench.mjs intake | upload | questions | scroll | places | faces | demoFaces | find | answers | touchup | alike | albums | share | safe | keep | atwork
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import words from './words.cjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const name = process.argv[2] ?? '';
const entry = path.join(root, 'bench', `${name}.ts`);
if (!existsSync(entry)) {
  console.error(`There is no benchmark “${name}”.`);
  process.exit(1);
}
const { dependencies } = JSON.parse(readFileSync(path.join(root, 'apps/server/package.json'), 'utf8'));
// Beside the server's own bundle, so that it finds the server's packages.
const outfile = path.join(root, 'apps/server/dist/bench', `${name}.mjs`);
await build({
  entryPoints: [entry],
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  external: [...Object.keys(dependencies).filter((n) => !n.startsWith('@gemmel/')), '@playwright/test'],
  outfile,
  plugins: [words.bundled],
  logLevel: 'warning',
});
process.exit(
  spawnSync(process.execPath, [outfile, ...process.argv.slice(3)], { cwd: root, stdio: 'inherit' }).status ?? 1,
);
