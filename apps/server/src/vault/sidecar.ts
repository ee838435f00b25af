import { open, rename } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import type { Db } from '../db/open';
import {
  openCrop,
  orientationAfter,
  toEdtf,
  type SaidAudience,
  type SaidComment,
  type SaidFace,
  type When,
} from '@gemmel/core';
import { ask } from '../jobs/jobs';
import { defineJob, type Job } from '../jobs/kind';
import { spanOf } from '../time/span';
import { recipeIn } from '../touchup/key';
import { spotText } from '../media/said';
import { toXml } from '../xml';
import { withFiles } from './lock';
import { libraryFolder, syncFolder } from './vault';

/** What people said about a picture, as it is written beside it. Boxes in fractions of the upright picture. */
export interface Said {
  title: string | null;
  caption: string | null;
  rating: number;
  favourite: boolean;
  /** A coloured mark in words. */
  label: string | null;
  tags: string[];
  /** Tags that lie below others, each as a path from the widest word. */
  paths: string[][];
  position: { lat: number; lon: number } | null;
  /** Wall-clock time with its offset in minutes where known; how sure it is, 0..1, and where it comes from. */
  taken: { local: string; offset: number | null; source: string; certainty: number } | null;
  /** The days it may have been, when that is all that is known. */
  span: When | null;
  width: number;
  height: number;
  /** Faces with names, and those of which people said that they are nobody's, or none. */
  faces: SaidFace[];
  /** How it is shown instead of as it was taken, as JSON. */
  recipe?: string | null;
  /** How the file is turned, as Exif says it. */
  orientation?: number;
  /** The fingerprint of the original it is a look at, in hexadecimal. */
  of?: string | null;
  /** What members wrote about it. */
  comments?: SaidComment[];
  /** The albums it was put into by hand, by name. */
  albums?: string[];
  /** For whom it is, where somebody said so. */
  audience?: SaidAudience | null;
}

/** A latitude or longitude as XMP writes it: degrees, minutes to a millionth, and the side of the globe. */
function angle(value: number, [positive, negative]: readonly [string, string]): string {
  const all = Math.round(Math.abs(value) * 60 * 1e6) / 1e6;
  return `${Math.floor(all / 60)},${(all % 60).toFixed(6)}${value < 0 ? negative : positive}`;
}

/** One branch of a keyword tree: each word holds the next. */
const branch = ([word = '', ...rest]: readonly string[]): object => ({
  '@rdf:parseType': 'Resource',
  'mwg-kw:Keyword': word,
  ...(rest.length && { 'mwg-kw:Children': { 'rdf:Bag': { 'rdf:li': branch(rest) } } }),
});

const bag = (words: readonly string[]) => ({ 'rdf:Bag': { 'rdf:li': words } });
const alternative = (text: string) => ({ 'rdf:Alt': { 'rdf:li': { '@xml:lang': 'x-default', '#': text } } });

/** A date as far as it is known (ISO 8601: a year, or a year and a month), and as EDTF (ISO 8601-2), which can say all of it. */
function dateOf(span: When): object {
  const year = span.exact === 'decade' ? null : span.from.slice(0, 4);
  const known = span.exact === 'month' ? span.from.slice(0, 7) : span.exact === 'day' ? span.from : year;
  return { ...(known && { 'exif:DateTimeOriginal': known }), 'gemmel:taken': toEdtf(span) };
}

function offsetOf(minutes: number | null): string {
  if (minutes === null) return '';
  const all = Math.abs(minutes);
  return `${minutes < 0 ? '-' : '+'}${String(Math.floor(all / 60)).padStart(2, '0')}:${String(all % 60).padStart(2, '0')}`;
}

const NAMESPACES = {
  dc: 'http://purl.org/dc/elements/1.1/',
  xmp: 'http://ns.adobe.com/xap/1.0/',
  exif: 'http://ns.adobe.com/exif/1.0/',
  Iptc4xmpExt: 'http://iptc.org/std/Iptc4xmpExt/2008-02-29/',
  'mwg-kw': 'http://www.metadataworkinggroup.com/schemas/keywords/',
  'mwg-rs': 'http://www.metadataworkinggroup.com/schemas/regions/',
  stArea: 'http://ns.adobe.com/xmp/sType/Area#',
  stDim: 'http://ns.adobe.com/xap/1.0/sType/Dimensions#',
  tiff: 'http://ns.adobe.com/tiff/1.0/',
  gemmel: 'urn:gemmel:words:1',
};

/** Where faces are and whose they are: regions of the Metadata Working Group's guidelines 2.0 (centre and size in fractions). */
const regions = (faces: readonly SaidFace[], { width, height }: Said) => ({
  'Iptc4xmpExt:PersonInImage': bag(faces.map((f) => f.name)),
  'mwg-rs:Regions': {
    '@rdf:parseType': 'Resource',
    'mwg-rs:AppliedToDimensions': { '@stDim:w': width, '@stDim:h': height, '@stDim:unit': 'pixel' },
    'mwg-rs:RegionList': {
      'rdf:Bag': {
        'rdf:li': faces.map((f) => ({
          '@rdf:parseType': 'Resource',
          'mwg-rs:Name': f.name,
          'mwg-rs:Type': 'Face',
          'mwg-rs:Area': {
            '@stArea:x': (f.x + f.w / 2).toFixed(6),
            '@stArea:y': (f.y + f.h / 2).toFixed(6),
            '@stArea:w': f.w.toFixed(6),
            '@stArea:h': f.h.toFixed(6),
            '@stArea:unit': 'normalized',
          },
        })),
      },
    },
  },
});

/**
 * How it is shown as far as open fields can say it: turned, as `tiff:Orientation`; cut, as an image region of the role "cropping" (IPTC
 * Photo Metadata Standard 2019.1).
 */
function openFields({ recipe, orientation = 1, width, height, of }: Said): object {
  const shown = recipeIn(recipe ?? null)!;
  const crop = openCrop(shown, width, height);
  return {
    // A look's own file has no pixels that could be turned.
    ...((shown.turn ?? shown.mirror) && !of && { 'tiff:Orientation': orientationAfter(orientation, shown) }),
    ...(crop && {
      'Iptc4xmpExt:ImageRegion': {
        'rdf:Bag': {
          'rdf:li': {
            '@rdf:parseType': 'Resource',
            'Iptc4xmpExt:RegionBoundary': {
              '@rdf:parseType': 'Resource',
              'Iptc4xmpExt:rbShape': 'rectangle',
              'Iptc4xmpExt:rbUnit': 'relative',
              'Iptc4xmpExt:rbX': crop[0].toFixed(6),
              'Iptc4xmpExt:rbY': crop[1].toFixed(6),
              'Iptc4xmpExt:rbW': crop[2].toFixed(6),
              'Iptc4xmpExt:rbH': crop[3].toFixed(6),
            },
            'Iptc4xmpExt:rRole': {
              'rdf:Bag': {
                'rdf:li': {
                  '@rdf:parseType': 'Resource',
                  'xmp:Identifier': {
                    'rdf:Bag': { 'rdf:li': 'http://cv.iptc.org/newscodes/imageregionrole/cropping' },
                  },
                },
              },
            },
          },
        },
      },
    }),
  };
}

/**
 * An XMP sidecar (ISO 16684-1): tags as dc:subject, nested ones as a keyword tree too, title, caption as dc:description, stars
 * as xmp:Rating, faces as regions, their names as PersonInImage too.
 */
export function toXmp(said: Said): string {
  const { position, span, taken } = said;
  const named = said.faces.filter((face) => face.name);
  const spots = (some: readonly SaidFace[]) => some.length > 0 && bag(some.map(spotText));
  const passersBy = spots(said.faces.filter((face) => face.is === 'passer-by'));
  const noFaces = spots(said.faces.filter((face) => face.is === 'not a face'));
  const byMachine = spots(named.filter((face) => face.byMachine));
  const words = {
    '@rdf:about': '',
    ...Object.fromEntries(Object.entries(NAMESPACES).map(([prefix, uri]) => [`@xmlns:${prefix}`, uri])),
    'xmp:Rating': said.rating,
    'gemmel:favourite': said.favourite ? 'True' : 'False',
    ...(said.label && { 'xmp:Label': said.label }),
    ...(position && {
      'exif:GPSLatitude': angle(position.lat, ['N', 'S']),
      'exif:GPSLongitude': angle(position.lon, ['E', 'W']),
    }),
    ...(span ? dateOf(span) : taken && { 'exif:DateTimeOriginal': `${taken.local}${offsetOf(taken.offset)}` }),
    ...(taken && { 'gemmel:dated': taken.source, 'gemmel:sure': taken.certainty }),
    ...(said.title && { 'dc:title': alternative(said.title) }),
    ...(said.caption && { 'dc:description': alternative(said.caption) }),
    ...(said.tags.length && { 'dc:subject': bag(said.tags) }),
    ...(said.paths.length && {
      'mwg-kw:Keywords': {
        '@rdf:parseType': 'Resource',
        'mwg-kw:Hierarchy': { 'rdf:Bag': { 'rdf:li': said.paths.map(branch) } },
      },
    }),
    ...(said.recipe && { 'gemmel:recipe': said.recipe, ...openFields(said) }),
    ...(said.of && { 'gemmel:of': said.of }),
    ...(said.comments?.length && {
      'gemmel:remarks': bag(said.comments.map(({ at, author, text }) => JSON.stringify([at, author, text]))),
    }),
    ...(said.audience && {
      'gemmel:forWhom': said.audience.audience,
      ...(said.audience.by && { 'gemmel:forWhomSaid': said.audience.by }),
    }),
    ...(said.albums?.length && { 'gemmel:standsIn': bag(said.albums) }),
    ...(named.length && regions(named, said)),
    ...(byMachine && { 'gemmel:byMachine': byMachine }),
    ...(passersBy && { 'gemmel:passersBy': passersBy }),
    ...(noFaces && { 'gemmel:noFaces': noFaces }),
  };
  const packet = toXml({
    'x:xmpmeta': {
      '@xmlns:x': 'adobe:ns:meta/',
      'rdf:RDF': { '@xmlns:rdf': 'http://www.w3.org/1999/02/22-rdf-syntax-ns#', 'rdf:Description': words },
    },
  });
  return `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n${packet}<?xpacket end="w"?>\n`;
}

/** Notes that people said something about pictures; their sidecars are written a little later, many at once. */
export async function markDirty(db: Db, library: number, pictures: readonly number[]): Promise<void> {
  for (let i = 0; i < pictures.length; i += 1000) {
    const some = pictures.slice(i, i + 1000);
    await db.raw(
      `INSERT INTO sidecars (picture_id, library_id, dirty_at) SELECT id, library_id, UTC_TIMESTAMP(3) FROM pictures
       WHERE library_id = ? AND id IN (${some.map(() => '?').join(',')}) ON DUPLICATE KEY UPDATE dirty_at = UTC_TIMESTAMP(3)`,
      [library, ...some],
    );
  }
  if (pictures.length) await ask(db, library, 'sidecars', 0, 1500);
}

/** What people said of some pictures, as it is written beside them. */
export async function saidOf(
  db: Db,
  library: number,
  ids: readonly number[],
): Promise<Map<number, Said & { vaultPath: string }>> {
  const result = new Map<number, Said & { vaultPath: string }>();
  const meanings = new Map(
    (await db('marks').where('library_id', library).select('id', 'meaning')).map((m) => [m.id, m.meaning]),
  );
  const pictures = await db('pictures').where('library_id', library).whereIn('id', ids);
  const sayers = new Map(
    (
      await db('members')
        .whereIn('id', [...new Set(pictures.map((p) => p.audience_by).filter((id) => id !== null))])
        .select('id', 'name')
    ).map(({ id, name }) => [id, name]),
  );
  for (const p of pictures)
    result.set(p.id, {
      vaultPath: p.vault_path,
      title: p.title,
      caption: p.caption,
      rating: p.rating,
      favourite: Boolean(p.favourite),
      label: p.mark_id === null ? p.label : (meanings.get(p.mark_id) ?? null),
      tags: [],
      paths: [],
      position: p.lat === null || p.lon === null ? null : { lat: p.lat, lon: p.lon },
      taken: p.taken_local
        ? {
            local: p.taken_local.replace(' ', 'T'),
            offset: p.offset_minutes,
            source: p.taken_source ?? 'written',
            certainty: p.taken_certainty ?? 0.5,
          }
        : null,
      span: spanOf(p),
      width: p.whole_width ?? p.width,
      height: p.whole_height ?? p.height,
      recipe: p.recipe,
      orientation: p.orientation,
      of: p.of_sha && p.of_sha.toString('hex'),
      audience: p.audience && { audience: p.audience, by: sayers.get(p.audience_by ?? 0) ?? null },
      faces: [],
      comments: [],
      albums: [],
    });
  for (const { picture_id, name } of (await db('album_pictures as ap')
    .join('albums as a', 'a.id', 'ap.album_id')
    .where('ap.library_id', library)
    .whereIn('ap.picture_id', ids)
    .whereNull('a.removed_at')
    .orderBy('a.name')
    .select('ap.picture_id', 'a.name')) as { picture_id: number; name: string }[])
    result.get(picture_id)?.albums?.push(name);
  for (const { picture_id, author, at, text } of await db('comments')
    .where('library_id', library)
    .whereIn('picture_id', ids)
    .orderBy(['at', 'id'])
    .select('picture_id', 'author', 'at', 'text'))
    result.get(picture_id)?.comments?.push({ author, text, at: `${at.slice(0, 19).replace(' ', 'T')}Z` });
  const tags = await db('picture_tags as pt')
    .join('tags as t', 't.id', 'pt.tag_id')
    .whereIn('pt.picture_id', ids)
    .select('pt.picture_id', 't.id', 't.name')
    .orderBy('t.name');
  const tree = new Map<number, { name: string; parent_id: number | null }>();
  for (const row of await db('tags').where('library_id', library).select('id', 'name', 'parent_id'))
    tree.set(row.id, row);
  for (const { picture_id, id, name } of tags) {
    const said = result.get(picture_id);
    said?.tags.push(name);
    const path: string[] = [];
    for (let at = tree.get(id); at && path.length < 20; at = at.parent_id ? tree.get(at.parent_id) : undefined)
      path.unshift(at.name);
    if (path.length > 1) said?.paths.push(path);
  }
  const faces = await db('faces as f')
    .leftJoin('people as n', 'n.id', 'f.person_id')
    .where('f.library_id', library)
    .whereIn('f.picture_id', ids)
    .where((q) => q.whereNotNull('f.person_id').orWhere('f.named_by', 'hand'))
    .select('f.picture_id', 'f.state', 'f.named_by', 'n.name', 'f.x', 'f.y', 'f.w', 'f.h')
    .orderBy('f.id');
  for (const { picture_id, state, named_by, name, ...box } of faces) {
    const is = state === 'passer-by' || state === 'not a face' ? state : null;
    if (name ?? is)
      result.get(picture_id)?.faces.push({
        name: name ?? '',
        ...(!name && is && { is }),
        ...(named_by === 'machine' && { byMachine: true as const }),
        ...box,
      });
  }
  return result;
}

/** Writes the sidecars of all pictures on the dirty list, whole or not at all (write, sync, rename). */
export async function writeSidecars(app: App, { library }: Job): Promise<void> {
  const { slug } = (await app.db('libraries').where('id', library).first('slug'))!;
  const root = libraryFolder(app, slug);
  while (await withFiles(app, library, () => writeSome(app, library, root)));
}

/** Writes at once what is said of some pictures on the dirty list; nobody may move files meanwhile. */
export async function writeBeside(app: App, library: number, pictures: readonly number[]): Promise<void> {
  const { slug } = (await app.db('libraries').where('id', library).first('slug'))!;
  await writeSome(app, library, libraryFolder(app, slug), pictures);
}

/** Writes up to a hundred of them, of some pictures or of all; answers whether there may be more. */
async function writeSome(app: App, library: number, root: string, of?: readonly number[]): Promise<boolean> {
  const dirty = await app
    .db('sidecars')
    .where('library_id', library)
    .whereNotNull('dirty_at')
    .where((q) => void (of && q.whereIn('picture_id', of)))
    .orderBy('dirty_at')
    .limit(100)
    .select('picture_id', 'dirty_at');
  if (dirty.length === 0) return false;
  const said = await saidOf(
    app.db,
    library,
    dirty.map((d) => d.picture_id),
  );
  const folders = new Set<string>();
  for (const one of said.values()) {
    const file = path.join(root, `${one.vaultPath}.xmp`);
    const handle = await open(`${file}.part`, 'w');
    await handle.writeFile(toXmp(one));
    await handle.sync();
    await handle.close();
    await rename(`${file}.part`, file);
    folders.add(path.dirname(file));
  }
  for (const folder of folders) await syncFolder(folder);
  for (const { picture_id, dirty_at } of dirty)
    await app
      .db('sidecars')
      .where({ picture_id, dirty_at })
      .update({ dirty_at: null, written_at: app.db.raw('UTC_TIMESTAMP(3)') });
  return true;
}

declare module '../jobs/kind' {
  interface JobPayloads {
    sidecars: null;
  }
}

/** Writing what was said beside the pictures. */
export const sidecarsJob = defineJob({
  kind: 'sidecars',
  priority: 5,
  alone: true,
  run: writeSidecars,
});
