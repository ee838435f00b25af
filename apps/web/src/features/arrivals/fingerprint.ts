import type { Asked, Told } from '@/workers/fingerprint';

/** The file could not be read: it has gone, or may not be opened. */
export class Unreadable extends Error {}

type Waiting = { resolve: (sha256: string) => void; reject: (error: Error) => void };

let worker: Worker | null | undefined;
let last = 0;
const waiting = new Map<number, Waiting>();

function start(): Worker | null {
  if (worker !== undefined) return worker;
  if (typeof Worker === 'undefined') return (worker = null);
  worker = new Worker('/workers/fingerprint.js');
  worker.onmessage = ({ data }: MessageEvent<Told>) => {
    const mine = waiting.get(data.id);
    waiting.delete(data.id);
    if ('sha256' in data) mine?.resolve(data.sha256);
    else mine?.reject(new Unreadable(data.unreadable));
  };
  worker.onerror = () => {
    // Without it nothing is lost: the server looks at the fingerprint of everything that arrives.
    worker = null;
    for (const one of waiting.values()) one.resolve('');
    waiting.clear();
  };
  return worker;
}

/**
 * A file's SHA-256 in hex, worked out beside the page. Empty where browsers have no workers.
 * Throws {@link Unreadable} when the file cannot be read.
 */
export async function fingerprint(file: File): Promise<string> {
  const thread = start();
  if (!thread) return '';
  return new Promise((resolve, reject) => {
    const id = ++last;
    waiting.set(id, { resolve, reject });
    thread.postMessage({ id, file } satisfies Asked);
  });
}
