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
  return `${cutBytes(stem, most - byteLength(end)).trim() || 'picture'}${end}`;
}

/** A folder name from a title that people typed; empty when nothing usable is left. */
export function safeFolderName(title: string): string {
  return title
    .replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/gu, '')
    .replace(/[<>:"|?*/\\]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '')
    .slice(0, 80)
    .trim();
}

/** The nth name to try when one is taken: `IMG_2041.jpg`, `IMG_2041 (2).jpg`, `IMG_2041 (3).jpg` … for n = 1, 2, 3. */
export function numbered(name: string, n: number): string {
  if (n <= 1) return name;
  const [stem, extension] = splitExtension(name);
  return `${stem} (${n})${extension}`;
}

/** Where an original belongs, below its library: `2026/2026-05-16 Kite day on the heath`; `undated` without a day. */
export function vaultFolder(day: string | null, event: { title: string | null; start: string } | null): string {
  const first = event?.title ? event.start : day;
  if (!first) return 'undated';
  const title = event?.title ? safeFolderName(event.title) : '';
  return `${first.slice(0, 4)}/${first}${title ? ` ${title}` : ''}`;
}
