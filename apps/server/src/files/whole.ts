import { open, rename } from 'node:fs/promises';

/** Writes a file so that nobody ever sees a part of it, however many write it at once. `sync` has it outlast a power cut. */
export async function writeWhole(file: string, data: Uint8Array, { sync = false } = {}): Promise<void> {
  const part = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}.part`;
  const handle = await open(part, 'w');
  try {
    await handle.writeFile(data);
    if (sync) await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(part, file);
}
