import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { DemoFiles } from '../src/faces/household.testing';

const folder = path.join(__dirname, '../../../demo');

/** The files of the demo household, read from the disk. */
export const demo: DemoFiles = {
  json: <T>(name: string) => JSON.parse(readFileSync(path.join(folder, name), 'utf8')) as T,
  bytes: (name) => readFileSync(path.join(folder, name)),
};
