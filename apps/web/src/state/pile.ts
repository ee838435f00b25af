import { create } from 'zustand';
import { call } from '@/api/client';
import { say, trouble } from './toast';

interface Pile {
  /** Pictures in hand, in the order they were picked. */
  ids: number[];
  has: Set<number>;
  /** On the phone: taps choose pictures instead of opening them. */
  choosing: boolean;
  load: () => Promise<void>;
  set: (ids: readonly number[]) => void;
  add: (ids: readonly number[]) => void;
  drop: (ids: readonly number[]) => void;
  toggle: (id: number) => void;
  putDown: () => void;
  setChoosing: (choosing: boolean) => void;
}

let timer: ReturnType<typeof setTimeout> | undefined;
let sending: Promise<unknown> = Promise.resolve();

/** The pile outlives screens and devices: it is kept on the server, a moment behind what is shown. */
function keep(ids: readonly number[]): void {
  clearTimeout(timer);
  timer = setTimeout(() => {
    sending = sending.then(() => call('setPile', { body: { ids: [...ids] } })).catch(trouble);
  }, 250);
}

export const usePile = create<Pile>()((set, get) => {
  const put = (ids: number[]) => {
    set({ ids, has: new Set(ids), ...(ids.length ? {} : { choosing: false }) });
    keep(ids);
  };
  return {
    ids: [],
    has: new Set(),
    choosing: false,
    load: async () => {
      const { ids } = await call('pile', {});
      set({ ids, has: new Set(ids) });
    },
    set: (ids) => put([...ids]),
    add: (ids) => put([...get().ids, ...ids.filter((id) => !get().has.has(id))]),
    drop: (ids) => {
      const going = new Set(ids);
      put(get().ids.filter((id) => !going.has(id)));
    },
    toggle: (id) => (get().has.has(id) ? get().drop([id]) : get().add([id])),
    putDown: () => {
      const before = get().ids;
      put([]);
      say(
        `${before.length === 1 ? 'The picture is' : `${before.length} pictures are`} put down; nothing else changed.`,
        async () => get().set(before),
      );
    },
    setChoosing: (choosing) => set({ choosing }),
  };
});
