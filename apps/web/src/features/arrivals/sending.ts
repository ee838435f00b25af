import { create } from 'zustand';
import { call, send, Told, wordsOf } from '@/api/client';
import { refresh } from '@/api/query';
import { trouble } from '@/state/toast';
import type { Bundle, Found } from './walk';

const AT_ONCE = 3;

/** A batch whose bytes are on their way from this browser. */
interface Sending {
  batch: number;
  waiting: { item: number; found: Found }[];
  total: number;
  sent: number;
  state: 'sending' | 'stopped' | 'lost' | 'done';
  /** Files that this browser could not read, with the reason. */
  unread: { path: string; reason: string }[];
}

interface Store {
  sendings: Record<number, Sending>;
}

/** What this browser is sending, by batch. */
export const useSending = create<Store>()(() => ({ sendings: {} }));

const get = (batch: number) => useSending.getState().sendings[batch];
function set(batch: number, change: Partial<Sending>): void {
  useSending.setState(({ sendings }) => {
    const old = sendings[batch];
    return old ? { sendings: { ...sendings, [batch]: { ...old, ...change } } } : { sendings };
  });
}
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Sends one file; a broken connection is tried again, more slowly each time. Answers false when it has to wait. */
async function sendOne(batch: number, item: number, found: Found): Promise<boolean> {
  for (let tries = 0; ; tries++) {
    try {
      await send(`/api/batches/${batch}/items/${item}`, {
        method: 'PUT',
        body: found.file,
        headers: { 'content-type': 'application/octet-stream' },
      });
      return true;
    } catch (error) {
      const told = error instanceof Told ? error : null;
      if (told?.status === 507) {
        trouble(error);
        return false;
      }
      const passing = !told || told.status === 0 || told.status >= 500 || told.status === 400;
      if (!passing) {
        set(batch, { unread: [...(get(batch)?.unread ?? []), { path: found.path, reason: wordsOf(error) }] });
        return true;
      }
      if (tries === 5) return false;
      await pause(500 * 2 ** tries);
      if (get(batch)?.state !== 'sending') return false;
    }
  }
}

async function lane(batch: number): Promise<void> {
  for (;;) {
    const now = get(batch);
    if (now?.state !== 'sending') return;
    const [next, ...rest] = now.waiting;
    if (!next) return;
    set(batch, { waiting: rest });
    const done = await sendOne(batch, next.item, next.found);
    const after = get(batch)!;
    if (done) set(batch, { sent: after.sent + 1 });
    else {
      set(batch, { waiting: [next, ...after.waiting], state: after.state === 'sending' ? 'lost' : after.state });
      return;
    }
  }
}

async function run(batch: number): Promise<void> {
  set(batch, { state: 'sending' });
  await Promise.all(Array.from({ length: AT_ONCE }, () => lane(batch)));
  const end = get(batch);
  if (end?.state === 'sending' && end.waiting.length === 0) set(batch, { state: 'done' });
  refresh('batches', 'library');
}

/** Announces every bundle as a batch and sends its files, several batches side by side. */
export async function takeIn(bundles: readonly Bundle[]): Promise<void> {
  for (const { name, files } of bundles) {
    try {
      const { id, items } = await call('openBatch', {
        body: { name: name.slice(0, 160), files: files.map(({ path, file }) => ({ path, bytes: file.size })) },
      });
      const waiting = files.map((found, i) => ({ item: items[i]!, found }));
      useSending.setState(({ sendings }) => ({
        sendings: {
          ...sendings,
          [id]: { batch: id, waiting, total: files.length, sent: 0, state: 'sending', unread: [] },
        },
      }));
      refresh('batches', 'library');
      void run(id);
    } catch (error) {
      trouble(error);
    }
  }
}

/** Stops a batch; what is stored stays. */
export async function stop(batch: number): Promise<void> {
  set(batch, { state: 'stopped' });
  try {
    await call('stopBatch', { params: { id: batch } });
  } catch (error) {
    trouble(error);
  }
  refresh('batches', 'library');
}

/** Goes on with a stopped or interrupted batch. */
export async function goOn(batch: number, stopped: boolean): Promise<void> {
  try {
    if (stopped) await call('resumeBatch', { params: { id: batch } });
    if (get(batch)) void run(batch);
  } catch (error) {
    trouble(error);
  }
  refresh('batches', 'library');
}
