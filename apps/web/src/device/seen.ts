import { lentEyes } from '@/api/eyes';
import { useRush } from '@/state/rush';
import { useLine } from './line';
import { whose } from './whose';

/** How long pictures that were shown are gathered before they are kept, in ms, and how many at once. */
const GATHER = 4000;
const MOST = 120;

let shown = new Set<string>();
let timer: ReturnType<typeof setTimeout> | undefined;

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
  timer ??= setTimeout(tell, GATHER);
}
