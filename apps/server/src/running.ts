import { readFileSync } from 'node:fs';
import { readFile, rename, unlink, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';

/** Who works on a data folder: a process, the port it listens on, and when that process began. */
export interface Running {
  pid: number;
  port: number;
  /** The moment the process began, in the kernel's own count, so that another process of the same number is not taken for it. */
  since: string | null;
}

const noteOf = (data: string) => path.join(data, 'running.json');

/**
 * When a process began, in clock ticks since the machine was started together with the machine's own start (proc(5), field 22
 * of stat); null when there is no such process, when it has ended and nobody has taken note of that yet, or when the system does not tell.
 */
export function beganAt(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const boot = readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' ? null : `${boot}/${fields[19]}`;
  } catch {
    return null;
  }
}

/** Whether a process is there; one that may not be asked is. */
export function alive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** How this process is known to others: its machine, its number, and when it began. */
export const ownName = (): string => `${os.hostname()}:${process.pid}:${beganAt(process.pid) ?? ''}`.slice(0, 120);

/** Whether whoever has a name of {@link ownName} may still be at work; on other machines nobody can tell. */
export function mayLive(name: string): boolean {
  const [host, pid, since] = name.split(':');
  if (host !== os.hostname()) return true;
  if (!alive(Number(pid))) return false;
  return !since || since === (beganAt(Number(pid)) ?? '').slice(0, since.length);
}

/** Who is running on a data folder, if anybody: a note whose number another process has by now says nothing. */
export async function runningOn(data: string): Promise<Running | null> {
  try {
    const note = JSON.parse(await readFile(noteOf(data), 'utf8')) as Running;
    if (!Number.isInteger(note.pid) || note.pid === process.pid || !alive(note.pid)) return null;
    return note.since && note.since !== beganAt(note.pid) ? null : note;
  } catch {
    return null;
  }
}

/** Notes that this process works on a data folder. */
export async function noteRunning(data: string, port: number): Promise<void> {
  const note: Running = { pid: process.pid, port, since: beganAt(process.pid) };
  await writeFile(`${noteOf(data)}.part`, JSON.stringify(note));
  await rename(`${noteOf(data)}.part`, noteOf(data));
}

/** Takes the note away. */
export const noteStopped = (data: string): Promise<void> => unlink(noteOf(data)).catch(() => undefined);
