import { create } from 'zustand';

/** How often it is tried whether the server can be reached again, and how long an answer is waited for, in ms. */
const AGAIN = 5000;
const PATIENCE = 4000;

/** Whether the server can be reached. */
export const useLine = create<{ away: boolean }>()(() => ({ away: false }));

/** What is done, in order, when the server can be reached again. */
const backs = new Set<() => Promise<void>>();
/** Has something done when there is a line again; ends when it is called. */
export function whenBack(then: () => Promise<void>): () => void {
  backs.add(then);
  return () => backs.delete(then);
}

let timer: ReturnType<typeof setTimeout> | undefined;
let probing = false;

async function probe(): Promise<void> {
  if (probing || !useLine.getState().away) return;
  clearTimeout(timer);
  probing = true;
  const there = await fetch('/api/reached/line', { cache: 'no-store', signal: AbortSignal.timeout(PATIENCE) }).then(
    (answer) => answer.status < 500,
    () => false,
  );
  probing = false;
  if (there) {
    useLine.setState({ away: false });
    for (const then of backs) await then().catch(() => undefined);
  } else timer = setTimeout(() => void probe(), AGAIN);
}

/** Says that the server answered. */
export function reached(): void {
  if (useLine.getState().away) void probe();
}

/** Says that the server could not be reached: from then on it is tried again and again. */
export function lost(): void {
  if (useLine.getState().away) return;
  useLine.setState({ away: true });
  timer = setTimeout(() => void probe(), navigator.onLine ? AGAIN / 2 : AGAIN);
}

/** Looks after the line as long as the page lives. */
export function watchLine(): void {
  window.addEventListener('online', () => void probe());
  window.addEventListener('offline', lost);
  document.addEventListener('visibilitychange', () => {
    if (document.visibilityState === 'visible') void probe();
  });
  if (!navigator.onLine) lost();
}
