import { safeFileName, splitExtension, vaultFolder, type VaultLayout } from '@gemmel/core';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { defineJob, type Job } from '../jobs/kind';
import { SPAN, spanOf, type SpanRow } from '../time/span';
import { withFiles } from './lock';
import { freePath, replayMoves, type Stuck } from './moves';
import { libraryFolder } from './vault';

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
async function filedRows(app: App, library: number): Promise<{ rows: Filed[]; beside: Map<number, Beside[]> }> {
  const { db } = app;
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
  const files = (await db('picture_files')
    .where('library_id', library)
    .select('id', 'picture_id', 'role', 'name', 'vault_path')) as Beside[];
  const beside = new Map<number, Beside[]>();
  for (const file of files) beside.set(file.picture_id, [...(beside.get(file.picture_id) ?? []), file]);
  return { rows, beside };
}

/** Keeps folders and names on disk in step with days, events and names: every file that lies elsewhere moves, by journal. */
export async function refile(app: App, { library, report }: Job): Promise<void> {
  const { db } = app;
  const stuck = new Map<string, Stuck>();
  const replay = async () => {
    for (const one of await replayMoves(app, library)) stuck.set(one.path, one);
  };
  await withFiles(app, library, replay);
  const { slug, layout } = (await db('libraries').where('id', library).first('slug', 'layout')) as {
    slug: string;
    layout: VaultLayout;
  };
  const root = libraryFolder(app, slug);
  const { rows, beside } = await filedRows(app, library);
  const move = async (picture: number, file: number | null, from: string, folder: string, name: string) => {
    // A missing file is for the check to report, not for a move; one whose move is stuck is tried again later.
    if (stuck.has(from) || !(await stat(path.join(root, from)).catch(() => null))) return;
    await db('vault_moves').insert({
      picture_id: picture,
      file_id: file,
      library_id: library,
      from_path: from,
      to_path: await freePath(app, library, root, folder, name),
    });
    await replay();
  };
  const moves: (() => Promise<void>)[] = [];
  for (const row of rows) {
    const event = row.start ? { title: row.title, start: row.start } : null;
    const folder = vaultFolder(row.day, event, layout, spanOf(row));
    const stays = (at: string, name: string) => path.dirname(at) === folder && isCalled(at, name);
    if (!stays(row.vault_path, row.name)) moves.push(() => move(row.id, null, row.vault_path, folder, row.name));
    for (const file of beside.get(row.id) ?? []) {
      const name = besideName(file, row);
      if (!stays(file.vault_path, name)) moves.push(() => move(row.id, file.id, file.vault_path, folder, name));
    }
  }
  for (const [i, act] of moves.entries()) {
    await withFiles(app, library, act);
    report(i + 1, moves.length);
  }
  if (moves.length) app.changed(library, 'pictures');
  const [first] = stuck.values();
  if (first) throw new Error(`${stuck.size} files could not be moved, among them ${first.path}: ${first.why}`);
}

declare module '../jobs/kind' {
  interface JobPayloads {
    refile: null;
  }
}

/** Moving pictures to the folder of their event. */
export const refileJob = defineJob({
  kind: 'refile',
  what: 'Moving pictures to the folder of their event',
  priority: 4,
  alone: true,
  topic: 'filing',
  run: refile,
});
