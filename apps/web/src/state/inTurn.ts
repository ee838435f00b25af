import { useLine } from '@/device/line';
import { LINE } from '@/opening/first';

/** How long a file is waited for before what the device keeps of it is shown, and how long what is only near waits at most, in ms. */
const PATIENCE = 1500;
const HELD = 400;

/** Pictures in the window that are on their way, and what is near it and waits for them. */
const first = new Set<HTMLImageElement>();
const near = new Map<HTMLImageElement, () => void>();
/** What was only near when it was begun, and is on its way. */
const flying = new Map<HTMLImageElement, () => void>();
let turn: ReturnType<typeof setTimeout> | undefined;
let since = 0;
/** Until when nothing is begun that is only near. */
let quietUntil = 0;
/** For how long after a leap only what is in the window is drawn and fetched, in ms: whatever is near can wait until that has its pictures. */
export const LANDS = 300;

function next(): void {
  clearTimeout(turn);
  turn = undefined;
  if (near.size === 0) return;
  const rest = Math.max(first.size ? since + HELD : 0, quietUntil) - performance.now();
  if (rest > 0) {
    turn = setTimeout(next, rest);
    return;
  }
  const all = [...near.values()];
  near.clear();
  all.forEach((begin) => begin());
}

/** Has a picture that is only near wait for its turn. */
const wait = (image: HTMLImageElement, begin: () => void): void =>
  void near.set(image, () => {
    flying.set(image, begin);
    begin();
  });

/** Whether the device keeps a copy of a file. */
const keeps = async (src: string): Promise<boolean> =>
  typeof caches !== 'undefined' && (await caches.match(src, { ignoreSearch: true })) !== undefined;

/** A picture file as it is asked of the server: past the service worker, where the browser knows how, which takes half the time. */
export const throughLine = (src: string): string => `${src}${src.includes('?') ? '&' : '?'}${LINE}`;

/**
 * Fetches a picture file into an image: at once when it is in the window; else when all that is in the window has come, so that a jump does
 * not fetch what is only near first. What the device keeps stands in for a server that does not answer. Ends when what it answers is called.
 */
export function fetchInTurn(image: HTMLImageElement, src: string, inWindow: boolean): () => void {
  let late: ReturnType<typeof setTimeout> | undefined;
  const done = () => {
    clearTimeout(late);
    flying.delete(image);
    if (first.delete(image) && first.size === 0) next();
  };
  const kept = () => {
    done();
    if (image.src.endsWith(LINE)) image.src = src;
  };
  const begin = () => {
    if (useLine.getState().away) {
      image.src = src;
      return;
    }
    // Where the device keeps no copy, there is nothing better than to wait.
    clearTimeout(late);
    late = setTimeout(() => void keeps(src).then((there) => there && !image.complete && kept()), PATIENCE);
    image.src = throughLine(src);
  };
  image.addEventListener('load', done);
  image.addEventListener('error', kept);
  if (inWindow) {
    if (first.size === 0) since = performance.now();
    first.add(image);
    begin();
  } else {
    wait(image, begin);
    // Whatever is drawn with it may be in the window.
    turn ??= setTimeout(next);
  }
  return () => {
    image.removeEventListener('load', done);
    image.removeEventListener('error', kept);
    near.delete(image);
    done();
  };
}

/** Images that are held until the grid has asked for them as well, the last few of them. */
let soon: HTMLImageElement[] = [];
const MOST_SOON = 60;

/**
 * Waits no longer for what was going to be in the window, nor for what is near it: somebody has leapt on. What is still near when they have
 * landed is begun again then.
 */
export function leaveSoon(): void {
  for (const image of soon) if (!image.complete) image.removeAttribute('src');
  soon = [];
  quietUntil = performance.now() + LANDS;
  for (const [image, begin] of [...flying]) {
    if (image.complete) continue;
    image.removeAttribute('src');
    wait(image, begin);
  }
  flying.clear();
  if (near.size) turn ??= setTimeout(next);
}

/** Has a picture file that will be in the window in a moment fetched already. */
export function fetchSoon(src: string): void {
  if (useLine.getState().away) return;
  const image = new Image();
  image.src = throughLine(src);
  soon.push(image);
  if (soon.length > MOST_SOON) soon.shift();
}
