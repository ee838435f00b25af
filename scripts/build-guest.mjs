// The guest's page: a bundle of its own, small enough for a grandmother's telephone. See docs/sharing.md.
import { build } from 'esbuild';
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import words from './words.cjs';

const LANGUAGES = ['en', 'de', 'sv'];

/** The house's colours and sizes as variables of a style sheet. */
function variables(root) {
  const { channels, CORNER, dark, light, LINES, SIZE, TYPE } = createRequire(import.meta.url)(
    path.join(root, 'apps/web/src/ui/tokens.js'),
  );
  const colours = (scheme) => Object.entries(scheme).map(([name, hex]) => `--${name}: ${channels(hex)};`);
  const sizes = (prefix, all) => Object.entries(all).map(([name, n]) => `--${prefix}-${name}: ${n}px;`);
  const fixed = [
    ...sizes('type', TYPE),
    ...sizes('lines', LINES),
    ...sizes('size', SIZE),
    ...sizes('corner', CORNER),
  ].join('');
  return `:root{${colours(light).join('')}${fixed}}@media (prefers-color-scheme: dark){:root{${colours(dark).join('')}}}`;
}

const named = (name, text, ending) =>
  `${name}-${createHash('sha256').update(text).digest('hex').slice(0, 12)}.${ending}`;

/** Builds the page into `out/guest`, with a list of what its files are called. */
export async function buildGuest(root, out) {
  const folder = path.join(out, 'guest');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const { outputFiles } = await build({
    absWorkingDir: root,
    entryPoints: { page: 'apps/web/src/guest/main.tsx', style: 'apps/web/src/guest/style.css' },
    bundle: true,
    minify: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    jsx: 'automatic',
    tsconfigRaw: { compilerOptions: { jsx: 'react-jsx', jsxImportSource: 'react' } },
    outdir: folder,
    publicPath: '/guest',
    assetNames: '[name]-[hash]',
    loader: { '.ttf': 'file' },
    alias: { '@': path.join(root, 'apps/web/src') },
    define: { 'process.env.NODE_ENV': '"production"' },
    plugins: [words.bundled],
    logLevel: 'warning',
  });
  const files = {};
  let script = '';
  for (const { path: file, text, contents } of outputFiles) {
    const base = path.basename(file);
    if (base === 'page.js') script = text;
    if (base === 'page.js' || base === 'style.css') {
      const whole = base === 'style.css' ? variables(root) + text : text;
      const [name, ending] = base.split('.');
      files[name] = named(name, whole, ending);
      writeFileSync(path.join(folder, files[name]), whole);
    } else writeFileSync(path.join(folder, base), contents);
  }
  // Of each catalogue what this page can say, and no more: sentences go by their number, which stands in the script.
  for (const locale of LANGUAGES) {
    const file = path.join(root, `apps/web/src/words/${locale}/messages.po`);
    const whole = words.messagesIn(readFileSync(file, 'utf8'), file).messages;
    const said = Object.fromEntries(Object.entries(whole).filter(([id]) => script.includes(JSON.stringify(id))));
    const text = `window.gemmelWords=${JSON.stringify({ locale, messages: words.compiled(locale, said) })}`;
    files[`words-${locale}`] = named(`words-${locale}`, text, 'js');
    writeFileSync(path.join(folder, files[`words-${locale}`]), text);
  }
  writeFileSync(path.join(folder, 'files.json'), JSON.stringify(files));
}
