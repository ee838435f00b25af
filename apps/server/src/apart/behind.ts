import { execFile } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';

/** How far a session steps back, as `nice` counts: it has a seventieth of a core while others want all of it. */
const BEHIND = 19;
/** A system lets this be said ten times a second at most, by everybody together: how often it is tried, and with which pause in ms. */
const [TRIES, AGAIN] = [5, 250] as const;

/**
 * Has a session step back as a whole: Linux shares its time between sessions first, and among the processes of each only then, so that one
 * that has stepped back by itself alone still takes as much as all others together (sched(7), “The autogroup feature”).
 */
function sessionBack(pid: number, tries: number): void {
  try {
    // All of a session stand back: never that of somebody else.
    const [, , , session] = readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ');
    if (Number(session) === pid) writeFileSync(`/proc/${pid}/autogroup`, String(BEHIND));
  } catch (error) {
    if (tries > 1 && (error as NodeJS.ErrnoException).code === 'EAGAIN')
      setTimeout(() => sessionBack(pid, tries - 1), AGAIN).unref();
  }
}

/**
 * Has a process that leads a session of its own do its work when nobody else has any: its session steps back, and a core on which nothing else
 * runs counts as free for whoever wakes (sched(7), SCHED_IDLE; what it starts from now on is the same). Where a system does not allow it,
 * nothing happens.
 */
export function stepBack(pid: number): void {
  sessionBack(pid, TRIES);
  execFile('chrt', ['--all-tasks', '--idle', '--pid', '0', String(pid)], () => undefined);
}
