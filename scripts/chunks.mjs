/**
 * Parts the scripts of the exported application by what needs them. The bundler puts whatever two pages share into one file that every page
 * loads first; here that file is taken apart: what the first pages need stays, the rest goes into parts that are loaded with the pages that
 * need them, and what is only imported later, into files of their own. Sentences are parted the same way: those of the first pages, and all
 * others a moment later.
 *
 * Reads the bundler's own form: one module a line, `__d(factory, number, needs)`, where `paths` leads from a module that is loaded later to its
 * file, and the factory imports it as `(d[i], d.paths)`.
 */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { runInNewContext } from 'node:vm';

/** What is drawn first: the frame, and the screens people begin on. */
const FIRST = [
  '_layout.tsx',
  '(house)/_layout.tsx',
  '(house)/albums/_layout.tsx',
  '(house)/browse/index.tsx',
  '(house)/arrivals.tsx',
];
const SCRIPTS = '_expo/static/js/web';
/** Modules that the same few pages need and that are smaller than this together go along with others like them, in characters. */
const LEAST = 12_000;

/** Tells a browser that knows it to make all functions of a file ready while the file is still coming, and not each when it is first called. */
const ALL_CALLED = '//# allFunctionsCalledOnLoad';

const MODULE =
  /^(?<body>__d\(function\(\w+,\w+,\w+,\w+,\w+,\w+,(?<map>\w+)\).*,)(?<id>\d+),(?<needs>\[[\d,]*\]|\{(?:[^{}]|\{[^{}]*\})*\})\);$/s;
const PAGE = /"\.\/(?<page>[^"]+\.tsx)":\{enumerable:!0,get:\(\)=>r\(d\[\d+\]\)\(d\[(?<at>\d+)\],d\.paths\)\}/g;
const LANGUAGE = /\b(?<tag>en|de|sv):\(\)=>r\(d\[\d+\]\)\(d\[(?<at>\d+)\],d\.paths\)/g;
const CATALOGUE = /JSON\.parse\((?<text>"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')\)/;

const hash = (text) => createHash('sha256').update(text).digest('hex').slice(0, 32);

/** The modules of one file in its order, and the lines that are none. */
function read(file) {
  const modules = [];
  const others = [];
  for (const line of readFileSync(file, 'utf8').split('\n')) {
    const found = line.startsWith('__d(') ? MODULE.exec(line) : null;
    if (!found) {
      if (line) others.push(line);
      continue;
    }
    const { body, map, id, needs } = found.groups;
    const said = JSON.parse(needs);
    const { paths: _, ...places } = said;
    const all = Array.isArray(said) ? said : Object.values(places);
    const apart = [...body.matchAll(new RegExp(`\\(${map}\\[(\\d+)\\],${map}\\.paths`, 'g'))].map(([, at]) =>
      Number(at),
    );
    const later = new Set(apart.map((at) => all[at]));
    // One module may be needed at once in one place, and imported later in another.
    modules.push({ id: Number(id), body, all, later, needs: all.filter((_, at) => !apart.includes(at)) });
  }
  return { modules, others };
}

/** Every module that is needed for some, itself among them. */
function closure(some, byId) {
  const found = new Set();
  const waiting = [...some];
  while (waiting.length) {
    const id = waiting.pop();
    if (found.has(id) || !byId.has(id)) continue;
    found.add(id);
    waiting.push(...byId.get(id).needs);
  }
  return found;
}

/** Leaves in a catalogue what some modules speak of; answers with it, and with all the rest. */
function parted(module, speakers) {
  const found = CATALOGUE.exec(module.body);
  if (!found) throw new Error('A catalogue is not written as it was expected.');
  const messages = JSON.parse(runInNewContext(found.groups.text));
  const now = new Set();
  // What lies between two quotes, be it in a string or between two: quotes are not counted, since longer strings are passed over.
  for (const { body } of speakers)
    for (const [id] of body.matchAll(/(?<=")[^"\\]{3,60}(?=")/g)) if (id in messages) now.add(id);
  const of = (kept) => Object.fromEntries(Object.entries(messages).filter(([id]) => kept(id)));
  return { found: found[0], own: of((id) => now.has(id)), rest: JSON.stringify(of((id) => !now.has(id))) };
}

/**
 * Runs when the page opens, before everything else: has each file that is loaded later come together with the parts it needs and with the
 * sentences, and asks at once for the sentences of the first pages.
 */
function atOnce(needs, catalogues) {
  const scope = globalThis;
  let load;
  let define;
  const asked = {};
  const held = {};
  // Modules are made known all at once with what they need: one that lacks something once is broken for good.
  Object.defineProperty(scope, '__d', {
    set: (own) => (define = own),
    get:
      () =>
      (...module) => {
        const file = document.currentScript && new URL(document.currentScript.src).pathname;
        if (held[file]) held[file].push(module);
        else define(...module);
      },
  });
  const one = (file) => {
    if (!asked[file]) {
      held[file] = [];
      asked[file] = load(file).catch((error) => {
        delete asked[file];
        throw error;
      });
    }
    return asked[file];
  };
  Object.defineProperty(scope, '__loadBundleAsync', {
    set: (own) => (load = own),
    get: () => async (file) => {
      const all = [...(needs[file] ?? []), file];
      await Promise.all([scope.gemmelWords?.(), ...all.map(one)]);
      for (const here of all) {
        for (const module of held[here] ?? []) define(...module);
        delete held[here];
      }
    },
  });
  let chosen;
  try {
    chosen = localStorage.getItem('gemmel-language');
  } catch {
    // This browser keeps nothing.
  }
  const wished =
    [chosen, ...navigator.languages.map((tag) => tag.slice(0, 2))].find((tag) => tag in catalogues) ?? 'en';
  const link = document.createElement('link');
  link.rel = 'preload';
  link.as = 'script';
  link.href = catalogues[wished];
  document.head.append(link);
}

/** Parts the scripts of an exported application; `ahead` is a script that runs before all of them. Answers with the files of the first page in English, for whoever holds it to its budget. */
export function partScripts(out, ahead) {
  const folder = path.join(out, SCRIPTS);
  const names = readdirSync(folder).filter((name) => name.endsWith('.js'));
  const files = new Map(names.map((name) => [name, read(path.join(folder, name))]));
  const startOf = (stem) => names.find((name) => name.startsWith(`${stem}-`));
  const [entry, common, runtime] = ['entry', '__common', '__expo-metro-runtime'].map(startOf);
  const all = [...files.values()].flatMap(({ modules }) => modules);
  const byId = new Map(all.map((one) => [one.id, one]));
  const later = new Set(all.flatMap((one) => [...one.later]));
  const pages = new Map();
  const catalogues = {};
  for (const one of all) {
    for (const { groups } of one.body.matchAll(PAGE)) pages.set(groups.page, one.all[Number(groups.at)]);
    for (const { groups } of one.body.matchAll(LANGUAGE)) catalogues[groups.tag] = one.all[Number(groups.at)];
  }
  const missing = FIRST.filter((page) => !pages.has(page));
  if (missing.length) throw new Error(`No page ${missing.join(', ')} among those the bundler wrote.`);

  const first = closure(
    [...files.get(entry).modules.map(({ id }) => id), ...FIRST.map((page) => pages.get(page))],
    byId,
  );
  // Who needs each of the shared modules that the first pages do not need.
  const users = new Map();
  for (const target of later)
    for (const id of closure([target], byId)) users.set(id, [...(users.get(id) ?? []), target]);

  const nameOfFile = (id) => [...files].find(([, { modules }]) => modules.some((one) => one.id === id))[0];

  /** Files as they will be: their modules, other lines, and who needs them. */
  const made = new Map();
  const place = (key, stem, modules, others = [], who = []) =>
    made.set(key, { stem, modules, others, who: new Set(who) });
  const groups = new Map();
  // The first pages come with what they need: whatever is there already is drawn at once, and never waited for.
  const begin = new Set(FIRST.map((page) => nameOfFile(pages.get(page))));
  for (const [name, { modules, others }] of files) {
    const stem = name.replace(/-[0-9a-f]{32}\.js$/, '');
    if (begin.has(name)) continue;
    if (name !== common) {
      place(name, stem, modules, others);
      continue;
    }
    const pagesToo = [...begin].map((one) => files.get(one));
    place(
      name,
      stem,
      [...modules.filter(({ id }) => first.has(id)), ...pagesToo.flatMap((one) => one.modules)],
      [...others, ...pagesToo.flatMap((one) => one.others)],
    );
    for (const one of modules) {
      if (first.has(one.id)) continue;
      const who = users.get(one.id) ?? [];
      // What is imported later is a file of its own: it must never be known without what it needs.
      if (later.has(one.id)) place(`door ${one.id}`, 'part', [one], [], who);
      else groups.set(who.join(), [...(groups.get(who.join()) ?? []), one]);
    }
  }
  const small = { modules: [], who: [] };
  for (const [key, modules] of groups) {
    const who = key ? key.split(',').map(Number) : [];
    if (modules.reduce((sum, { body }) => sum + body.length, 0) >= LEAST)
      place(`part ${key}`, 'part', modules, [], who);
    else {
      small.modules.push(...modules);
      small.who.push(...who);
    }
  }
  if (small.modules.length) place('small', 'part', small.modules, [], small.who);
  const home = new Map([...made].flatMap(([key, { modules }]) => modules.map(({ id }) => [id, key])));

  const speakers = [...first].map((id) => byId.get(id));
  for (const id of Object.values(catalogues)) {
    const module = byId.get(id);
    const { found, own, rest } = parted(module, speakers);
    const beside = `/${SCRIPTS}/words-${hash(rest)}.json`;
    writeFileSync(path.join(out, beside), rest);
    const text = JSON.stringify(JSON.stringify({ ...own, '.rest': beside }));
    module.body = module.body.replace(found, () => `JSON.parse(${text})`);
  }

  /** Files that some file leads to, and those lead to. */
  const leadsTo = (key) => {
    const found = new Set();
    const waiting = [key];
    while (waiting.length) {
      const at = waiting.pop();
      if (found.has(at)) continue;
      found.add(at);
      for (const { later: targets } of made.get(at).modules) for (const id of targets) waiting.push(home.get(id));
    }
    return found;
  };
  const plain = new Map(
    [...made].map(([key, { modules, others }]) => [
      key,
      hash([...modules.map(({ body, id, all: needs }) => `${body}${id},${needs}`), ...others].join('\n')),
    ]),
  );
  const nameOf = new Map(
    [...made].map(([key, { stem }]) => [
      key,
      `/${SCRIPTS}/${stem}-${hash([plain.get(key), ALL_CALLED, ...[...leadsTo(key)].map((one) => plain.get(one)).sort()].join())}.js`,
    ]),
  );
  const atFirst = new Set([entry, common, runtime]);
  for (const name of names) rmSync(path.join(folder, name));
  for (const [key, { modules, others }] of made) {
    const lines = modules.map(({ body, id, all: needs, later: targets }) => {
      const away = [...targets].filter((one) => !atFirst.has(home.get(one)));
      const said = away.length
        ? { ...needs, paths: Object.fromEntries(away.map((one) => [one, nameOf.get(home.get(one))])) }
        : needs;
      return `${body}${id},${JSON.stringify(said)});`;
    });
    writeFileSync(
      path.join(out, nameOf.get(key)),
      [
        ...(atFirst.has(key) ? [ALL_CALLED] : []),
        ...(key === runtime ? [...others, ...lines] : [...lines, ...others]),
      ].join('\n'),
    );
  }

  const needs = {};
  for (const target of later) {
    const file = home.get(target);
    // What is loaded for a target, with what is there from the beginning, must be all it needs.
    const there = new Set([
      ...atFirst,
      file,
      ...[...made].filter(([, { who }]) => who.has(target)).map(([key]) => key),
    ]);
    for (const id of closure([target], byId))
      if (!there.has(home.get(id))) throw new Error(`Module ${id} would be missing where ${target} is loaded.`);
    const along = [...made].filter(([key, { who }]) => key !== file && who.has(target)).map(([key]) => nameOf.get(key));
    if (!atFirst.has(file) && along.length) needs[nameOf.get(file)] = along;
  }
  const fileOf = (id) => nameOf.get(home.get(id));
  const spoken = Object.fromEntries(Object.entries(catalogues).map(([tag, id]) => [tag, fileOf(id)]));
  const script = `${ahead}\n(${atOnce.toString()})(${[needs, spoken].map((one) => JSON.stringify(one)).join()});`;
  const opening = `/${SCRIPTS}/opening-${hash(script)}.js`;
  writeFileSync(path.join(out, opening), script);
  const index = path.join(out, 'index.html');
  let html = readFileSync(index, 'utf8').replace('<script src="/_expo', `<script src="${opening}" defer></script>$&`);
  for (const name of atFirst) html = html.replace(`/${SCRIPTS}/${name}`, nameOf.get(name));
  writeFileSync(index, html);
  return [...[...html.matchAll(/<script src="([^"]+)"/g)].map(([, file]) => file), spoken.en];
}
