import { splitExtension } from '../names/files';

/** How files are to be numbered: "Harvest 001", with the day before or after the name if wished. */
export interface Numbering {
  base: string;
  start: number;
  /** At least this many digits; more when the numbers need them. */
  digits: number;
  day: 'none' | 'before' | 'after';
}

/** New names for files in their order. A picture without a day goes without; extensions stay as they are. */
export function numberNames(numbering: Numbering, files: readonly { name: string; day: string | null }[]): string[] {
  const last = numbering.start + files.length - 1;
  const digits = Math.max(numbering.digits, String(Math.max(last, numbering.start)).length);
  return files.map(({ name, day }, i) => {
    const number = String(numbering.start + i).padStart(digits, '0');
    const parts = [
      numbering.day === 'before' ? day : null,
      numbering.base.trim(),
      numbering.day === 'after' ? day : null,
      number,
    ];
    return `${parts.filter(Boolean).join(' ')}${splitExtension(name)[1]}`;
  });
}
