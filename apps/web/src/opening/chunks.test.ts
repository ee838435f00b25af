import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createContext, runInContext } from 'node:vm';

const SCRIPTS = '_expo/static/js/web';
const PARTING = path.resolve(__dirname, '../../../../scripts/chunks.mjs');

/** A module as the bundler writes it: what it does, its number, and the numbers of what it needs, by their places. */
const written = (does: string, id: number, needs: readonly number[], paths: Record<number, string> = {}) =>
  `__d(function(g,r,i,a,m,e,d){${does}},${id},${Object.keys(paths).length ? JSON.stringify({ ...needs, paths }) : JSON.stringify(needs)});`;
/** What a module that is needed at once does: it notes itself and has what it needs do the same. */
const plain = (name: string, needs: number) =>
  `g.ran.push("${name}");${Array.from({ length: needs }, (_, at) => `r(d[${at}])`).join(';')}`;

const name = (stem: string) => `${stem}-${'0'.repeat(32)}.js`;
const at = (stem: string) => `/${SCRIPTS}/${name(stem)}`;

const PAGES = {
  '_layout.tsx': 10,
  '(house)/_layout.tsx': 11,
  '(house)/albums/_layout.tsx': 12,
  '(house)/browse/index.tsx': 13,
  '(house)/arrivals.tsx': 14,
  '(house)/map.tsx': 15,
  '(house)/book.tsx': 16,
};
/** Numbers of shared modules: one the first pages need, one that both later pages need, and one that is imported later itself. */
const [FRAME, BOTH, SHEET, WORDS] = [20, 21, 22, 30];
const SAID = { first1: 'Good morning', later1: 'A map', later2: 'A book' };

/** An exported application with two pages that are loaded later, without those named in `but`. */
function exported(but: readonly string[] = []): string {
  const out = mkdtempSync(path.join(tmpdir(), 'gemmel-parts-'));
  const folder = path.join(out, SCRIPTS);
  mkdirSync(folder, { recursive: true });
  const pages = Object.entries(PAGES).filter(([page]) => !but.includes(page));
  const stem = (page: string) => page.replace(/\W/g, '_');
  const loads = [99, ...pages.map(([, id]) => id), WORDS];
  const paths = Object.fromEntries([
    ...pages.map(([page, id]) => [id, at(stem(page))]),
    [WORDS, at('messages')],
  ]) as Record<number, string>;
  const routes = pages.map(([page], i) => `"./${page}":{enumerable:!0,get:()=>r(d[0])(d[${i + 1}],d.paths)}`).join(',');
  const entry = `g.pages={${routes}};g.speak={en:()=>r(d[0])(d[${loads.length - 1}],d.paths)}`;
  const files: Record<string, string[]> = {
    '__expo-metro-runtime': [
      written(
        'm.exports=async(id,paths)=>{if(paths&&paths[id])await g.__loadBundleAsync(paths[id]);return r(id)}',
        99,
        [],
      ),
      '"the runtime"',
    ],
    entry: [written(entry, 1, loads, paths), '__r(1);'],
    __common: [
      written(`${plain('frame', 0)};"first1"`, FRAME, []),
      written(plain('both', 0), BOTH, []),
      written(plain('sheet', 1), SHEET, [BOTH]),
    ],
    messages: [written(`m.exports=JSON.parse(${JSON.stringify(JSON.stringify(SAID))})`, WORDS, [])],
  };
  for (const [page, id] of pages) {
    const opens = page.endsWith('map.tsx');
    const needs = /map|book/.test(page) ? [FRAME, BOTH] : [FRAME];
    files[stem(page)] = opens
      ? [
          written(`${plain(page, 2)};g.sheet=()=>r(d[2])(d[3],d.paths)`, id, [...needs, 99, SHEET], {
            [SHEET]: at('__common'),
          }),
        ]
      : [written(plain(page, needs.length), id, needs)];
  }
  for (const [one, lines] of Object.entries(files)) writeFileSync(path.join(folder, name(one)), lines.join('\n'));
  const tags = ['__expo-metro-runtime', '__common', 'entry'].map((one) => `<script src="${at(one)}" defer></script>`);
  writeFileSync(path.join(out, 'index.html'), `<html>${tags.join('')}</html>`);
  return out;
}

/** Parts it, and answers with the scripts of its first page. */
function parted(out: string): string[] {
  const text = `import { partScripts } from ${JSON.stringify(PARTING)};
    console.log(JSON.stringify(partScripts(${JSON.stringify(out)}, 'ahead = 1;')));`;
  const said = execFileSync(process.execPath, ['--input-type=module', '-e', text], { stdio: 'pipe' });
  return JSON.parse(said.toString()) as string[];
}

interface World {
  ran: string[];
  fetched: string[];
  pages: Record<string, { get: () => Promise<unknown> }>;
  speak: { en: () => Promise<Record<string, string>> };
  sheet: () => Promise<unknown>;
}

/** Opens the first page in a made-up browser: the scripts in their order, and those that are loaded later when they are. */
function opened(out: string): World {
  const html = readFileSync(path.join(out, 'index.html'), 'utf8');
  const made = new Map<number, (...all: unknown[]) => void>();
  const needs = new Map<number, unknown>();
  const ready = new Map<number, { exports: unknown }>();
  const document = {
    currentScript: null as { src: string } | null,
    createElement: () => ({}),
    head: { append: () => undefined },
  };
  const world = createContext({ ran: [], fetched: [], document, navigator: { languages: ['en-GB'] }, URL }) as World & {
    __d: unknown;
    __r: unknown;
    __loadBundleAsync: unknown;
  };
  const need = (id: number): unknown => {
    if (!ready.has(id)) {
      if (!made.has(id)) throw new Error(`Module ${id} is missing.`);
      const module = { exports: {} };
      ready.set(id, module);
      made.get(id)!(world, need, null, null, module, module.exports, needs.get(id));
    }
    return ready.get(id)!.exports;
  };
  const run = (file: string) => {
    document.currentScript = { src: `http://gemmel.example${file}` };
    runInContext(readFileSync(path.join(out, file), 'utf8'), world);
    document.currentScript = null;
  };
  const scripts = [...html.matchAll(/src="([^"]+)"/g)].map(([, file]) => file!);
  const [opening, ...rest] = scripts;
  run(opening!);
  world.__d = (factory: () => void, id: number, of: unknown) => (made.set(id, factory), needs.set(id, of));
  world.__r = need;
  world.__loadBundleAsync = (file: string) => {
    world.fetched.push(file);
    run(file);
    return Promise.resolve();
  };
  for (const file of rest) run(file);
  return world;
}

describe('scripts taken apart by what needs them', () => {
  const made: string[] = [];
  const application = (but?: readonly string[]) => {
    const out = exported(but);
    made.push(out);
    return out;
  };
  afterAll(() => made.forEach((out) => rmSync(out, { recursive: true, force: true })));

  test('the first pages come at once and are never fetched; a later one comes with all it needs, once', async () => {
    const out = application();
    const first = parted(out);
    const text = first.map((file) => readFileSync(path.join(out, file), 'utf8')).join('\n');
    expect(text).toContain('"frame"');
    expect(text).not.toMatch(/"both"|"sheet"/);
    const world = opened(out);
    await world.pages['./(house)/browse/index.tsx']!.get();
    expect(world.ran).toEqual(['(house)/browse/index.tsx', 'frame']);
    expect(world.fetched).toEqual([]);
    await world.pages['./(house)/map.tsx']!.get();
    expect(world.ran).toEqual(expect.arrayContaining(['(house)/map.tsx', 'both']));
    expect(world.fetched.length).toBe(2);
    // The other page shares a part that is there already, and what is imported later needs nothing else.
    await world.pages['./(house)/book.tsx']!.get();
    expect(world.fetched.length).toBe(3);
    await world.sheet();
    expect(world.fetched.length).toBe(4);
    expect(world.ran.filter((one) => one === 'both').length).toBe(1);
    expect(world.ran).toContain('sheet');
  });

  test('of the sentences the first pages carry their own, and the rest lies beside them', async () => {
    const out = application();
    parted(out);
    const said = await opened(out).speak.en();
    const { '.rest': rest, ...own } = said;
    expect(own).toEqual({ first1: SAID.first1 });
    expect(JSON.parse(readFileSync(path.join(out, rest!), 'utf8'))).toEqual({
      later1: SAID.later1,
      later2: SAID.later2,
    });
  });

  test('a file is called otherwise when anything changes that it leads to, and only then', () => {
    const names = (change?: (text: string) => string) => {
      const out = application();
      const common = path.join(out, SCRIPTS, name('__common'));
      if (change) writeFileSync(common, change(readFileSync(common, 'utf8')));
      parted(out);
      return new Set(readdirSync(path.join(out, SCRIPTS)));
    };
    const before = names();
    expect(names()).toEqual(before);
    const after = names((text) => text.replace('"sheet"', '"sheet, changed"'));
    const anew = [...after].filter((one) => !before.has(one)).map((one) => one.replace(/-[0-9a-f]{32}\.js$/, ''));
    // The sheet, the page that opens it, the page’s entry, and the opening that knows their names.
    expect(anew.sort()).toEqual(['_house__map_tsx', 'entry', 'opening', 'part']);
  });

  test('an application without its first pages is no application', () => {
    const out = application(['(house)/arrivals.tsx']);
    expect(() => parted(out)).toThrow('No page (house)/arrivals.tsx');
  });
});
