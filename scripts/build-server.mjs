// Bundles the server, its worker threads and the command line; packages stay where npm put them. What workers do is in files of its own
// (`part-…`), loaded when it is asked for. Given a source and a file, it bundles that source into that file.
import { build } from 'esbuild';
import { readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import words from './words.cjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const { dependencies } = JSON.parse(readFileSync(path.join(root, 'apps/server/package.json'), 'utf8'));
const [source, outfile] = process.argv.slice(2);
const out = path.join(root, 'apps/server/dist');
const common = {
  absWorkingDir: root,
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
};
if (source && outfile) await build({ ...common, entryPoints: [source], outfile });
else {
  const [, { metafile }] = await Promise.all([
    build({
      ...common,
      entryPoints: {
        main: 'apps/server/src/main.ts',
        cli: 'apps/server/src/cli.ts',
        apart: 'apps/server/src/apart/host.ts',
      },
      outdir: out,
    }),
    build({
      ...common,
      entryPoints: { worker: 'apps/server/src/worker.ts' },
      splitting: true,
      chunkNames: 'part-[hash]',
      metafile: true,
      outdir: out,
    }),
  ]);
  // A Gemmel that is running may still ask for parts of the build before.
  const DAY = 86_400_000;
  const made = new Set(Object.keys(metafile.outputs).map((file) => path.basename(file)));
  for (const name of readdirSync(out))
    if (name.startsWith('part-') && !made.has(name) && Date.now() - statSync(path.join(out, name)).mtimeMs > DAY)
      rmSync(path.join(out, name));
}
