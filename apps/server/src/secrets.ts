import { randomBytes } from 'node:crypto';
import { closeSync, fsyncSync, mkdirSync, openSync, readFileSync, renameSync, writeSync } from 'node:fs';
import path from 'node:path';

/** What nobody outside may know: the database's password, and the key the links of shares are sealed with. */
export interface Secrets {
  db: string;
  links: string;
}

function read(file: string): Secrets | 'missing' | 'broken' {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return 'missing';
    throw error;
  }
  try {
    const { db, links } = JSON.parse(text) as Partial<Secrets>;
    return typeof db === 'string' && typeof links === 'string' && db.length >= 12 && links.length >= 12
      ? { db, links }
      : 'broken';
  } catch {
    return 'broken';
  }
}

/**
 * Reads a data folder's secrets, and makes new ones when they are lost or cannot be read: the database's password is set
 * anew at the next start, and shares get new links. A file that cannot be read is kept under another name.
 */
export function secretsOf(data: string): Secrets {
  const file = path.join(data, 'secrets.json');
  const found = read(file);
  if (typeof found === 'object') return found;
  const made: Secrets = { db: randomBytes(24).toString('base64url'), links: randomBytes(32).toString('base64url') };
  mkdirSync(data, { recursive: true, mode: 0o700 });
  if (found === 'broken') renameSync(file, `${file}.unreadable-${Date.now()}`);
  const part = `${file}.${process.pid}.part`;
  const handle = openSync(part, 'w', 0o600);
  writeSync(handle, JSON.stringify(made));
  fsyncSync(handle);
  closeSync(handle);
  renameSync(part, file);
  return made;
}
