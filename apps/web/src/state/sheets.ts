import { create } from 'zustand';

/** Sheets that are open, the topmost last. What is to be seen above them must be drawn inside the topmost. */
export const useSheets = create<{ open: readonly HTMLElement[] }>()(() => ({ open: [] }));

/** Notes a sheet while it is open; call what this answers when it is put away. */
export function noteSheet(sheet: HTMLElement): () => void {
  useSheets.setState(({ open }) => ({ open: [...open, sheet] }));
  return () => useSheets.setState(({ open }) => ({ open: open.filter((one) => one !== sheet) }));
}
