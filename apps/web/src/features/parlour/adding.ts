import { create } from 'zustand';
import { call, Told, wordsOf } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { keepGiven, namedApart, sayGivenWaits, sendGiven } from '@/device/given';
import { upload } from '@/features/arrivals/upload';
import { sayReason } from '@/words/problems';

/** Files that were announced before, by what each of them is; and what is told once they are. */
interface Before {
  items?: readonly number[] | undefined;
  opened?: ((batch: number, items: readonly number[]) => Promise<unknown>) | undefined;
}

/** What came of a sending: how many files are still to be sent, and whether there was no line. */
interface Outcome {
  left: number;
  away: boolean;
}

/** Pictures a relative is sending. */
interface Adding {
  /** What has been sent, of how many bytes; null when nothing is on its way. */
  going: { sent: number; of: number; files: number } | null;
  /** What came of the last sending: how many files arrived, and what was wrong. */
  done: number;
  wrong: string;
  stop: () => void;
  send: (files: readonly File[], before?: Before) => Promise<Outcome>;
}

let held: (() => void) | null = null;
let stopped = false;
/** One sending waits for the one before. */
let last: Promise<unknown> = Promise.resolve();

async function sendNow(given: readonly File[], { items: known, opened }: Before): Promise<Outcome> {
  const set = useAdding.setState;
  const files = namedApart({ files: [...given] });
  const of = files.reduce((sum, { file }) => sum + file.size, 0);
  stopped = false;
  set({ going: { sent: 0, of, files: files.length }, done: 0, wrong: '' });
  const outcome: Outcome = { left: files.length, away: false };
  let [before, done] = [0, 0];
  try {
    let items = known;
    if (!items) {
      const announced = files.map(({ path, file }) => ({ path, bytes: file.size, modified: file.lastModified }));
      const batch = await call('openBatch', { body: { name: null, files: announced } });
      ({ items } = batch);
      await opened?.(batch.id, items);
    }
    for (const [i, { file }] of files.entries()) {
      if (stopped) break;
      const { done: end, hold } = upload(items[i]!, file, known !== undefined, (bytes) =>
        set({ going: { sent: before + bytes, of, files: files.length } }),
      );
      held = hold;
      const { how, ...more } = await end;
      if (how === 'sent') done++;
      else if ('reason' in more) set({ wrong: sayReason(more.reason) });
      else if (how === 'full') set({ wrong: wordsOf(null) });
      if (how === 'lost') outcome.away = true;
      else if (how !== 'full' && how !== 'held') outcome.left--;
      before += file.size;
    }
  } catch (error) {
    outcome.away = error instanceof Told && error.status === 0;
    set({ wrong: wordsOf(error) });
  }
  held = null;
  set({ going: null, done });
  refreshTopics('pictures', 'batches');
  // Whoever stops it wants no more of it.
  return stopped ? { left: 0, away: false } : outcome;
}

/** Sends pictures of a relative's own, one after another; it goes on while they look at other pages. */
export const useAdding = create<Adding>()(() => ({
  going: null,
  done: 0,
  wrong: '',
  stop: () => {
    stopped = true;
    held?.();
  },
  send: (files, before = {}) => {
    const sent = last.then(() => sendNow(files, before));
    last = sent;
    return sent;
  },
}));

/** Sends what a relative gave to this device from elsewhere: it stays there until all of it has come, or was refused. */
export const addGiven = (): Promise<void> =>
  sendGiven(async (given, id) => {
    const { left, away } = await useAdding.getState().send(given.files, {
      items: given.items,
      opened: (batch, items) => keepGiven({ ...given, batch, items }, id),
    });
    if (away) {
      useAdding.setState({ wrong: '' });
      sayGivenWaits(left);
    }
    return left === 0;
  });
