/** What an address of a picture file says so that it is asked of the server itself: see the service worker's way past itself. */
export const LINE = 'line';
/** A tile of the grid takes about this much of the window, in square pixels; it holds some more than fit. */
const TILE = 13_000;

/** Images that are held until the grid has asked for them as well, and for how long at most, in ms: the browser would let go of them before. */
let held: HTMLImageElement[] = [];
const HELD = 10_000;

/**
 * Has the pictures the window begins with fetched while the page that shows them is still being made. `named` is what addresses of this
 * tab's pictures ask, as `inLibrary` says it; an address has to be the grid's own to be fetched once only.
 */
export function fetchFirst(tiles: readonly { sha: string }[], named: string): void {
  // Without a line the grid shows what the device keeps.
  if (!navigator.onLine) return;
  const some = tiles.slice(0, Math.ceil((window.innerWidth * window.innerHeight) / TILE));
  for (const { sha } of some) {
    const image = new Image();
    image.src = `/api/derived/${sha}/small?${named ? `${named}&` : ''}${LINE}`;
    held.push(image);
  }
  setTimeout(() => (held = []), HELD);
}
