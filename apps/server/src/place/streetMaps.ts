import { readdir } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';

/** Names of the street maps (PMTiles archives) that lie right in the data folder. */
export async function streetMaps(app: App): Promise<string[]> {
  const names = await readdir(app.config.data);
  return names.filter((name) => /^[^.].*\.pmtiles$/i.test(name)).sort();
}

/** The file of a street map by its name; null when there is none of that name. */
export async function streetMapFile(app: App, name: string): Promise<string | null> {
  return (await streetMaps(app)).includes(name) ? path.join(app.config.data, name) : null;
}
