import { createReadStream } from 'node:fs';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { DbAddress } from '../db/mariadb';
import { clientOf } from './client';

/** Statements of a dump that hold a table while it is filled: a line each, which no value can look like. */
const LOCKS = /^(?:UN)?LOCK TABLES[^\n]*;\n/gm;

/**
 * Leaves the locks out of a dump. Under them MariaDB cannot clear up behind what is filled, and does all of it at the end at once: with 100 000
 * pictures that takes minutes, and more memory than there is (seen with 10.11.19).
 */
export function withoutLocks(): Transform {
  let rest = '';
  return new Transform({
    transform(chunk: Buffer, _, done) {
      // Bytes as they are: a character a byte.
      const text = rest + chunk.toString('latin1');
      const whole = text.lastIndexOf('\n') + 1;
      rest = text.slice(whole);
      done(null, Buffer.from(text.slice(0, whole).replace(LOCKS, ''), 'latin1'));
    },
    flush(done) {
      done(null, Buffer.from(rest, 'latin1'));
    },
  });
}

/** Reads a dump into a database. @throws with what the client said. */
export async function loadDump(address: DbAddress, file: string, signal?: AbortSignal): Promise<void> {
  const client = clientOf(
    'mariadb',
    address,
    ['--init-command=SET SESSION unique_checks=0, foreign_key_checks=0', '--max-allowed-packet=64M'],
    ['pipe', 'ignore', 'pipe'],
    signal,
  );
  try {
    // A client that ends early breaks the pipe; why it did is what it said.
    const source = createReadStream(file, { highWaterMark: 1 << 20 });
    const into = client.child.stdin!;
    const piped = file.endsWith('.gz')
      ? pipeline(source, createGunzip(), withoutLocks(), into)
      : pipeline(source, withoutLocks(), into);
    await piped.catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPIPE') throw error;
    });
    await client.ended();
  } finally {
    client.end();
  }
}
