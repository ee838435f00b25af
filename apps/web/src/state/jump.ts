/** Grids on screen, each told to bring a picture into sight; true when it shows it. */
const grids = new Set<(id: number) => boolean>();

/** Has a grid take part in jumps until what it answers is called. */
export function takesJumps(grid: (id: number) => boolean): () => void {
  grids.add(grid);
  return () => void grids.delete(grid);
}

/** Brings a picture into sight, in whatever grid shows it, and the keyboard with it. */
export function jumpTo(id: number): void {
  for (const grid of grids) if (grid(id)) return;
}
