import { safeFileName, splitExtension, vaultFolder, type VaultLayout, WORDS, type Language } from '@gemmel/core';
import path from 'node:path';
import type { DbAddress } from '../db/mariadb';
import type { Db } from '../db/open';
import { connectionTo } from '../db/threads';
import { SPAN, spanOf, type SpanRow } from '../time/span';

interface Filed extends SpanRow {
  id: number;
  name: string;
  original_name: string | null;
  vault_path: string;
  day: string | null;
  title: string | null;
  start: string | null;
}

interface Beside {
  id: number;
  picture_id: number;
  role: string;
  name: string;
  vault_path: string;
}

/** The folder of a library's vault for what is in the bin. */
export const BIN = 'bin';

/** Whether a file is called what it should be, a running number for twins aside. */
function isCalled(vaultPath: string, name: string): boolean {
  const own = path.basename(vaultPath);
  const wanted = safeFileName(name);
  if (own === wanted) return true;
  const [stem, extension] = splitExtension(wanted);
  return own.startsWith(`${stem} (`) && /^\d+\)$/.test(own.slice(stem.length + 2, own.length - extension.length));
}

/** What a file beside a picture is called: its own name, or the picture's new one with its own ending. */
function besideName(file: Beside, picture: Filed): string {
  const came = file.role === 'said' ? file.name.replace(/\.xmp$/i, '.brought.xmp') : file.name;
  if (!picture.original_name) return came;
  const [before] = splitExtension(picture.original_name);
  return came.toLowerCase().startsWith(before.toLowerCase())
    ? splitExtension(picture.name)[0] + came.slice(before.length)
    : came;
}

/** Everything of a library whose place or name on disk is to be looked at. */
async function filedRows(db: Db, library: number): Promise<{ rows: Filed[]; beside: Map<number, Beside[]> }> {
  const rows = (await db('pictures as p')
    .leftJoin('events as e', 'e.id', 'p.event_id')
    .where('p.library_id', library)
    .select(
      'p.id',
      'p.name',
      'p.original_name',
      'p.vault_path',
      'p.day',
      'e.title',
      'e.start_day as start',
      ...SPAN.map((column) => `p.${column}`),
    )) as Filed[];
  const files = await db('picture_files')
    .where('library_id', library)
    .select('id', 'picture_id', 'role', 'name', 'vault_path');
  const beside = new Map<number, Beside[]>();
  for (const file of files) {
    const list = beside.get(file.picture_id);
    if (list) list.push(file);
    else beside.set(file.picture_id, [file]);
  }
  return { rows, beside };
}

/** A file that lies in another folder than it should, or is called something else. */
export interface Misfiled {
  picture: number;
  /** A file beside the picture; null for its original. */
  file: number | null;
  from: string;
  folder: string;
  name: string;
}

/** Files of pictures in the bin that do not lie there yet. They keep their folders below it. */
async function misbinned(db: Db, library: number): Promise<Misfiled[]> {
  const files = await db('binned_files')
    .where('library_id', library)
    .whereNot('vault_path', 'like', `${BIN}/%`)
    .orderBy('id')
    .select('picture_id', 'file_id', 'vault_path');
  return files.map(({ picture_id, file_id, vault_path }) => ({
    picture: picture_id,
    file: file_id,
    from: vault_path,
    folder: path.join(BIN, path.dirname(vault_path)),
    name: path.basename(vault_path),
  }));
}

/** Every file of a library that is to move, by days, events and names. Reads them all, so it runs in a thread of its own. */
export async function filingTask({
  library,
  layout,
  language,
  address,
}: {
  library: number;
  layout: VaultLayout;
  language: Language;
  address: DbAddress;
}): Promise<Misfiled[]> {
  const db = connectionTo(address);
  const { rows, beside } = await filedRows(db, library);
  const found: Misfiled[] = [];
  for (const row of rows) {
    const event = row.start ? { title: row.title, start: row.start } : null;
    const folder = vaultFolder(row.day, event, layout, spanOf(row), WORDS[language]);
    const stays = (at: string, name: string) => path.dirname(at) === folder && isCalled(at, name);
    if (!stays(row.vault_path, row.name))
      found.push({ picture: row.id, file: null, from: row.vault_path, folder, name: row.name });
    for (const file of beside.get(row.id) ?? []) {
      const name = besideName(file, row);
      if (!stays(file.vault_path, name))
        found.push({ picture: row.id, file: file.id, from: file.vault_path, folder, name });
    }
  }
  return [...found, ...(await misbinned(db, library))];
}
