import type { Hono } from 'hono';
import type { App } from '../context';
import { roomLeft } from '../intake/space';
import { isLocal } from './from';
import type { Vars } from './guard';

/** A figure in Prometheus' text format: its name, what it is, its kind, and its values by label. */
interface Figure {
  name: string;
  help: string;
  type: 'gauge' | 'counter';
  values: readonly (readonly [labels: Readonly<Record<string, string>>, value: number])[];
}

const escaped = (text: string): string => text.replace(/\\/g, '\\\\').replace(/"/g, '\\"').replace(/\n/g, '\\n');

/** Figures as text (Prometheus text exposition format 0.0.4). */
export function toText(figures: readonly Figure[]): string {
  const lines: string[] = [];
  for (const { name, help, type, values } of figures) {
    lines.push(`# HELP ${name} ${help}`, `# TYPE ${name} ${type}`);
    for (const [labels, value] of values) {
      const said = Object.entries(labels).map(([key, text]) => `${key}="${escaped(text)}"`);
      lines.push(`${name}${said.length ? `{${said.join(',')}}` : ''} ${value}`);
    }
  }
  return `${lines.join('\n')}\n`;
}

/** How the house stands, in figures. */
async function figuresOf(app: App): Promise<Figure[]> {
  const { db } = app;
  const [libraries] = (await db.raw(
    `SELECT l.slug, (SELECT COUNT(*) FROM pictures p WHERE p.library_id = l.id) AS pictures,
       (SELECT COALESCE(SUM(p.bytes), 0) FROM pictures p WHERE p.library_id = l.id) AS bytes,
       (SELECT COUNT(*) FROM pictures p WHERE p.library_id = l.id AND p.broken_at IS NOT NULL) AS broken
     FROM libraries l WHERE l.removed_at IS NULL ORDER BY l.id`,
  )) as [{ slug: string; pictures: number; bytes: number; broken: number }[]];
  const jobs = (await db('jobs')
    .groupBy('kind', 'state')
    .select('kind', 'state', db.raw('COUNT(*) AS n'))) as unknown as {
    kind: string;
    state: string;
    n: number;
  }[];
  const places = await db('safe_places').orderBy('id').select('id', 'name', 'there');
  const last = new Map<number, number>();
  for (const { id } of places) {
    const row = await db('safe_runs')
      .where({ place_id: id, kind: 'backup', state: 'done' })
      .orderBy('id', 'desc')
      .first('ended_at');
    if (row?.ended_at) last.set(id, Date.parse(`${row.ended_at.replace(' ', 'T')}Z`) / 1000);
  }
  const { left, total } = await roomLeft(app);
  const by = (of: (row: (typeof libraries)[number]) => number) =>
    libraries.map((row) => [{ library: row.slug }, Number(of(row))] as const);
  return [
    { name: 'gemmel_up', help: 'Whether the database answers.', type: 'gauge', values: [[{}, 1]] },
    { name: 'gemmel_pictures', help: 'Pictures and clips.', type: 'gauge', values: by((row) => row.pictures) },
    { name: 'gemmel_originals_bytes', help: 'Bytes of originals.', type: 'gauge', values: by((row) => row.bytes) },
    {
      name: 'gemmel_originals_broken',
      help: 'Originals found damaged.',
      type: 'gauge',
      values: by((row) => row.broken),
    },
    {
      name: 'gemmel_jobs',
      help: 'Pieces of work, by kind and state.',
      type: 'gauge',
      values: jobs.map(({ kind, state, n }) => [{ kind, state }, Number(n)]),
    },
    { name: 'gemmel_disk_left_bytes', help: 'Bytes that may still be taken.', type: 'gauge', values: [[{}, left]] },
    { name: 'gemmel_disk_total_bytes', help: 'Bytes of the disk.', type: 'gauge', values: [[{}, total]] },
    {
      name: 'gemmel_safe_place_there',
      help: 'Whether a place of second copies is there.',
      type: 'gauge',
      values: places.map(({ name, there }) => [{ place: name }, Number(there)]),
    },
    {
      name: 'gemmel_safe_place_last_seconds',
      help: 'When a place was last brought up to date, in seconds since 1970.',
      type: 'gauge',
      values: places.flatMap(({ id, name }) => (last.has(id) ? [[{ place: name }, last.get(id)!] as const] : [])),
    },
    {
      name: 'process_resident_memory_bytes',
      help: 'Memory of the server.',
      type: 'gauge',
      values: [[{}, process.memoryUsage.rss()]],
    },
    {
      name: 'process_start_time_seconds',
      help: 'When the server was started, in seconds since 1970.',
      type: 'gauge',
      values: [[{}, Math.round(Date.now() / 1000 - process.uptime())]],
    },
  ];
}

/** How long the database may take to answer, in ms, before it counts as away. */
const PATIENCE = 3000;

/** `/healthz` and `/metrics`, for whoever watches over this machine from this machine. */
export function addMetrics(http: Hono<Vars>, app: App): void {
  const here = isLocal;
  const answers = () =>
    Promise.race([
      app.db.raw('SELECT 1').then(
        () => true,
        () => false,
      ),
      new Promise<boolean>((resolve) => setTimeout(() => resolve(false), PATIENCE).unref()),
    ]);
  http.get('/healthz', async (c) => {
    if (!here(c)) return c.text('Not here.', 404);
    const up = await answers();
    return c.json({ ok: up, database: up ? 'up' : 'away' }, up ? 200 : 503);
  });
  http.get('/metrics', async (c) => {
    if (!here(c)) return c.text('Not here.', 404);
    const head = { 'content-type': 'text/plain; version=0.0.4; charset=utf-8' };
    if (!(await answers()))
      return c.body(
        toText([{ name: 'gemmel_up', help: 'Whether the database answers.', type: 'gauge', values: [[{}, 0]] }]),
        200,
        head,
      );
    return c.body(toText(await figuresOf(app)), 200, head);
  });
}
