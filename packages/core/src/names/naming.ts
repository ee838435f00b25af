import { numbered, safeFileName, splitExtension } from './files';

/** What the name of a file can be made of; `came` is the name it came with. */
export const NAME_PARTS = [
  'words',
  'number',
  'date',
  'time',
  'year',
  'month',
  'day',
  'event',
  'place',
  'device',
  'came',
] as const;
export type NamePart = (typeof NAME_PARTS)[number];

/** How files are to be named: parts in their order, the words typed for it, and where the running number begins. */
export interface Naming {
  parts: readonly NamePart[];
  words: string;
  start: number;
  /** At least this many digits; more when the numbers need them. */
  digits: number;
}

/** What is known of a file that names can speak of. */
export interface Nameable {
  name: string;
  /** The name its device gave it. */
  came: string;
  /** Wall-clock time, `YYYY-MM-DD HH:MM:SS`, or a day alone; null without one. */
  taken: string | null;
  event: string | null;
  place: string | null;
  device: string | null;
}

/**
 * New names for files in their order. What is not known of one is left out of its name; extensions stay as they are; a name that
 * another of them has already gets a running number behind it. None is ever empty: then it keeps the name it came with.
 */
export function namesBy({ parts, words, start, digits }: Naming, files: readonly Nameable[]): string[] {
  const wide = Math.max(digits, String(Math.max(start + files.length - 1, start)).length);
  const used = new Set<string>();
  return files.map((file, i) => {
    const { taken, event, place, device } = file;
    const of: Record<NamePart, string | null> = {
      words: words.trim() || null,
      number: String(start + i).padStart(wide, '0'),
      date: taken?.slice(0, 10) ?? null,
      // A colon is no character of a file's name everywhere.
      time: taken && taken.length >= 16 ? taken.slice(11, 16).replace(':', '.') : null,
      year: taken?.slice(0, 4) ?? null,
      month: taken?.slice(5, 7) ?? null,
      day: taken?.slice(8, 10) ?? null,
      event,
      place,
      device,
      came: splitExtension(file.came)[0],
    };
    const said = parts.map((part) => of[part]).filter((one) => one !== null && one !== '');
    const plain = (text: string) =>
      text
        .replace(/[/\\]/g, '-')
        .replace(/[\p{Cc}\p{Cf}]/gu, '')
        .replace(/\s+/g, ' ')
        .trim();
    const ending = splitExtension(file.name)[1];
    const stem = plain(said.join(' ')) || plain(of.came ?? '');
    const wanted = safeFileName(`${stem}${ending}`);
    let name = wanted;
    for (let n = 2; used.has(name.toLowerCase()); n++) name = numbered(wanted, n);
    used.add(name.toLowerCase());
    return name;
  });
}
