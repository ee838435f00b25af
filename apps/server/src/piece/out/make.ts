import type { PieceSettings } from '@gemmel/contract';
import { safeFolderName } from '@gemmel/core';
import { stringify } from 'csv-stringify/sync';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { manifestOf, shelvesOf } from '../../album/manifest';
import { giveOut } from '../giving';
import type { Made, Making } from '../maker';
import { makeCopies, type Copy } from './copies';

type OutMaking = Making<Extract<PieceSettings, { kind: 'out' }>>;

/** The albums that hold any of these pictures, each as JSON and as a table, with those pictures alone. */
async function albumsOf({ app, library, of, parts }: OutMaking, copies: readonly Copy[]): Promise<Copy[]> {
  const { db } = app;
  const ids = new Set(of.pictures.map(({ id }) => id));
  const fileById = new Map(copies.flatMap((copy) => (copy.picture === null ? [] : [[copy.picture, copy.to] as const])));
  const shas = new Map(
    (
      await db('pictures')
        .where('library_id', library)
        .whereIn('id', [...ids])
        .select('id', 'sha256')
    ).map(({ id, sha256 }) => [sha256.toString('hex'), id]),
  );
  const rows = await db('albums')
    .where('library_id', library)
    .whereNull('removed_at')
    .whereIn(
      'id',
      db('album_pictures')
        .whereIn('picture_id', [...ids])
        .select('album_id'),
    )
    .orderBy('id');
  const shelves = await shelvesOf(app, library);
  const out: Copy[] = [];
  for (const row of rows) {
    const whole = await manifestOf(app, library, row, shelves);
    const items = whole.items.flatMap((item) => {
      if (!('picture' in item)) return [item];
      const file = fileById.get(shas.get(item.picture) ?? 0);
      return file ? [{ ...item, file }] : [];
    });
    const mine = (list: readonly string[]) => list.filter((sha) => shas.has(sha));
    const manifest = {
      ...whole,
      items,
      putIn: mine(whole.putIn),
      keptOut: mine(whole.keptOut),
      cover: whole.cover && shas.has(whole.cover) ? whole.cover : null,
    };
    const base = `${safeFolderName(row.name) || 'Album'} (${row.id})`;
    const table = items.map((item) =>
      'picture' in item ? [item.file, '', ''] : ['', item.heading ?? '', item.note ?? ''],
    );
    for (const [ending, text] of [
      ['json', JSON.stringify(manifest, null, 1)],
      ['csv', stringify([['file', 'heading', 'note'], ...table])],
    ] as const) {
      const file = path.join(parts, `album-${row.id}.${ending}`);
      await writeFile(file, text);
      out.push({ file, to: `albums/${base}.${ending}`, picture: null });
    }
  }
  return out;
}

/** Gives copies out: as a ZIP, or into a folder of this machine. */
export async function makeOut(making: OutMaking): Promise<Made> {
  const { settings, of, report } = making;
  const { copies, missing } = await makeCopies(making);
  const all = [...copies, ...(settings.albums ? await albumsOf(making, copies) : [])];
  const pictures = of.pictures.length;
  const files = await giveOut(making, all, settings.folder, (done) => report(pictures + done, pictures + all.length));
  return { files, missing };
}
