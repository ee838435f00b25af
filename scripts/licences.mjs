// Writes what ships with Gemmel and under what licence: docs/licences.md, and the list behind the household mark.
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import * as checker from 'license-checker-rseidelsohn';
import * as prettier from 'prettier';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const lock = JSON.parse(readFileSync(path.join(root, 'package-lock.json'), 'utf8')).packages;
/** What is installed to run, as the lock file says; what only builds and tests does not ship. */
const ships = new Set(
  Object.entries(lock)
    .filter(([at, one]) => at.includes('node_modules/') && !one.dev && !one.devOptional && !one.link)
    .map(([at, one]) => `${at.slice(at.lastIndexOf('node_modules/') + 'node_modules/'.length)}@${one.version}`),
);
const found = await promisify(checker.init)({ start: root, excludePrivatePackages: true });
const byLicence = new Map();
const seen = new Set();
for (const [name, { licenses }] of Object.entries(found)) {
  if (!ships.has(name)) continue;
  seen.add(name);
  const licence = (Array.isArray(licenses) ? licenses.join(' OR ') : String(licenses)).replace(/[()*]/g, '');
  byLicence.set(licence, [...(byLicence.get(licence) ?? []), name]);
}
// What is meant for other machines is not installed on this one.
const groups = [...byLicence]
  .map(([licence, packages]) => ({ licence, packages: packages.sort() }))
  .sort((a, b) => b.packages.length - a.packages.length || a.licence.localeCompare(b.licence));

/** What is no package: data, weights, programs of the machine. */
const others = JSON.parse(readFileSync(path.join(root, 'apps/web/src/features/library/others.json'), 'utf8'));
const write = async (file, text) =>
  writeFileSync(
    path.join(root, file),
    await prettier.format(text, { ...(await prettier.resolveConfig(path.join(root, file))), filepath: file }),
  );
await write('apps/web/src/features/library/packages.json', JSON.stringify(groups));
await write(
  'docs/licences.md',
  `# What ships, and under what licence

Written by \`node scripts/licences.mjs\`; run it after packages have changed. The same is shown in the application behind the
household mark. Gemmel's own code comes under no licence yet.

## Data, weights, fonts and programs

| what | from | licence | said where |
|---|---|---|---|
${others.map((o) => `| ${o.what} | ${o.from} | ${o.licence} | ${o.said} |`).join('\n')}

## Packages

${groups.map(({ licence, packages }) => `### ${licence} (${packages.length})\n\n${packages.join(', ')}`).join('\n\n')}
`,
);
console.log(`${seen.size} packages under ${groups.length} licences.`);
