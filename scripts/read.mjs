// Reads all code: types and promises nobody waits for by oxlint, which reads each program once for both, all other lint by ESLint, and
// what imports what in a circle. `types` or `lint` as an argument does one of them alone. Writes what was right to the file named by
// READ_REPORT, if any.
import { ESLint } from 'eslint';
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
process.chdir(root);

const ROOMS = ['packages', 'apps', 'e2e', 'bench'];
const only = process.argv[2];
const report = [];

/** Notes how a part ended. */
function note(title, right, began) {
  const seconds = Math.round((performance.now() - began) / 1000);
  report.push({ title, right, seconds });
  console.log(`== ${title}: ${right ? 'right' : 'WRONG'}, ${seconds} s`);
}

/** Runs a tool of node_modules and notes whether it found all right. On one thread: more of them work the same out again. */
function tool(title, script, ...words) {
  const began = performance.now();
  const { status } = spawnSync(process.execPath, [path.join('node_modules', script), ...words], {
    stdio: 'inherit',
    env: { ...process.env, GOMAXPROCS: '1' },
  });
  note(title, status === 0, began);
}

/** What each file imports when it runs; imports of types alone do not count. */
function importsOf() {
  const settings = (file) =>
    ts.getParsedCommandLineOfConfigFile(file, {}, { ...ts.sys, onUnRecoverableConfigFileDiagnostic: () => {} }).options;
  const [plain, web] = [settings('apps/server/tsconfig.json'), settings('apps/web/tsconfig.json')];
  const imports = new Map();
  const left = /(^|\/)(node_modules|dist|out|public|\.expo)\/|\.d\.ts$/;
  const found = ROOMS.flatMap((room) => readdirSync(room, { recursive: true }).map((file) => `${room}/${file}`));
  for (const name of found.filter((file) => /\.tsx?$/.test(file) && !left.test(file))) {
    const file = path.resolve(name);
    const options = name.startsWith('apps/web/') ? web : plain;
    const to = [];
    for (const statement of ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest).statements) {
      if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) continue;
      const { moduleSpecifier: from } = statement;
      const clause = ts.isImportDeclaration(statement) ? statement.importClause : statement;
      const names = clause?.namedBindings ?? clause?.exportClause;
      const typesAlone =
        clause?.isTypeOnly ||
        (!clause?.name && names?.elements?.length && names.elements.every((one) => one.isTypeOnly));
      if (!from || typesAlone) continue;
      const { resolvedModule: other } = ts.resolveModuleName(from.text, file, options, ts.sys);
      if (other && !other.isExternalLibraryImport) to.push(other.resolvedFileName);
    }
    imports.set(file, to);
  }
  return imports;
}

/** What each room of the interface imports from other rooms. */
function roomsOf(imports) {
  const roomOf = (file) => file.match(/\/web\/src\/features\/(\w+)\//)?.[1];
  const rooms = new Map();
  for (const [file, to] of imports) {
    const room = roomOf(file);
    if (!room || /\.test\.tsx?$/.test(file)) continue;
    const others = to.map(roomOf).filter((other) => other && other !== room);
    rooms.set(room, [...new Set([...(rooms.get(room) ?? []), ...others])]);
  }
  return rooms;
}

/** Circles of what imports each other, by Tarjan's strongly connected components (1972). */
function circles(imports) {
  const found = [];
  const number = new Map();
  const low = new Map();
  const path = [];
  const visit = (file) => {
    number.set(file, number.size);
    low.set(file, number.get(file));
    path.push(file);
    for (const other of imports.get(file) ?? []) {
      if (!imports.has(other)) continue;
      if (!number.has(other)) visit(other);
      if (path.includes(other)) low.set(file, Math.min(low.get(file), low.get(other)));
    }
    if (low.get(file) !== number.get(file)) return;
    const circle = path.splice(path.indexOf(file));
    if (circle.length > 1) found.push(circle);
  };
  for (const file of imports.keys()) if (!number.has(file)) visit(file);
  return found;
}

if (only !== 'lint')
  tool('types and promises', 'oxlint/bin/oxlint', '--type-aware', '--type-check', '--threads=1', '--quiet', ...ROOMS);
if (only !== 'types') {
  const began = performance.now();
  const eslint = new ESLint();
  const results = await eslint.lintFiles(['.']);
  const said = await (await eslint.loadFormatter('stylish')).format(results);
  if (said) console.log(said);
  const imports = importsOf();
  const round = [
    ...circles(imports).map((circle) => circle.map((file) => path.relative('.', file))),
    ...circles(roomsOf(imports)).map((circle) => circle.map((room) => `the room ${room}`)),
  ];
  for (const circle of round) console.log(`These import each other in a circle: ${circle.join(', ')}`);
  note('lint', !round.length && !results.some((one) => one.errorCount + one.warningCount > 0), began);
}
if (process.env.READ_REPORT) writeFileSync(process.env.READ_REPORT, JSON.stringify(report));
process.exit(report.every((part) => part.right) ? 0 : 1);
