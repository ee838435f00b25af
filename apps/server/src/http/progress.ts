import type { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import type { App } from '../context';
import { together, type Row } from '../feed/feed';
import { guard, type Vars } from './guard';

/** How long many changes are gathered to be told as one, and how often a quiet stream says that it is still there, in ms. */
const GATHER = 700;
const STILL = 20_000;

/**
 * What changes, as server-sent events. Each carries its place in the feed; a browser that comes back says the last one it
 * heard and is told what it missed, or, when that is too long ago, that everything may have changed (`everything`).
 */
export function addProgress(http: Hono<Vars>, app: App): void {
  http.get('/api/progress', (c) => {
    const session = guard(c, 'relative');
    const heard = Number(c.req.header('last-event-id'));
    const still = (): Promise<boolean> =>
      app
        .db('sessions as s')
        .join('members as m', 'm.account_id', 's.account_id')
        .where({ 's.id': session.id, 'm.id': session.member })
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
      const missed = heard > 0 ? await app.feed.since(session.library, heard) : [];
      if (missed) news.unshift(...missed);
      await stream.writeSSE({
        event: missed ? 'hello' : 'everything',
        id: String(missed?.length ? heard : (await app.feed.last()) || 1),
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
        await stream.writeSSE(
          any
            ? { event: 'changed', id: String(id), data: JSON.stringify(together(told)) }
            : { event: 'still', data: '{}' },
        );
        if (any) await stream.sleep(GATHER);
      }
      end();
    });
  });
}
