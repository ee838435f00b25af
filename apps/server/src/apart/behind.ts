import { readFileSync, writeFileSync } from 'node:fs';

/** How far a session steps back, as `nice` counts: it has a thirtieth of a core while others want all of it. */
const BEHIND = 15;
/** A system lets this be said ten times a second at most, by everybody together: how often it is tried, and with which pause in ms. */
const [TRIES, AGAIN] = [5, 250] as const;

/**
 * Has a session step back behind all others, by the process that leads it: Linux shares its time between sessions first, and among the
 * processes of each only then, so that one that has stepped back by itself alone still takes as much as all others together (sched(7),
 * “The autogroup feature”). Where a system does not share so, and of a process that leads no session, nothing happens.
 * `GEMMEL_BEHIND` says another step; tests, which keep a machine busy by themselves, say 0.
 */
export function stepBack(pid: number, tries: number = TRIES): void {
  const step = process.env.GEMMEL_BEHIND ?? String(BEHIND);
  try {
    const [, , , session] = readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ');
    if (Number(session) === pid) writeFileSync(`/proc/${pid}/autogroup`, step);
  } catch (error) {
    if (tries > 1 && (error as NodeJS.ErrnoException).code === 'EAGAIN')
      setTimeout(() => stepBack(pid, tries - 1), AGAIN).unref();
  }
}
