import type { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import { z } from 'zod';
import type { App } from '../context';
import type { Session } from '../account/accounts';
import { sightOf } from '../sight/sight';
import { appThrough } from '../sight/through';
import { together, type Row } from '../feed/feed';
import { guard, type Vars } from './guard';

/** How long many changes are gathered to be told as one, and how often a quiet stream says that it is still there, in ms. */
const GATHER = 700;
const STILL = 20_000;

/** How old the first answers of a page may be that only now listens, in ms: what changed since is told as well. */
const Over = z.coerce.number().int().min(0).max(10_000).catch(0);

/** Topics whose news names pictures. */
const OF_PICTURES: ReadonlySet<string> = new Set(['pictures', 'said']);

/**
 * News as somebody hears it who does not see all: it names pictures only when they see each of them, and else says that anything of its
 * kind may have changed.
 */
async function asSeen(app: App, session: Session, rows: readonly Row[]): Promise<readonly Row[]> {
  const sight = await sightOf(app.db, session);
  if (!sight) return rows;
  const { db } = appThrough(app, sight);
  return Promise.all(
    rows.map(async (row) => {
      if (row.ids === null || row.topic === 'pile') return row;
      if (!OF_PICTURES.has(row.topic)) return { ...row, ids: null };
      const seen = await db('pictures').where('library_id', session.library).whereIn('id', row.ids).select('id');
      return seen.length === row.ids.length ? row : { ...row, ids: null };
    }),
  );
}

/**
 * What changes, as server-sent events. Each carries its place in the feed; a browser that comes back says the last one it
 * heard and is told what it missed, or, when that is too long ago, that everything may have changed (`everything`). A page that has just
 * been opened says how old its first answers are (`over`), and is told what has changed since.
 */
export function addProgress(http: Hono<Vars>, app: App): void {
  http.get('/api/progress', (c) => {
    const session = guard(c, 'relative');
    const heard = Number(c.req.header('last-event-id'));
    const over = Over.parse(c.req.query('over') ?? 0);
    const still = (): Promise<boolean> =>
      app
        .db('sessions as s')
        .join('members as m', 'm.account_id', 's.account_id')
        .where({ 's.id': session.id, 'm.library_id': session.library })
        .whereNull('m.left_at')
        .first('m.id')
        .then(
          (row) => Boolean(row),
          // While the database is away nobody can tell; what is said meanwhile is nothing.
          () => true,
        );
    return streamSSE(c, async (stream) => {
      let news: Row[] = [];
      let wake: (() => void) | null = null;
      const end = await app.feed.listen(session.library, (rows) => {
        news.push(...rows);
        wake?.();
      });
      stream.onAbort(() => {
        end();
        wake?.();
      });
      const missed = await (heard > 0 ? app.feed.since(session.library, heard) : app.feed.over(session.library, over));
      if (missed) news.unshift(...missed);
      await stream.writeSSE({
        event: missed ? 'hello' : 'everything',
        id: String(heard > 0 && missed?.length ? heard : (await app.feed.last()) || 1),
        data: '{}',
      });
      while (!stream.aborted && !stream.closed) {
        await new Promise<void>((resolve) => {
          const timer = setTimeout(resolve, STILL);
          wake = () => (clearTimeout(timer), resolve());
          if (news.length) wake();
        });
        wake = null;
        // Who is no longer a member, or signed out, hears nothing more.
        if (!(await still())) break;
        const told = news.filter(({ topic, ids }) => topic !== 'pile' || ids === null || ids.includes(session.member));
        const id = news.reduce((highest, row) => Math.max(highest, row.id), 0);
        const any = told.length > 0;
        news = [];
        const seen = any ? await asSeen(app, session, told) : [];
        await stream.writeSSE(
          any
            ? { event: 'changed', id: String(id), data: JSON.stringify(together(seen)) }
            : { event: 'still', data: '{}' },
        );
        if (any) await stream.sleep(GATHER);
      }
      end();
    });
  });
}
