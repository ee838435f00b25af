import { plural, t } from '@lingui/core/macro';
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
  add: (ids: readonly number[]) => void;
  drop: (ids: readonly number[]) => void;
  toggle: (id: number) => void;
  /** Puts everything down. `quietly` when something else says what was done. */
  putDown: (quietly?: boolean) => void;
  setChoosing: (choosing: boolean) => void;
}

/** How long changes are gathered before they are sent, in ms. */
const GATHER = 250;

/** What was put on the pile and put down here, and has not been sent yet. */
let put = new Set<number>();
let drop = new Set<number>();
let timer: ReturnType<typeof setTimeout> | undefined;
let sending: Promise<void> = Promise.resolve();

const waits = (): boolean => put.size + drop.size > 0;

/** Sends what was changed here, not the whole pile: another browser of the same member may change it, too. */
async function send(): Promise<void> {
  const going = { put: [...put], drop: [...drop] };
  put = new Set();
  drop = new Set();
  try {
    let ids: number[] | null = null;
    if (going.drop.length) ({ ids } = await call('setPile', { body: { drop: going.drop } }));
    if (going.put.length) ({ ids } = await call('setPile', { body: { put: going.put } }));
    if (ids && !waits()) hold(ids);
  } catch (error) {
    trouble(error);
  }
}

/** Shows what is in hand by the server, with what was changed here since. */
function hold(ids: readonly number[]): void {
  const all = [...ids.filter((id) => !drop.has(id)), ...[...put].filter((id) => !ids.includes(id))];
  const before = usePile.getState().ids;
  if (all.length !== before.length || all.some((id, i) => id !== before[i]))
    usePile.setState({ ids: all, has: new Set(all) });
}

function change(to: 'put' | 'drop', ids: readonly number[]): void {
  for (const id of ids) {
    (to === 'put' ? drop : put).delete(id);
    (to === 'put' ? put : drop).add(id);
  }
  clearTimeout(timer);
  timer = setTimeout(() => {
    sending = sending.then(send);
  }, GATHER);
}

/** The pile outlives screens and devices: it is kept on the server, a moment behind what is shown. */
export const usePile = create<Pile>()((set, get) => ({
  ids: [],
  has: new Set(),
  choosing: false,
  load: async () => {
    await sending;
    const { ids } = await call('pile', {});
    hold(ids);
  },
  add: (ids) => {
    const fresh = [...new Set(ids)].filter((id) => !get().has.has(id));
    if (fresh.length === 0) return;
    const all = [...get().ids, ...fresh];
    set({ ids: all, has: new Set(all) });
    change('put', fresh);
  },
  drop: (ids) => {
    const going = new Set(ids);
    const all = get().ids.filter((id) => !going.has(id));
    set({ ids: all, has: new Set(all), ...(all.length ? {} : { choosing: false }) });
    change('drop', [...going]);
  },
  toggle: (id) => (get().has.has(id) ? get().drop([id]) : get().add([id])),
  putDown: (quietly = false) => {
    const before = get().ids;
    get().drop(before);
    if (!quietly)
      say(
        plural(before.length, {
          one: '# picture put down; nothing else changed',
          other: '# pictures put down; nothing else changed',
        }),
        { label: t`Undo`, act: async () => get().add(before) },
      );
  },
  setChoosing: (choosing) => set({ choosing }),
}));
