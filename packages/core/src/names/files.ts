import { seasonOf, type When } from '../time/when';
import { EN } from '../words/en';
import { fill, type Words } from '../words/words';

const encoder = new TextEncoder();

/** The length of a text in UTF-8, in bytes: what file systems count. */
export const byteLength = (text: string): number => encoder.encode(text).length;

/** Cuts text to at most `bytes` of UTF-8 without cutting through a character. */
export function cutBytes(text: string, bytes: number): string {
  let kept = '';
  let used = 0;
  for (const { segment } of new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)) {
    used += byteLength(segment);
    if (used > bytes) break;
    kept += segment;
  }
  return kept;
}

/** Splits `IMG_2041.jpg` into stem and extension with its dot; names that only begin with a dot have no extension. */
export function splitExtension(name: string): [stem: string, extension: string] {
  const dot = name.lastIndexOf('.');
  return dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ''];
}

/** Endings a format goes by beside its own name. */
const ENDINGS: Record<string, readonly string[]> = {
  jpg: ['jpeg', 'jpe', 'jfif'],
  tif: ['tiff'],
  heic: ['heif', 'hif'],
  mp4: ['m4v', 'mpeg4'],
  m4v: ['mp4'],
  mov: ['qt'],
  mts: ['m2ts', 'm2t', 'ts'],
  mkv: ['webm'],
};

/** A name that ends as what it is: one that says otherwise (`letter.html` for a picture) gets the right ending behind it. */
export function withEnding(name: string, format: string): string {
  const own = splitExtension(name)[1].slice(1).toLowerCase();
  return own === format || ENDINGS[format]?.includes(own) ? name : `${name}.${format}`;
}

/** Names that stand for devices on some systems, whatever their extension. */
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i;

/**
 * A name that is safe to write on any common file system: the last part of a path, without control or direction-changing
 * characters and without those that other systems forbid, never `.` or `..`, and short enough (200 bytes) that a sidecar's
 * `.xmp` and a running number still fit. Keeps the extension. Anything left empty becomes "picture".
 */
export function safeFileName(name: string, most = 200): string {
  const last = name.split(/[/\\]/).pop() ?? '';
  const clean = last
    .replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/gu, '')
    .replace(/[<>:"|?*]/g, '_')
    .replace(/[. ]+$/g, '')
    .trim();
  const [stem, extension] = splitExtension(clean.replace(/^\.+/, ''));
  const end = cutBytes(extension, 20);
  const kept = cutBytes(stem, most - byteLength(end)).trim() || 'picture';
  return `${RESERVED.test(kept) ? '_' : ''}${kept}${end}`;
}

/** A folder name from a title that people typed; empty when nothing usable is left. */
export function safeFolderName(title: string): string {
  return title
    .replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/gu, '')
    .replace(/[<>:"|?*/\\]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+/g, '')
    .slice(0, 80)
    .replace(/[\ud800-\udbff]$/, '')
    .replace(/[. ]+$/g, '');
}

/** The nth name to try when one is taken: `IMG_2041.jpg`, `IMG_2041 (2).jpg`, `IMG_2041 (3).jpg` … for n = 1, 2, 3. */
export function numbered(name: string, n: number): string {
  if (n <= 1) return name;
  const [stem, extension] = splitExtension(name);
  return `${stem} (${n})${extension}`;
}

/** How folders of the vault are laid out, the widest first; `event` is a day with its event's name. */
export const VAULT_LAYOUTS = ['year/event', 'year/month/event', 'event', 'year/month'] as const;
export type VaultLayout = (typeof VAULT_LAYOUTS)[number];

/**
 * Where an original belongs, below its library: `2026/2026-05-16 Kite day on the heath`; `1988/1988 summer` when no more is
 * known; `undated` without a day. What has to be said in words is said in those of the library.
 */
export function vaultFolder(
  day: string | null,
  event: { title: string | null; start: string } | null,
  layout: VaultLayout = 'year/event',
  span: When | null = null,
  words: Words = EN,
): string {
  const first = event?.title ? event.start : day;
  if (!first) return words.folders.undated;
  const title = event?.title ? safeFolderName(event.title) : '';
  const year = (!event?.title && span ? span.from : first).slice(0, 4);
  if (span && span.exact !== 'day' && !title) {
    const { season, decade } = words.folders;
    const name = {
      month: span.from.slice(0, 7),
      season: fill(season, { y: year, season: seasonOf(span, words) }),
      year,
      decade: fill(decade, { y: year }),
    }[span.exact];
    return layout === 'event' ? name : `${year}/${name}`;
  }
  const leaf = `${first}${title ? ` ${title}` : ''}`;
  const month = first.slice(0, 7);
  return {
    'year/event': `${year}/${leaf}`,
    'year/month/event': `${year}/${month}/${leaf}`,
    event: leaf,
    'year/month': `${year}/${month}`,
  }[layout];
}
