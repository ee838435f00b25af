import { lentEyes } from '@/api/eyes';
import { useRush } from '@/state/rush';
import { useLine } from './line';
import { whose } from './whose';

/** How long after the last one pictures that were shown are kept, how long at most after the first, in ms, and how many at once. */
const GATHER = 4000;
const LONGEST = 20_000;
const MOST = 120;

let shown = new Set<string>();
let timer: ReturnType<typeof setTimeout> | undefined;
let since = 0;

function tell(): void {
  timer = undefined;
  const worker = navigator.serviceWorker?.controller;
  if (!worker || whose() === null || useLine.getState().away || useRush.getState().rushing) return;
  const some = [...shown].slice(-MOST);
  shown = new Set();
  worker.postMessage({ seen: some });
}

/** Has a picture file that was shown kept on this device, when there is time. */
export function noteShown(url: string): void {
  if (lentEyes() !== null || typeof navigator === 'undefined' || !('serviceWorker' in navigator)) return;
  shown.add(url);
  // While somebody leafs on, the machine has better things to do.
  const now = performance.now();
  if (timer === undefined) since = now;
  clearTimeout(timer);
  timer = setTimeout(tell, Math.max(0, Math.min(GATHER, since + LONGEST - now)));
}
