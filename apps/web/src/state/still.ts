/** How long nobody has moved anything when the page counts as still, in ms. */
const STILL = 1000;
/** What somebody who moves something sets off. */
const MOVES = ['scroll', 'pointerdown', 'keydown', 'wheel'] as const;

/**
 * Does what nobody waits for once the page is still, so that it does not come in the way of a scroll or a touch.
 * @param after not before so much time has gone, in ms. @param most after so much time at the latest, in ms.
 */
export function whenStill(work: () => void, after: number, most: number): void {
  const began = performance.now();
  let moved = -Infinity;
  const note = () => (moved = performance.now());
  for (const move of MOVES) addEventListener(move, note, { capture: true, passive: true });
  const look = () => {
    const now = performance.now();
    const wait = Math.min(moved + STILL - now, began + most - now);
    if (wait > 0) return void setTimeout(look, wait);
    for (const move of MOVES) removeEventListener(move, note, { capture: true });
    work();
  };
  setTimeout(look, after);
}
