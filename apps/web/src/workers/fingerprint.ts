import { createSHA256 } from 'hash-wasm';

/** A file to be read, and what came of it. */
export interface Asked {
  id: number;
  file: File;
}
export type Told = { id: number; sha256: string } | { id: number; unreadable: string };

/** Files are read this many bytes at a time, so that a long clip does not fill the memory. */
const PIECE = 4 << 20;

async function fingerprint(file: File): Promise<string> {
  const hash = await createSHA256();
  hash.init();
  for (let at = 0; at < file.size; at += PIECE)
    hash.update(new Uint8Array(await file.slice(at, at + PIECE).arrayBuffer()));
  return hash.digest('hex');
}

self.onmessage = async ({ data: { id, file } }: MessageEvent<Asked>) => {
  const told: Told = await fingerprint(file).then(
    (sha256) => ({ id, sha256 }),
    (error: unknown) => ({ id, unreadable: error instanceof Error ? error.message : 'unreadable' }),
  );
  self.postMessage(told);
};
