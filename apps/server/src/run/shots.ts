import { halvesOf, type RunShot, type ShotFace, type ShotFacts } from '@gemmel/core';
import { shadeOf } from '../question/look';
import { chunks } from '../lists';
import type { Db } from '../db/open';

/** Times from here on are known to the second. */
const SURE = 0.6;

/** What of a picture's row tells runs and doubles. */
export const SHOT_COLUMNS = [
  'id',
  'kind',
  'format',
  'name',
  'original_name',
  'device_id',
  'camera',
  'sharpness',
  'taken_local',
  'taken_exact',
  'taken_certainty',
  'taken_source',
  'lat',
  'lon',
  'thumb',
  'alike_id',
  'run_id',
  'run_first',
  'rating',
  'favourite',
  'grouped_at',
] as const;

export interface ShotRow {
  id: number;
  kind: 'photo' | 'video';
  likeness: string;
  width: number;
  height: number;
  format: string;
  name: string;
  original_name: string | null;
  device_id: number | null;
  camera: string | null;
  sharpness: number | null;
  taken_local: string | null;
  taken_exact: string | null;
  taken_certainty: number | null;
  taken_source: string | null;
  lat: number | null;
  lon: number | null;
  thumb: Buffer;
  alike_id: number | null;
  run_id: number | null;
  run_first: number;
  rating: number;
  favourite: number;
  grouped_at: string | null;
}

/** When a shot was taken, in ms; null unless its device said so itself: a time that was taken over tells nothing. */
const atOf = (row: ShotRow): number | null =>
  row.taken_local && !row.taken_exact && row.taken_source !== 'copy' && (row.taken_certainty ?? 0) >= SURE
    ? Date.parse(`${row.taken_local.replace(' ', 'T')}Z`)
    : null;

/** Who is in some pictures: people by their numbers, groups of faces without a name by theirs, made negative. */
async function peopleIn(db: Db, ids: readonly number[] | null, library: number): Promise<Map<number, number[]>> {
  const people = new Map<number, number[]>();
  for (const some of ids === null ? [null] : chunks(ids, 2000))
    for (const { picture_id, person_id, group_key } of await db('faces')
      .where('library_id', library)
      .where((q) => void (some && q.whereIn('picture_id', some)))
      .where((q) => q.whereNotNull('person_id').orWhereNotNull('group_key'))
      .whereIn('state', ['waiting', 'named'])
      .select('picture_id', 'person_id', 'group_key')) {
      const who = person_id ?? -group_key!;
      const there = people.get(picture_id);
      if (!there) people.set(picture_id, [who]);
      else if (!there.includes(who)) there.push(who);
    }
  return people;
}

/** The mean red, green and blue of a blurred view, 0 to 1, from its mean brightness and two colours (evanw's thumbhash, 2023). */
function colourOf(thumb: Buffer): [number, number, number] {
  const [l, p, q] = shadeOf(thumb);
  const [light, yellow, red] = [l / 63, p / 31.5 - 1, q / 31.5 - 1];
  const b = light - (2 / 3) * yellow;
  const r = (3 * light - b + red) / 2;
  const within = (v: number) => Math.max(0, Math.min(1, v));
  return [within(r), within(r - red), within(b)];
}

/** Rows as they are held against each other. `ids` are theirs; null when they are all of a library's. */
export async function factsOf(
  db: Db,
  library: number,
  rows: readonly ShotRow[],
  all = false,
): Promise<Map<number, ShotFacts>> {
  const people = await peopleIn(db, all ? null : rows.map((row) => row.id), library);
  return new Map(
    rows.map((row) => {
      return [
        row.id,
        {
          id: row.id,
          ...halvesOf(row.likeness),
          width: row.width,
          height: row.height,
          format: row.format,
          stem: (row.original_name ?? row.name).replace(/\.[^.]*$/, ''),
          device: row.device_id,
          at: atOf(row),
          lat: row.lat,
          lon: row.lon,
          colour: colourOf(row.thumb),
          people: people.get(row.id) ?? [],
        },
      ];
    }),
  );
}

interface FaceRow {
  id: number;
  picture_id: number;
  x: number;
  y: number;
  w: number;
  h: number;
  eyes: number | null;
  sharp: number | null;
  turn: number | null;
  person_id: number | null;
  group_key: number | null;
}

/** A face of a run, with whose it is in all of its shots. */
export interface RunFace extends FaceRow {
  who: number;
}

/** Middles this close, in fractions of the picture, are one person's in two shots of a moment. */
const SAME_SPOT = 0.12;

/**
 * Whose the faces of a run are: named ones by their person; those without a name by who stands on that spot in another shot, else by
 * their group of faces, else they are strangers. Nobody is twice in one shot.
 * @param shots the faces of each shot, in the order of the run.
 */
export function whoIsWho(shots: readonly (readonly FaceRow[])[]): RunFace[][] {
  const spots: { who: number; x: number; y: number }[] = [];
  const middle = (face: FaceRow) => ({ x: face.x + face.w / 2, y: face.y + face.h / 2 });
  const taken = shots.map(() => new Set<number>());
  const whos = new Map<number, number>();
  const note = (shot: number, face: FaceRow, who: number) => {
    whos.set(face.id, who);
    taken[shot]!.add(who);
    spots.push({ who, ...middle(face) });
  };
  shots.forEach((faces, shot) => {
    for (const face of faces)
      if (face.person_id !== null && !taken[shot]!.has(face.person_id)) note(shot, face, face.person_id);
  });
  let strangers = 0;
  shots.forEach((faces, shot) => {
    for (const face of faces) {
      if (whos.has(face.id)) continue;
      const { x, y } = middle(face);
      const [near] = spots
        .filter(({ who }) => !taken[shot]!.has(who))
        .map((spot) => ({ who: spot.who, far: Math.hypot(spot.x - x, spot.y - y) }))
        .filter(({ far }) => far <= SAME_SPOT)
        .sort((a, b) => a.far - b.far);
      const group = face.group_key === null || taken[shot]!.has(-face.group_key) ? null : -face.group_key;
      note(shot, face, near?.who ?? group ?? 1_000_000_000 + ++strangers);
    }
  });
  return shots.map((faces) => faces.map((face) => ({ ...face, who: whos.get(face.id)! })));
}

/** The faces of some pictures, by picture. */
export async function facesOf(db: Db, ids: readonly number[]): Promise<Map<number, FaceRow[]>> {
  const faces = new Map<number, FaceRow[]>(ids.map((id) => [id, []]));
  for (const some of chunks(ids, 1000))
    for (const face of (await db('faces')
      .whereIn('picture_id', some)
      .whereNot('state', 'not a face')
      .orderBy('x')
      .select('id', 'picture_id', 'x', 'y', 'w', 'h', 'eyes', 'sharp', 'turn', 'person_id', 'group_key')) as FaceRow[])
      faces.get(face.picture_id)!.push(face);
  return faces;
}

/** What people said and what was noticed of some pictures, as far as it matters for which is the best. */
async function saidOf(db: Db, ids: readonly number[]) {
  const exposure = new Map<number, 'dark' | 'bright'>();
  const albums = new Map<number, number>();
  for (const some of chunks(ids, 1000)) {
    for (const { picture_id, kind } of await db('picture_observations')
      .whereIn('picture_id', some)
      .whereIn('kind', ['dark', 'bright'])
      .select('picture_id', 'kind'))
      exposure.set(picture_id, kind as 'dark' | 'bright');
    for (const { picture_id, n } of (await db('album_pictures as ap')
      .join('albums as a', 'a.id', 'ap.album_id')
      .whereIn('ap.picture_id', some)
      .whereNull('a.removed_at')
      .groupBy('ap.picture_id')
      .select('ap.picture_id', db.raw('COUNT(*) AS n'))) as unknown as { picture_id: number; n: number }[])
      albums.set(picture_id, Number(n));
  }
  return { exposure, albums };
}

const asFace = (face: RunFace): ShotFace => ({
  who: face.who,
  box: [face.x, face.y, face.x + face.w, face.y + face.h],
  eyes: face.eyes,
  sharp: face.sharp,
  turn: face.turn,
});

type Judged = Pick<ShotRow, 'id' | 'width' | 'height' | 'sharpness' | 'rating' | 'favourite'>;

/** Runs as core chooses in them, each with whose its faces are. */
export async function runShots(
  db: Db,
  runs: readonly (readonly Judged[])[],
): Promise<{ shots: RunShot[]; faces: RunFace[][] }[]> {
  const ids = runs.flatMap((run) => run.map((row) => row.id));
  const faces = await facesOf(db, ids);
  const { exposure, albums } = await saidOf(db, ids);
  return runs.map((run) => {
    const mine = whoIsWho(run.map((row) => faces.get(row.id)!));
    return {
      faces: mine,
      shots: run.map((row, i) => ({
        sharp: row.sharpness,
        pixels: row.width * row.height,
        exposure: exposure.get(row.id) ?? null,
        faces: mine[i]!.map(asFace),
        rating: row.rating,
        favourite: Boolean(row.favourite),
        albums: albums.get(row.id) ?? 0,
      })),
    };
  });
}
