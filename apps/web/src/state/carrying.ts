import { create } from 'zustand';

/** An album or a shelf that is carried by the pointer from one place of the tree to another. */
export interface CarriedRow {
  kind: 'album' | 'shelf';
  id: number;
  name: string;
}

/** Pictures that are carried by the pointer: where it is, and the album it is over. */
interface CarriedPictures {
  ids: readonly number[];
  x: number;
  y: number;
  over: number | null;
}

interface Carrying {
  row: CarriedRow | null;
  pictures: CarriedPictures | null;
}

/** What is in the air right now, on a wide screen. */
export const useCarrying = create<Carrying>()(() => ({ row: null, pictures: null }));

/** How far the pointer goes before it carries, in CSS pixels. */
const MOVED = 8;

const albumAt = (x: number, y: number): number | null => {
  const there = document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-drop]')?.dataset['drop'];
  return there === undefined ? null : Number(there);
};

/**
 * Carries pictures from the moment the pointer went down until it is let go, wherever that is. `drop` is told the album they were let go over;
 * `begun` that something is carried, so that the click that follows is none.
 */
export function carryPictures(
  ids: readonly number[],
  start: { clientX: number; clientY: number },
  drop: (album: number, ids: readonly number[]) => void,
  begun: () => void,
): void {
  const move = (event: globalThis.PointerEvent) => {
    const { clientX: x, clientY: y } = event;
    if (!useCarrying.getState().pictures) {
      if (Math.hypot(x - start.clientX, y - start.clientY) < MOVED) return;
      begun();
    }
    useCarrying.setState({ pictures: { ids, x, y, over: albumAt(x, y) } });
  };
  const away = () => {
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', end);
    window.removeEventListener('pointercancel', away);
    window.removeEventListener('keydown', key, true);
    useCarrying.setState({ pictures: null });
  };
  const end = (event: globalThis.PointerEvent) => {
    const carried = useCarrying.getState().pictures;
    const album = carried && albumAt(event.clientX, event.clientY);
    away();
    if (album) drop(album, ids);
  };
  const key = (event: globalThis.KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    away();
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', end);
  window.addEventListener('pointercancel', away);
  window.addEventListener('keydown', key, true);
}
