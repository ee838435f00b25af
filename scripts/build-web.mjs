// Exports the web application when its sources have changed, and compresses it ahead of time.
import { build as esbuild } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, constants } from 'node:zlib';
import { buildGuest } from './build-guest.mjs';
import { buildMap } from './build-map.mjs';
import { partScripts } from './chunks.mjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const out = path.join(root, 'apps/web/dist');

function* files(at) {
  if (!existsSync(at)) return;
  if (statSync(at).isFile()) return yield at;
  for (const name of readdirSync(at).sort())
    if (!['node_modules', 'dist', '.expo', 'coverage'].includes(name)) yield* files(path.join(at, name));
}

const hash = createHash('sha256');
for (const part of [
  'apps/web',
  'packages/core/src',
  'packages/contract/src',
  'package-lock.json',
  'lingui.config.cjs',
  'scripts/build-guest.mjs',
  'scripts/build-map.mjs',
  'scripts/build-web.mjs',
  'scripts/chunks.mjs',
])
  for (const file of files(path.join(root, part)))
    if (!/\.test\.tsx?$/.test(file)) hash.update(path.relative(root, file)).update('\0').update(readFileSync(file));
const stamp = path.join(root, 'apps/web/dist/.stamp');
const now = hash.digest('hex');
if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) process.exit(0);

console.log('Building the application (a few minutes the first time) …');
const build = spawnSync(path.join(root, 'node_modules/.bin/expo'), ['export', '-p', 'web'], {
  cwd: path.join(root, 'apps/web'),
  env: { ...process.env, CI: '1', EXPO_OFFLINE: '1', EXPO_NO_TELEMETRY: '1', NODE_ENV: 'production' },
  encoding: 'utf8',
  maxBuffer: 64 << 20,
});
if (build.status !== 0) {
  console.error(build.stdout, build.stderr);
  process.exit(1);
}
/** A script of ours, bundled for browsers of the last years. */
const bundled = (entryPoints, more) =>
  esbuild({
    absWorkingDir: root,
    entryPoints: entryPoints.map((name) => `apps/web/src/${name}.ts`),
    bundle: true,
    minify: true,
    format: 'iife',
    target: 'es2022',
    logLevel: 'warning',
    ...more,
  });
const ahead = await bundled(['opening/ahead'], { write: false });
const first = partScripts(out, ahead.outputFiles[0].text);
// Workers are files of their own.
const WORKERS = ['workers/fingerprint', 'workers/pins', 'workers/push', 'workers/touchup'];
await bundled(WORKERS, { outdir: 'apps/web/dist/workers' });
await buildMap(root, out);
await buildGuest(root, out);
const begin = new Set(first.map((file) => path.join(out, file)));
/** How hard a file is pressed: what everybody waits for, most; the map, which is large and hardly gets smaller, least. */
const qualityOf = (file) => (begin.has(file) ? 11 : file.startsWith(path.join(out, 'map', path.sep)) ? 5 : 9);
for (const file of files(out))
  if (/\.(js|css|html|json|svg|ttf)$/.test(file) && statSync(file).size > 1024)
    writeFileSync(
      `${file}.br`,
      brotliCompressSync(readFileSync(file), {
        params: { [constants.BROTLI_PARAM_QUALITY]: qualityOf(file) },
      }),
    );
/** How much script the first page may carry, compressed, in bytes; and what it must not carry: maps, touching up, codes, books, faces to draw. */
const BUDGET = 350_000;
const NOT_AT_FIRST = ['maplibre', 'touchup.js', 'pins.js', 'qrcode', 'BookScreen', 'DrawFace', 'TouchUp'];
const sizeOf = (file) => statSync(existsSync(`${file}.br`) ? `${file}.br` : file).size;
const carried = [...begin].reduce((sum, file) => sum + sizeOf(file), 0);
const early = NOT_AT_FIRST.filter((word) => [...begin].some((file) => readFileSync(file, 'utf8').includes(word)));
if (carried > BUDGET || early.length) {
  console.error(
    `The first page carries ${carried} bytes of script (at most ${BUDGET})${early.map((word) => `, and ${word}`)}.`,
  );
  for (const file of begin) console.error(`  ${sizeOf(file)} ${path.basename(file)}`);
  process.exit(1);
}
console.log(`The first page carries ${Math.round(carried / 1000)} kB of script.`);
// Last of all, so that the worker knows every file. Maps, guests’ pages and what is for phones alone come with the line.
const shell = [...files(out)]
  .map((file) => path.relative(out, file).split(path.sep).join('/'))
  .filter((name) => !/^(?:map|guest)\/|^\.|\.br$|^sw\.js$|^metadata\.json$/.test(name))
  .map((name) => ({
    url: `/${name}`,
    revision: /[.-][0-9a-f]{20,}\./.test(path.basename(name))
      ? null
      : createHash('sha256')
          .update(readFileSync(path.join(out, name)))
          .digest('hex')
          .slice(0, 16),
  }));
await bundled(['workers/sw'], {
  outfile: path.join(out, 'sw.js'),
  define: { __SHELL__: JSON.stringify(shell), 'process.env.NODE_ENV': '"production"' },
});
writeFileSync(stamp, now);
