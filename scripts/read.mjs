// Reads all code once: types by TypeScript, then lint by ESLint on the very same programs, so that nothing is worked out twice.
// `types` or `lint` as an argument does one of them alone. Writes what was right to the file named by READ_REPORT, if any.
import { ESLint } from 'eslint';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

process.chdir(path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..'));

/** Every file is read with the first of these that holds it; the server, the benchmarks and the interface's tests are one. */
const PROJECTS = ['packages/core', 'packages/contract', 'tsconfig.node.json', 'apps/web'];
const only = process.argv[2];
const report = [];

/** Notes how a part ended. */
function note(title, right, began) {
  const seconds = Math.round((performance.now() - began) / 1000);
  report.push({ title, right, seconds });
  console.log(`== ${title}: ${right ? 'right' : 'WRONG'}, ${seconds} s`);
}

/** A project's program, with its types looked at unless lint alone is asked for. */
function programOf(project) {
  const began = performance.now();
  const file = project.endsWith('.json') ? project : path.join(project, 'tsconfig.json');
  const fail = (diagnostic) => {
    throw new Error(ts.flattenDiagnosticMessageText(diagnostic.messageText, ' '));
  };
  const config = ts.getParsedCommandLineOfConfigFile(
    file,
    {},
    { ...ts.sys, onUnRecoverableConfigFileDiagnostic: fail },
  );
  const program = ts.createProgram({
    rootNames: config.fileNames,
    options: config.options,
    configFileParsingDiagnostics: config.errors,
  });
  if (only === 'lint') return program;
  const found = ts.getPreEmitDiagnostics(program);
  const host = { getCanonicalFileName: (name) => name, getCurrentDirectory: process.cwd, getNewLine: () => '\n' };
  if (found.length) console.log(ts.formatDiagnostics(found, host));
  note(`types of ${project}`, found.length === 0, began);
  return program;
}

/** What each file imports when it runs; imports of types alone do not count. */
function importsOf(programs) {
  const imports = new Map();
  for (const program of programs)
    for (const source of program.getSourceFiles()) {
      if (source.isDeclarationFile || source.fileName.includes('/node_modules/') || imports.has(source.fileName))
        continue;
      const to = [];
      for (const statement of source.statements) {
        if (!ts.isImportDeclaration(statement) && !ts.isExportDeclaration(statement)) continue;
        const { moduleSpecifier: from } = statement;
        const clause = ts.isImportDeclaration(statement) ? statement.importClause : statement;
        const names = clause?.namedBindings ?? clause?.exportClause;
        const typesAlone =
          clause?.isTypeOnly ||
          (!clause?.name && names?.elements?.length && names.elements.every((one) => one.isTypeOnly));
        if (!from || typesAlone) continue;
        const found = ts.resolveModuleName(
          from.text,
          source.fileName,
          program.getCompilerOptions(),
          ts.sys,
        ).resolvedModule;
        if (found && !found.isExternalLibraryImport) to.push(found.resolvedFileName);
      }
      imports.set(source.fileName, to);
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

const programs = PROJECTS.map(programOf);
if (only !== 'types') {
  const began = performance.now();
  globalThis.programsOfGemmel = programs;
  const eslint = new ESLint();
  const results = await eslint.lintFiles(['.']);
  const said = await (await eslint.loadFormatter('stylish')).format(results);
  if (said) console.log(said);
  const imports = importsOf(programs);
  const round = [
    ...circles(imports).map((circle) => circle.map((file) => path.relative('.', file))),
    ...circles(roomsOf(imports)).map((circle) => circle.map((room) => `the room ${room}`)),
  ];
  for (const circle of round) console.log(`These import each other in a circle: ${circle.join(', ')}`);
  note('lint', !round.length && !results.some((one) => one.errorCount + one.warningCount > 0), began);
}
if (process.env.READ_REPORT) writeFileSync(process.env.READ_REPORT, JSON.stringify(report));
process.exit(report.every((part) => part.right) ? 0 : 1);
