import { t } from '@lingui/core/macro';
import { create } from 'zustand';
import type { Batch } from '@gemmel/contract';
import { call, Told } from '@/api/client';
import { keepGiven, namedApart, sayGivenWaits, sendGiven } from '@/device/given';
import { refresh } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { sayBytes } from '@/ui/say';
import { Courier, type Progress, type Queued } from './courier';
import { keep, keepFolder, kept, keptFolder, release, releaseFolder } from './keeping';
import { behind, type Bundle, type Found } from './walk';

interface Store {
  sendings: Record<number, Progress>;
  /** Batches whose folder this browser may open again after one touch. */
  doors: Record<number, FileSystemDirectoryHandle>;
}

/** What this browser is sending, by batch. */
export const useSending = create<Store>()(() => ({ sendings: {}, doors: {} }));

const couriers = new Map<number, Courier>();

function begin(batch: number, queue: readonly Queued[]): void {
  const courier = new Courier(batch, queue, (progress) => {
    useSending.setState(({ sendings }) => ({ sendings: { ...sendings, [batch]: progress } }));
    if (progress.state === 'done') {
      void releaseFolder(batch);
      refresh('batches', 'batch', 'library');
    }
  });
  couriers.set(batch, courier);
  useSending.setState(({ sendings, doors: { [batch]: _, ...doors } }) => ({
    sendings: { ...sendings, [batch]: { ...courier.progress } },
    doors,
  }));
  courier.run();
  claim(batch);
}

/** Says to other pages of this browser that this one sends a batch. */
function claim(batch: number): void {
  void navigator.locks?.request(lockOf(batch), { ifAvailable: true }, (lock) => (lock ? forEver() : undefined));
}
const lockOf = (batch: number) => `gemmel-sending-${batch}`;
const forEver = () => new Promise<void>(() => undefined);

/** A line that came back is used at once. */
if (typeof window !== 'undefined')
  window.addEventListener('online', () => {
    for (const courier of couriers.values()) if (courier.progress.state === 'lost') courier.run();
  });

/** Files that a batch still waits for, by path. */
async function waitingOf(batch: number): Promise<Map<string, { item: number; bytes: number }>> {
  const found = new Map<string, { item: number; bytes: number }>();
  for (let after: number | null = 0; after !== null;) {
    const page: Awaited<ReturnType<typeof items>> = await items(batch, after);
    for (const one of page.items) if (one.state === 'waiting') found.set(one.path, { item: one.id, bytes: one.bytes });
    after = page.after;
  }
  return found;
}
const items = (batch: number, after: number) =>
  call('batchItems', { params: { id: batch }, body: { fate: 'coming', after, limit: 5000 } });

const sameFile = (found: Found, waits: { bytes: number } | undefined) => waits?.bytes === found.file.size;

/** Goes on with a batch from files that were found again; answers with how many of them it waited for. */
async function goOnWith(batch: number, files: readonly Found[]): Promise<number> {
  const waits = await waitingOf(batch);
  const queue = files.flatMap((found): Queued[] => {
    const mine = waits.get(found.path);
    return mine && sameFile(found, mine) ? [{ item: mine.item, found, before: true }] : [];
  });
  if (queue.length) begin(batch, queue);
  return queue.length;
}

/** A batch that waits for files of this bundle, when its page was closed before all of them had come. */
async function interrupted(bundle: Bundle, batches: readonly Batch[]): Promise<number | null> {
  for (const batch of batches) {
    if (batch.way !== 'browser' || batch.counts.waiting === 0) continue;
    const state = useSending.getState().sendings[batch.id]?.state;
    if (state && state !== 'done') continue;
    if (await goOnWith(batch.id, bundle.files)) {
      if (batch.state === 'stopped') await call('resumeBatch', { params: { id: batch.id } });
      return batch.id;
    }
  }
  return null;
}

/** Says so beforehand when what was dropped may not fit; it comes in as far as it goes, and the rest when there is room. */
async function warnOfRoom(bundles: readonly Bundle[]): Promise<void> {
  const needed = bundles.reduce((sum, b) => sum + b.files.reduce((bytes, { file }) => bytes + file.size, 0), 0);
  const left = await call('room', {}).then(
    (room) => room.left,
    () => Infinity,
  );
  if (needed > left)
    say(
      t`This needs ${sayBytes(needed)}; free: ${sayBytes(left)}. It stops safely when the disk is full and continues when there is space.`,
    );
}

/** Announces what was given to this device while no page was open, or while there was no line. */
export const takeGiven = (): Promise<void> =>
  sendGiven(async (given, id) => {
    const files = namedApart(given);
    if (given.batch === undefined)
      return announce({ name: given.name ?? null, files }, (batch) => keepGiven({ ...given, batch }, id));
    await goOnWith(given.batch, files);
    return true;
  });

/** Opens a batch for a bundle and begins to send it. False when there was no line; then it is kept on this device. */
async function announce(
  { name, files, door }: Bundle,
  opened: (batch: number) => Promise<unknown> = () => Promise.resolve(),
): Promise<boolean> {
  try {
    const { id, items: ids } = await call('openBatch', {
      body: {
        name: name?.slice(0, 160) ?? null,
        files: files.map(({ path, file }) => ({
          path,
          bytes: file.size,
          modified: Math.max(0, file.lastModified || 0),
        })),
      },
    });
    await opened(id);
    begin(
      id,
      files.map((found, i) => ({ item: ids[i]!, found, before: false })),
    );
    const kept = door
      ? keepFolder(id, door)
      : keep(files.map(({ path, file }, i) => ({ batch: id, item: ids[i]!, path, file })));
    refresh('batches', 'library');
    await kept;
    return true;
  } catch (error) {
    if (error instanceof Told && error.status === 0) return false;
    throw error;
  }
}

/** Announces every bundle as a batch and sends its files, several batches side by side. */
export async function takeIn(bundles: readonly Bundle[]): Promise<void> {
  const before = await call('batches', {}).then(
    (answer) => answer.batches,
    (): Batch[] => [],
  );
  void warnOfRoom(bundles);
  for (const bundle of bundles) {
    try {
      if ((await interrupted(bundle, before)) !== null) continue;
      if (await announce(bundle)) continue;
      const { name, files } = bundle;
      const kept = await keepGiven({
        at: Date.now(),
        name,
        files: files.map(({ file }) => file),
        paths: files.map(({ path }) => path),
      });
      if (!kept) throw new Told(null, 0);
      sayGivenWaits(files.length);
    } catch (error) {
      trouble(error);
    }
  }
}

/** Pauses a batch; what is stored stays. */
export async function pause(batch: number): Promise<void> {
  couriers.get(batch)?.hold();
  try {
    await call('stopBatch', { params: { id: batch } });
  } catch (error) {
    trouble(error);
  }
  refresh('batches', 'batch', 'library');
}

/** Goes on with a paused or interrupted batch. */
export async function goOn(batch: number, stopped: boolean): Promise<void> {
  try {
    if (stopped) await call('resumeBatch', { params: { id: batch } });
    const door = useSending.getState().doors[batch];
    if (couriers.has(batch)) couriers.get(batch)!.run();
    else if (door) {
      const asked = door as FileSystemDirectoryHandle & { requestPermission?: (how: object) => Promise<string> };
      if ((await asked.requestPermission?.({ mode: 'read' })) === 'granted') await goOnWith(batch, await behind(door));
    }
  } catch (error) {
    trouble(error);
  }
  refresh('batches', 'batch', 'library');
}

/** Ends a batch here: files that never came are named as left out. */
export async function endHere(batch: number): Promise<void> {
  couriers.get(batch)?.hold();
  couriers.delete(batch);
  useSending.setState(({ sendings: { [batch]: _, ...sendings } }) => ({ sendings }));
  try {
    await call('giveUpWaiting', { params: { id: batch } });
    await releaseFolder(batch);
    const mine = (await kept()).get(batch) ?? [];
    await release(
      batch,
      mine.map((one) => one.item),
    );
  } catch (error) {
    trouble(error);
  }
  refresh('batches', 'batch', 'library');
}

/** Only one open page of this browser sends a batch that was interrupted. */
function alone(batch: number, act: () => Promise<void>): void {
  if (!navigator.locks) return void act();
  void navigator.locks.request(lockOf(batch), { ifAvailable: true }, async (lock) => {
    if (!lock) return;
    await act();
    // Held as long as this page lives.
    await forEver();
  });
}

let looked = false;

/** After a reload: goes on with what was being sent when the page closed. Once a page. */
export async function goOnAfterReload(): Promise<void> {
  if (looked) return;
  looked = true;
  const found = await kept();
  const { batches } = await call('batches', {});
  for (const [id, files] of found) {
    const batch = batches.find((one) => one.id === id);
    if (!batch || batch.state === 'done' || batch.counts.waiting === 0)
      await release(
        id,
        files.map((one) => one.item),
      );
    else if (batch.state === 'coming') alone(id, async () => void (await goOnWith(id, files)));
  }
  for (const batch of batches) {
    if (batch.counts.waiting === 0 || found.has(batch.id) || couriers.has(batch.id)) continue;
    const door = await keptFolder(batch.id);
    if (!door) continue;
    const open = door as FileSystemDirectoryHandle & { queryPermission?: (how: object) => Promise<string> };
    if (batch.state === 'coming' && (await open.queryPermission?.({ mode: 'read' })) === 'granted')
      alone(batch.id, async () => void (await goOnWith(batch.id, await behind(door))));
    else useSending.setState(({ doors }) => ({ doors: { ...doors, [batch.id]: door } }));
  }
}
