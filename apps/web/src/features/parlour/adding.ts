import { create } from 'zustand';
import { call, wordsOf } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { upload } from '@/features/arrivals/upload';
import { sayReason } from '@/words/problems';

/** Pictures a relative is sending. */
interface Adding {
  /** What has been sent, of how many bytes; null when nothing is on its way. */
  going: { sent: number; of: number; files: number } | null;
  /** What came of the last sending: how many files arrived, and what was wrong. */
  done: number;
  wrong: string;
  stop: () => void;
  send: (files: readonly File[]) => Promise<void>;
}

let held: (() => void) | null = null;
let stopped = false;

/** Sends pictures of a relative's own, one after another; it goes on while they look at other pages. */
export const useAdding = create<Adding>()((set) => ({
  going: null,
  done: 0,
  wrong: '',
  stop: () => {
    stopped = true;
    held?.();
  },
  send: async (files) => {
    const of = files.reduce((sum, file) => sum + file.size, 0);
    stopped = false;
    set({ going: { sent: 0, of, files: files.length }, done: 0, wrong: '' });
    let before = 0;
    let done = 0;
    try {
      const { items } = await call('openBatch', {
        body: {
          name: null,
          files: files.map((file) => ({ path: file.name, bytes: file.size, modified: file.lastModified })),
        },
      });
      for (const [i, file] of files.entries()) {
        if (stopped) break;
        const { done: end, hold } = upload(items[i]!, file, false, (bytes) =>
          set({ going: { sent: before + bytes, of, files: files.length } }),
        );
        held = hold;
        const outcome = await end;
        if (outcome.how === 'sent') done++;
        else if (outcome.how === 'refused') set({ wrong: sayReason(outcome.reason) });
        else if (outcome.how === 'full') set({ wrong: wordsOf(null) });
        before += file.size;
      }
    } catch (error) {
      set({ wrong: wordsOf(error) });
    }
    held = null;
    set({ going: null, done });
    refreshTopics('pictures', 'batches');
  },
}));
