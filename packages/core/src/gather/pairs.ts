import { splitExtension } from '../names/files';

/**
 * What a file is to the picture it belongs to: the picture itself, its negative, the clip of the same moment, the shot
 * before it was edited, notes a device keeps beside it (edits, index pictures), or what people said of it (XMP).
 */
export type FileRole = 'main' | 'raw' | 'clip' | 'before' | 'notes' | 'said';

/** A file's role, and the index of the file it belongs to; mains belong to nobody. */
export interface Pairing {
  role: FileRole;
  main: number | null;
}

const STILLS = new Set(
  'jpg jpeg jpe jfif jfi mpo insp png webp gif tif tiff avif heic heif hif bmp dib psd jp2 jpf jpx j2k j2c jxl'.split(
    ' ',
  ),
);
/** Extensions of cameras' negatives. */
export const RAW_EXTENSIONS: ReadonlySet<string> = new Set(
  '3fr arw cr2 cr3 crw dcr dng erf iiq kdc mef mos mrw nef nrw orf pef raf raw rw2 rwl sr2 srf srw x3f'.split(' '),
);
/** What may be the moving half of a still, and what else moves. */
const CLIPS = new Set(['mov', 'mp4', 'm4v']);
const VIDEOS = new Set('3gp 3g2 webm mkv avi mts m2ts m2t ts mpg mpeg mpe wmv asf vob flv f4v ogv dv insv'.split(' '));
/** The ending of a look at another picture's original. */
const LOOK = 'look';
/** Whether files with this ending, in small letters, are mostly pictures, clips or negatives. */
export const isMedia = (extension: string): boolean =>
  extension === LOOK ||
  STILLS.has(extension) ||
  CLIPS.has(extension) ||
  VIDEOS.has(extension) ||
  RAW_EXTENSIONS.has(extension);
const NOTES = new Set(['aae', 'thm', 'lrv', 'brought']);
/** What Gemmel keeps of a sidecar that came with a picture: what it says is in Gemmel's own, which lies beside it. */
const BROUGHT = /\.brought(?:[ _-]?\(?\d+\)?)?$/;

/** The moving half of a still is at most this long, in seconds; a longer clip of the same name is a picture of its own. */
export const LONGEST_HALF = 6;

interface Named {
  index: number;
  stem: string;
  extension: string;
}

/** The name of the shot an edited one was made from: `IMG_E2041` and `IMG_2041-edited` come from `IMG_2041`. */
function unedited(stem: string): string | null {
  const lettered = stem.match(/^([a-z]{2,4}_)e(\d{4,5})$/);
  if (lettered) return `${lettered[1]}${lettered[2]}`;
  return stem.match(/^(.+?)[-_ ]?\(?edited\)?$/)?.[1] ?? null;
}

/** The folder and name that files of one picture share, by which they may belong together: see {@link pairFiles}. */
function groupOf(path: string): { whole: string; stem: string; extension: string } {
  const cut = path.lastIndexOf('/') + 1;
  const [stem, dotted] = splitExtension(path.slice(cut).toLowerCase());
  let extension = dotted.slice(1);
  let key = stem;
  if (extension === 'xmp') {
    const whose = stem.replace(BROUGHT, '');
    const [inner, under] = splitExtension(whose);
    if (isMedia(under.slice(1))) key = inner;
    if (whose !== stem) extension = 'brought';
  } else if (extension === 'aae') key = stem.replace(/^([a-z]{2,4}_)o(\d{4,5})$/, '$1$2');
  if (['jpeg', 'jpe', 'jfif', 'jfi'].includes(extension)) extension = 'jpg';
  return { whole: path.slice(0, cut).toLowerCase() + key, stem, extension };
}

/**
 * A key that every file has in common with those it may be paired with, edited shots with the shots they were made from:
 * files of different keys never have anything to do with each other.
 */
export function pairKey(path: string): string {
  const { whole } = groupOf(path);
  const cut = whole.lastIndexOf('/') + 1;
  let name = whole.slice(cut);
  for (let before = unedited(name); before !== null; before = unedited(name)) name = before;
  return whole.slice(0, cut) + name;
}

/** Finds which files of a batch are one picture: same folder, same name, kinds that belong together. Paths use `/`. */
export function pairFiles(paths: readonly string[]): Pairing[] {
  const result = paths.map((): Pairing => ({ role: 'main', main: null }));
  const groups = new Map<string, Named[]>();
  paths.forEach((path, index) => {
    const { whole, stem, extension } = groupOf(path);
    const group = groups.get(whole);
    if (group) group.push({ index, stem, extension });
    else groups.set(whole, [{ index, stem, extension }]);
  });
  const join = (file: Named, role: FileRole, main: number) => (result[file.index] = { role, main });
  const mains = new Map<string, number>();
  for (const [key, files] of groups) {
    const stills = files.filter((f) => STILLS.has(f.extension));
    const raws = files.filter((f) => RAW_EXTENSIONS.has(f.extension));
    const clips = files.filter((f) => CLIPS.has(f.extension));
    const others = files.filter(
      (f) => ![...stills, ...raws, ...clips].includes(f) && !NOTES.has(f.extension) && f.extension !== 'xmp',
    );
    // Two developed stills of one name are two pictures: nobody can tell which the rest belongs to, the first is as good.
    const main = stills[0] ?? raws[0] ?? clips[0] ?? others[0];
    if (!main) continue;
    mains.set(key, main.index);
    for (const raw of raws) if (raw !== main) join(raw, 'raw', main.index);
    if (main !== clips[0] && clips.length === 1) join(clips[0]!, 'clip', main.index);
    for (const file of files) {
      if (NOTES.has(file.extension)) join(file, 'notes', main.index);
      if (file.extension !== 'xmp') continue;
      const exact = files.find(
        (f) => f !== file && paths[f.index]!.toLowerCase() === paths[file.index]!.toLowerCase().slice(0, -4),
      );
      const belongs = exact && result[exact.index]!.role === 'main' ? exact.index : main.index;
      join(file, 'said', belongs);
    }
  }
  for (const [key, main] of mains) {
    const cut = key.lastIndexOf('/') + 1;
    const before = unedited(key.slice(cut));
    const shot = before === null ? undefined : mains.get(key.slice(0, cut) + before);
    if (shot === undefined || shot === main) continue;
    for (const pairing of result) if (pairing.main === shot) pairing.main = main;
    result[shot] = { role: 'before', main };
  }
  return result;
}

/** A name without what an application put behind it while it sent the file: `IMG_2041.jpg.uploading` is `IMG_2041.jpg`. */
export function withoutTail(name: string): string {
  const [stem, tail] = splitExtension(name);
  const [, inner] = splitExtension(stem);
  return tail && isMedia(inner.slice(1).toLowerCase()) && !isMedia(tail.slice(1).toLowerCase()) ? stem : name;
}
