import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { DbAddress } from '../db/mariadb';
import { clientOf } from './client';

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
    const piped = file.endsWith('.gz') ? pipeline(source, createGunzip(), into) : pipeline(source, into);
    await piped.catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPIPE') throw error;
    });
    await client.ended();
  } finally {
    client.end();
  }
}
