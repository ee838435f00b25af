import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Context, Hono } from 'hono';
import { z } from 'zod';
import { Language } from '@gemmel/contract';
import { isPassword } from '../account/accounts';
import type { App } from '../context';
import { cancel } from '../jobs/jobs';
import { refused } from '../problem';
import { askBackup } from '../safe/backup';
import { askCheck } from '../safe/check';
import { bringWordsBack, earlierStates, earlierWords } from '../safe/earlier';
import { askReadAll } from '../safe/mend';
import { addPlace, changePlace, houseOnly, placeRow, removePlace, secretsIn } from '../safe/places';
import { askRehearsal } from '../safe/rehearse';
import { recoverySheet } from '../safe/sheet';
import { listRuns, safekeeping } from '../safe/state';
import { guard, type Call, type Vars } from './guard';

type Names =
  | ('safekeeping' | 'addSafePlace' | 'changeSafePlace' | 'removeSafePlace' | 'bringUpToDate' | 'stopSafe')
  | ('rehearse' | 'checkSafePlace' | 'safeRuns' | 'safePhrase' | 'readOriginals' | 'stopReading')
  | ('earlierStates' | 'earlierWords' | 'bringWordsBack');
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

const done = { done: true } as const;

/** The answers of the routes of safekeeping. */
export function safeHandlers(app: App): Handlers {
  /** A place of the house, asked for by who looks after it. */
  const at = async (library: number, id: number) => {
    await houseOnly(app, library);
    return placeRow(app, id);
  };
  return {
    safekeeping: (_, { session }) => safekeeping(app, session.library),
    addSafePlace: async ({ body }, { session }) => {
      const id = await addPlace(app, session.library, body);
      if (body.often !== 'hand' && body.kind !== 'machine') await askBackup(app, session.library, id);
      return { id };
    },
    changeSafePlace: async ({ params, body }, { session }) => (
      await changePlace(app, session.library, params.id, body),
      done
    ),
    removeSafePlace: async ({ params }, { session }) => (await removePlace(app, session.library, params.id), done),
    bringUpToDate: async ({ params }, { session }) => {
      await at(session.library, params.id);
      await askBackup(app, session.library, params.id);
      return done;
    },
    stopSafe: async ({ params }, { session }) => {
      await at(session.library, params.id);
      for (const kind of ['backup', 'rehearse', 'safePart'] as const)
        await cancel(app.db, session.library, kind, params.id);
      // What holds still would hold still for ever: the next time begins by itself.
      await changePlace(app, session.library, params.id, { paused: false });
      return done;
    },
    rehearse: async ({ params }, { session }) => (await askRehearsal(app, session.library, params.id), done),
    checkSafePlace: async ({ params }, { session }) => {
      await at(session.library, params.id);
      await askCheck(app, session.library, params.id, true);
      app.changed(session.library, 'safe');
      return done;
    },
    safeRuns: async ({ params }, { session }) => {
      await at(session.library, params.id);
      return { runs: await listRuns(app, session.library, params.id) };
    },
    safePhrase: async ({ params, body }, { session }) => {
      const row = await at(session.library, params.id);
      if (!(await isPassword(app.db, session.account, body.password))) throw refused('password-not-yours');
      return { phrase: secretsIn(app, row).phrase };
    },
    earlierStates: async (_, { session }) => {
      await houseOnly(app, session.library);
      return { states: await earlierStates(app) };
    },
    earlierWords: async ({ params, body }, { session }) => {
      await houseOnly(app, session.library);
      return earlierWords(app, session.library, params.id, body);
    },
    bringWordsBack: async ({ params, body }, { session }) => {
      await houseOnly(app, session.library);
      return bringWordsBack(app, session, params.id, body);
    },
    readOriginals: async (_, { session }) => (
      await askReadAll(app, session.library),
      app.changed(session.library, 'safe'),
      done
    ),
    stopReading: async (_, { session }) => (
      await cancel(app.db, session.library, 'readBack'),
      app.changed(session.library, 'safe'),
      done
    ),
  };
}

const Wish = z.strictObject({ password: z.string().max(200), language: Language });

/** Routes of safekeeping that carry files. */
export function addSafeFiles(http: Hono<Vars>, app: App): void {
  http.post('/api/safekeeping/sheet', async (c: Context<Vars>) => {
    const session = guard(c, 'keeper');
    await houseOnly(app, session.library);
    const wish = Wish.safeParse(await c.req.json().catch(() => null));
    if (!wish.success) throw refused('does-not-fit');
    if (!(await isPassword(app.db, session.account, wish.data.password))) throw refused('password-not-yours');
    const sheet = await recoverySheet(app, session.library, wish.data.language);
    return c.body(new Uint8Array(sheet), 200, { 'content-type': 'application/pdf', 'cache-control': 'no-store' });
  });
}
