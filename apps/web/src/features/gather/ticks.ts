import type { CardFile } from '@gemmel/contract';

/** The files of one day on a card; null for those without a time. */
export interface CardDay {
  day: string | null;
  files: CardFile[];
}

/** Files by day, in the order they were made. */
export function daysOf(files: readonly CardFile[]): CardDay[] {
  const days: CardDay[] = [];
  for (const file of files) {
    const day = file.taken?.slice(0, 10) ?? null;
    const last = days[days.length - 1];
    if (last && last.day === day) last.files.push(file);
    else days.push({ day, files: [file] });
  }
  return days;
}

/** Only what is new can be ticked. */
export const canTick = (file: CardFile): boolean => file.state === 'new';

/** Everything that is new. */
export const allNew = (files: readonly CardFile[]): Set<number> =>
  new Set(files.filter(canTick).map((file) => file.id));

/** Ticks or unticks some files; those that cannot be ticked are passed over. */
export function tick(ticked: ReadonlySet<number>, files: readonly CardFile[], on: boolean): Set<number> {
  const next = new Set(ticked);
  for (const file of files)
    if (canTick(file)) {
      if (on) next.add(file.id);
      else next.delete(file.id);
    }
  return next;
}

/** The files from one to another, both included, whichever comes first. */
export function range(files: readonly CardFile[], from: number, to: number): CardFile[] {
  const [a, b] = [files.findIndex((f) => f.id === from), files.findIndex((f) => f.id === to)];
  if (a < 0 || b < 0) return [];
  return files.slice(Math.min(a, b), Math.max(a, b) + 1);
}

/** How a group stands: all of its new files ticked, some, or none. */
export function standOf(ticked: ReadonlySet<number>, files: readonly CardFile[]): 'all' | 'some' | 'none' {
  const can = files.filter(canTick);
  const on = can.filter((file) => ticked.has(file.id)).length;
  return on === 0 ? 'none' : on === can.length ? 'all' : 'some';
}
