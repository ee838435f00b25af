import { whenForgotten } from '@/device/stores';

/** How many pictures are held: those of some windows. */
const MOST = 300;

/** Small pictures that came along with what their tiles say, by what is in them, as addresses that need no further request. */
const brought = new Map<string, string>();
whenForgotten(() => brought.clear());

/** Holds a small picture, given as base64; the oldest make room. */
export function bring(sha: string, small: string): void {
  brought.delete(sha);
  brought.set(sha, `data:image/webp;base64,${small}`);
  if (brought.size > MOST) brought.delete(brought.keys().next().value!);
}

/** Where a small picture is, if it has been brought. */
export const broughtAs = (sha: string): string | undefined => brought.get(sha);
