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
let last = 0;

function tell(): void {
  const wait = Math.min(last + GATHER, since + LONGEST) - performance.now();
  // While somebody leafs on, the machine has better things to do.
  timer = wait > 0 ? setTimeout(tell, wait) : undefined;
  if (timer !== undefined) return;
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
  last = performance.now();
  if (timer !== undefined) return;
  since = last;
  timer = setTimeout(tell, GATHER);
}
