import { z } from 'zod';
import { NAME_PARTS } from '../names/naming';
import { LANGUAGES } from '../words/languages';

/** How copies of pictures are given out. Kept with the piece. */
export const OutSettings = z.strictObject({
  language: z.enum(LANGUAGES),
  /** As they lie in the library, byte for byte; or as they are shown, written anew. */
  format: z.enum(['original', 'jpg', 'webp', 'avif', 'png']),
  /** The longest side in pixels; null for as large as they are. Originals are never made smaller. */
  long: z.number().int().min(200).max(20_000).nullable(),
  quality: z.number().int().min(30).max(100),
  /** What they say on the side: all there is, what people said alone, or nothing. */
  says: z.enum(['all', 'said', 'none']),
  names: z.strictObject({
    parts: z.array(z.enum(NAME_PARTS)).min(1).max(NAME_PARTS.length),
    words: z.string().max(100),
    start: z.number().int().min(0).max(1_000_000),
    digits: z.number().int().min(1).max(8),
  }),
  folders: z.enum(['none', 'event', 'day', 'year']),
  /** Whether what people said lies beside each (XMP), and what they put into albums (JSON, CSV). */
  sidecars: z.boolean(),
  albums: z.boolean(),
  /** A folder of this machine they are put into; null for a ZIP. */
  folder: z.string().max(1000).nullable(),
});
export type OutSettings = z.infer<typeof OutSettings>;

/** How copies are given out when nobody has said otherwise. */
export const PLAIN_OUT: OutSettings = {
  language: 'en',
  format: 'original',
  long: null,
  quality: 85,
  says: 'all',
  names: { parts: ['came'], words: '', start: 1, digits: 3 },
  folders: 'event',
  sidecars: true,
  albums: true,
  folder: null,
};

/** A picture as it is decided where its copy lies. */
export interface Goes {
  day: string | null;
  event: string | null;
}

/** The folder a copy lies in, as a name that is not safe yet; empty for none. */
export function folderOf({ day, event }: Goes, by: OutSettings['folders']): string {
  if (by === 'none') return '';
  if (by === 'year') return day?.slice(0, 4) ?? '';
  if (by === 'day' || !event) return day ?? '';
  return event;
}

/** About how many bytes a pixel takes in a format. */
const PER_PIXEL: Readonly<Record<Exclude<OutSettings['format'], 'original'>, number>> = {
  jpg: 0.3,
  webp: 0.2,
  avif: 0.13,
  png: 1.9,
};

/** About how many bytes a copy has. */
export function copyBytes(
  { kind, bytes, width, height }: { kind: 'photo' | 'video'; bytes: number; width: number; height: number },
  { format, long, quality }: Pick<OutSettings, 'format' | 'long' | 'quality'>,
): number {
  if (kind === 'video' || format === 'original') return bytes;
  const scale = long === null ? 1 : Math.min(1, long / Math.max(1, width, height));
  const fine = format === 'png' ? 1 : Math.exp((quality - 85) / 28);
  return width * height * scale * scale * PER_PIXEL[format] * fine;
}
