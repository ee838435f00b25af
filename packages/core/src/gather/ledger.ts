import { daysBefore } from '../question/matches';
import { splitExtension } from '../names/files';

/** A file of a device: what it was called there, when it was made (wall clock), and whether the library has it, proven whole. */
export interface LedgerFile {
  name: string;
  taken: string | null;
  here: boolean;
}

/** Numbers that are missing between two files a device made one after the other. */
export interface Gap {
  /** The first and the last missing name, without extension: `IMG_2041`, `IMG_2043`. */
  from: string;
  to: string;
  missing: number;
  /** The day of the last file before the gap. */
  day: string;
}

/** What the ledger says of one device. */
export interface Standing {
  /** Everything the device made up to this day, the day itself included, is here. Null when nothing can be said. */
  clearUntil: string | null;
  gaps: Gap[];
  /** Files that are not here, or not yet proven whole: how many, and the day of the first. */
  missing: number;
  missingSince: string | null;
}

/** More missing numbers than this are a counter that was set, not files that were lost. */
const LONGEST_GAP = 400;

/** The counter in a name a camera gave: letters, then four or five digits. Names with dates in them have none. */
export function counterOf(name: string): { series: string; number: number; digits: number } | null {
  const [stem] = splitExtension(name.slice(name.lastIndexOf('/') + 1));
  const m = stem.match(/^([A-Za-z][A-Za-z_-]*?[_-]?)(\d{4,5})[A-Za-z]?$/);
  return m ? { series: m[1]!.toUpperCase(), number: Number(m[2]), digits: m[2]!.length } : null;
}

/**
 * Numbers that never came between files whose counter runs with time. A counter that went back to the start, jumps far or
 * runs against the clock claims nothing.
 */
export function findGaps(files: readonly LedgerFile[]): Gap[] {
  const series = new Map<string, { number: number; digits: number; stem: string; taken: string; name: string }[]>();
  for (const file of files) {
    const counter = counterOf(file.name);
    if (!counter || !file.taken) continue;
    const list = series.get(counter.series) ?? [];
    list.push({ ...counter, stem: '', taken: file.taken, name: file.name });
    series.set(counter.series, list);
  }
  const gaps: Gap[] = [];
  for (const list of series.values()) {
    list.sort((a, b) => (a.taken < b.taken ? -1 : a.taken > b.taken ? 1 : a.number - b.number));
    const there = new Set(list.map((f) => f.number));
    for (let i = 1; i < list.length; i++) {
      const [a, b] = [list[i - 1]!, list[i]!];
      const missing = b.number - a.number - 1;
      if (missing < 1 || missing > LONGEST_GAP) continue;
      let any = false;
      for (let n = a.number + 1; n < b.number && !any; n++) any = there.has(n);
      if (any) continue;
      const [stem] = splitExtension(a.name.slice(a.name.lastIndexOf('/') + 1));
      const prefix = stem.replace(/\d{4,5}[A-Za-z]?$/, '');
      const name = (n: number) => `${prefix}${String(n).padStart(a.digits, '0')}`;
      gaps.push({ from: name(a.number + 1), to: name(b.number - 1), missing, day: a.taken.slice(0, 10) });
    }
  }
  return gaps.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : a.from < b.from ? -1 : 1));
}

/**
 * Up to which day a device may be cleared. `kept` is what the library has from it; `listed` what the device showed when it
 * was last looked at, or null when it never was. Missing numbers hold the day back unless the device was looked at and does
 * not have them either, or a person said they are gone (`settled`, by first missing name).
 */
export function standing(
  kept: readonly LedgerFile[],
  listed: readonly LedgerFile[] | null,
  settled: ReadonlySet<string> = new Set(),
): Standing {
  const all = listed ? [...kept, ...listed] : kept;
  const absent = all.filter((f) => !f.here);
  // With the device in sight, a number it does not list was deleted there: it cannot be lost by clearing it.
  const gaps = listed ? [] : findGaps(all).filter((gap) => !settled.has(gap.from));
  const days = all.filter((f) => f.here && f.taken).map((f) => f.taken!.slice(0, 10));
  const since = absent.map((f) => f.taken?.slice(0, 10) ?? '0000-00-00').sort()[0] ?? null;
  const standing = { gaps, missing: absent.length, missingSince: since === '0000-00-00' ? null : since };
  if (days.length === 0 || since === '0000-00-00') return { ...standing, clearUntil: null };
  const last = days.reduce((a, b) => (a > b ? a : b));
  const first = days.reduce((a, b) => (a < b ? a : b));
  const holds = [...(since ? [since] : []), ...gaps.map((gap) => gap.day)].sort();
  const until = holds[0] !== undefined && holds[0] <= last ? daysBefore(holds[0], 1) : last;
  return { ...standing, clearUntil: until < first ? null : until };
}

/** What a device is called from the maker and the model it writes into its files; a maker named twice is said once. */
export function deviceName(make: string, model: string): string {
  const words = (text: string): readonly string[] => text.toLowerCase().match(/\p{L}+|\p{N}+/gu) ?? [];
  const first = words(model)[0] ?? '';
  return first.length > 1 && words(make).includes(first) ? model : `${make} ${model}`.trim();
}
