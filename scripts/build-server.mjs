// Bundles the server, its worker threads and the command line; packages stay where npm put them. Given a source and a file, it
// bundles that source into that file.
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import words from './words.cjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const { dependencies } = JSON.parse(readFileSync(path.join(root, 'apps/server/package.json'), 'utf8'));
const [source, outfile] = process.argv.slice(2);
await build({
  absWorkingDir: root,
  ...(source && outfile
    ? { entryPoints: [source], outfile }
    : {
        entryPoints: {
          main: 'apps/server/src/main.ts',
          cli: 'apps/server/src/cli.ts',
          worker: 'apps/server/src/worker.ts',
          apart: 'apps/server/src/apart/host.ts',
        },
        outdir: 'apps/server/dist',
      }),
  bundle: true,
  // What is read only when it is needed is asked for in the older way, which modules have to be lent.
  banner: { js: "import { createRequire as lend } from 'node:module'; const require = lend(import.meta.url);" },
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  external: Object.keys(dependencies).filter((name) => !name.startsWith('@gemmel/')),
  plugins: [words.bundled],
  logLevel: 'warning',
});
