import { readFileSync } from 'node:fs';
import path from 'node:path';
import packages from './packages.json';

test('everything that is installed to run is listed with its licence; what only builds and tests is not', () => {
  const { packages: lock } = JSON.parse(
    readFileSync(path.resolve(__dirname, '../../../../../package-lock.json'), 'utf8'),
  ) as {
    packages: Record<
      string,
      { version: string; dev?: boolean; devOptional?: boolean; link?: boolean; optional?: boolean }
    >;
  };
  const name = (at: string) => at.slice(at.lastIndexOf('node_modules/') + 'node_modules/'.length);
  const inside = Object.entries(lock).filter(([at]) => at.includes('node_modules/'));
  const listed = new Set(packages.flatMap((group) => group.packages));
  const missing = inside
    .filter(([, one]) => !one.dev && !one.devOptional && !one.link && !one.optional)
    .map(([at, one]) => `${name(at)}@${one.version}`)
    .filter((one) => !listed.has(one));
  expect(missing).toEqual([]);
  const all = new Set(inside.map(([at, one]) => `${name(at)}@${one.version}`));
  expect([...listed].filter((one) => !all.has(one))).toEqual([]);
});
