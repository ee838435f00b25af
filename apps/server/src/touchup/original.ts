import path from 'node:path';
import type { App } from '../context';
import { libraryFolder } from '../vault/vault';

/** The file a picture was taken with: its own, or for a look at another one's original that one's. */
export interface Original {
  file: string;
  name: string;
  format: string;
  bytes: number;
  sha256: Buffer;
}

interface Row {
  vault_path: string;
  name: string;
  format: string;
  bytes: number;
  sha256: Buffer;
  slug: string;
}

/** The original of a picture where it lies now, in the bin too; null when the picture is not there. */
export async function originalOf(app: App, library: number, id: number): Promise<Original | null> {
  const { db } = app;
  const row = (await db('pictures as p')
    .join('libraries as l', 'l.id', 'p.library_id')
    .where({ 'p.id': id, 'p.library_id': library })
    .first('p.vault_path', 'p.name', 'p.format', 'p.bytes', 'p.sha256', 'p.of_sha', 'l.slug')) as
    (Row & { of_sha: Buffer | null }) | undefined;
  if (!row) return null;
  const there = (found: Row): Original => ({
    file: path.join(libraryFolder(app, found.slug), found.vault_path),
    name: found.name,
    format: found.format,
    bytes: Number(found.bytes),
    sha256: found.sha256,
  });
  if (!row.of_sha) return there(row);
  const whole = (await db('pictures')
    .where({ library_id: library, sha256: row.of_sha })
    .first('vault_path', 'name', 'format', 'bytes', 'sha256')) as Omit<Row, 'slug'> | undefined;
  if (whole) return there({ ...whole, slug: row.slug });
  const binned = (await db('binned as b')
    .join('binned_files as f', 'f.picture_id', 'b.id')
    .where({ 'b.library_id': library, 'b.sha256': row.of_sha })
    .whereNull('f.file_id')
    .first('f.vault_path', 'f.name', 'f.bytes', 'f.sha256')) as Omit<Row, 'slug' | 'format'> | undefined;
  return binned ? there({ ...binned, format: row.format, slug: row.slug }) : null;
}

/** By what the sizes of a picture as it was taken are called: the fingerprint of its original. */
export const takenSha = ({ of_sha, sha256 }: { of_sha: Buffer | null; sha256: Buffer }): Buffer => of_sha ?? sha256;
