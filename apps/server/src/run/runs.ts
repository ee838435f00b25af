import { chooseShot } from '@gemmel/core';
import type { Answer, Api, RunListed } from '@gemmel/contract';
import type { App } from '../context';
import { notFound } from '../problem';
import { runShots } from './shots';

const local = (at: string) => at.replace(' ', 'T');

/** Runs of two shots and more of which some were not chosen in. */
const OPEN = 'run_id IS NOT NULL AND COALESCE(pair_id, 0) = 0 GROUP BY run_id HAVING COUNT(*) > 1 AND MIN(chosen) = 0';

/** How many runs and groups of doubles there are to choose in. */
export async function countRuns({ db }: App, library: number): Promise<{ total: number; doubles: number }> {
  const [[row]] = (await db.raw(
    `SELECT (SELECT COUNT(*) FROM (SELECT run_id FROM pictures WHERE library_id = ? AND ${OPEN}) r) AS total,
       (SELECT COUNT(DISTINCT alike_id) FROM pictures WHERE library_id = ? AND alike_id IS NOT NULL) AS doubles`,
    [library, library],
  )) as [[{ total: number; doubles: number }]];
  return { total: Number(row.total), doubles: Number(row.doubles) };
}

/** Runs nobody has chosen in, latest first. */
export async function listRuns(app: App, library: number, limit: number): Promise<Answer<Api['runs']>> {
  const { db } = app;
  const [rows] = (await db.raw(
    `SELECT r.run_id AS id, COUNT(*) AS shots, MIN(r.taken_local) AS \`from\`, MAX(r.taken_local) AS \`to\`, MAX(e.title) AS event,
       MAX(COALESCE(o.name, r.place)) AS place,
       GROUP_CONCAT(HEX(r.shown) ORDER BY r.run_first DESC, r.taken_local SEPARATOR ',') AS shas
     FROM (SELECT run_id FROM pictures WHERE library_id = ? AND ${OPEN}) open
     JOIN pictures r ON r.library_id = ? AND r.run_id = open.run_id
     LEFT JOIN events e ON e.id = r.event_id LEFT JOIN own_places o ON o.id = r.own_place_id
     GROUP BY r.run_id ORDER BY MAX(r.taken_local) DESC, r.run_id DESC LIMIT ?`,
    [library, library, limit],
  )) as [(Omit<RunListed, 'shas'> & { shas: string })[]];
  return {
    runs: rows.map((row) => ({
      ...row,
      shots: Number(row.shots),
      from: local(row.from),
      to: local(row.to),
      shas: row.shas
        .toLowerCase()
        .split(',')
        .filter((sha) => sha.length === 64)
        .slice(0, 5),
    })),
    ...(await countRuns(app, library)),
  };
}

/** The shots of one run, in the order of time, which of them is the best, and why. */
export async function runDetail({ db }: App, library: number, id: number): Promise<Answer<Api['run']>> {
  const rows = await db('pictures as p')
    .leftJoin('devices as d', 'd.id', 'p.device_id')
    .leftJoin('events as e', 'e.id', 'p.event_id')
    .leftJoin('own_places as o', 'o.id', 'p.own_place_id')
    .where({ 'p.library_id': library, 'p.run_id': id })
    .orderBy('p.taken_local')
    .orderBy('p.id')
    .select(
      'p.id',
      'p.shown',
      'p.thumb',
      'p.name',
      'p.width',
      'p.height',
      'p.bytes',
      'p.sharpness',
      'p.rating',
      'p.favourite',
      'p.chosen',
      'p.taken_local',
      'd.name as device',
      'e.title as event',
      db.raw('COALESCE(o.name, p.place) AS place'),
    );
  if (rows.length < 2) throw notFound('pictures');
  const [{ shots, faces }] = (await runShots(db, [rows])) as [Awaited<ReturnType<typeof runShots>>[number]];
  const { best, reasons, against } = chooseShot(shots);
  const people = [
    ...new Set(
      faces
        .flat()
        .map((face) => face.person_id)
        .filter((one) => one !== null),
    ),
  ];
  const named = await db('people').where('library_id', library).whereIn('id', people).select('id', 'name', 'nickname');
  return {
    id,
    best: rows[best]!.id,
    reasons: [...reasons],
    names: Object.fromEntries(named.map((person) => [person.id, person.nickname ?? person.name])),
    event: (rows.find((row) => row.event)?.event as string | undefined) ?? null,
    place: (rows.find((row) => row.place)?.place as string | undefined) ?? null,
    shots: rows.map((row, i) => ({
      id: row.id,
      sha: row.shown.toString('hex'),
      thumb: row.thumb.toString('base64'),
      name: row.name,
      width: row.width,
      height: row.height,
      bytes: Number(row.bytes),
      taken: local(row.taken_local!),
      device: row.device as string | null,
      rating: row.rating,
      favourite: Boolean(row.favourite),
      albums: shots[i]!.albums,
      chosen: Boolean(row.chosen),
      faces: faces[i]!.map(({ id: face, who, x, y, w, h }) => ({ id: face, who, x, y, w, h })),
      against: [...against[i]!],
    })),
  };
}
