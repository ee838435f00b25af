import type { Answer, Api, HandlerInput, Saying } from '@gemmel/contract';
import { getCookie } from 'hono/cookie';
import path from 'node:path';
import { me, sessionOf, type Session } from '../account/accounts';
import type { App } from '../context';
import { ask, cancel, jobState } from '../jobs/jobs';
import { listSplits, splitOff } from '../keep/split';
import { setLimits, storageOf } from '../keep/storage';
import {
  bringLibraryBack,
  eraseLibrary,
  houseKeeperOnly,
  isHouseKeeper,
  listLibraries,
  nameLibrary,
  removeLibrary,
} from '../library/libraries';
import { forgetLately } from '../share/lately';
import { placeRow } from '../safe/places';
import { refused, sayingIn } from '../problem';
import { COOKIE, type Call } from './guard';

type Names =
  | ('libraries' | 'nameLibrary' | 'removeLibrary' | 'bringLibraryBack' | 'eraseLibrary' | 'keeping')
  | (
      | 'repairLibrary'
      | 'tidyHouse'
      | 'exportLibrary'
      | 'openLibrary'
      | 'moveLibrary'
      | 'openState'
      | 'stopKeeping'
      | 'splitOff'
    )
  | ('storage' | 'setLimits');
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };
type Kept = 'repair' | 'tidy' | 'exportLibrary' | 'openLibrary' | 'moveLibrary';

const done = { done: true } as const;
const fold = (text: string) => text.normalize('NFC').trim().toLowerCase();

/** The answers of the routes of libraries, and of keeping house in them. */
export function libraryHandlers(app: App, forget: () => void): Handlers {
  const { db } = app;
  const by = ({ library, member }: Session) => ({ library, member });
  /** How a piece of work stands whose answer is kept. */
  const workOf = async <T>(library: number, kind: Kept) => {
    const now = await jobState(db, library, kind);
    return (
      now && {
        state: now.state,
        done: now.progress?.done ?? 0,
        of: now.progress?.of ?? 0,
        since: now.progress?.since ?? null,
        result: now.result as T | null,
        why: now.state === 'failed' ? ((sayingIn(now.error) as Saying | null) ?? null) : null,
      }
    );
  };
  const folderAt = (folder: string): string => {
    if (!path.isAbsolute(folder)) throw refused('whole-path');
    return path.normalize(folder);
  };
  return {
    libraries: async (_, { session }) => ({
      libraries: await listLibraries(app, session.account),
      houseKeeper: await isHouseKeeper(app, session.account),
    }),
    nameLibrary: ({ body }, { session }) => nameLibrary(app, by(session), body.name),
    removeLibrary: async ({ body }, { session, c }) => {
      const { name } = (await db('libraries').where('id', session.library).first('name'))!;
      if (fold(body.name) !== fold(name)) throw refused('wrong-name');
      await removeLibrary(app, session.library);
      // Whoever was let in a moment ago is asked again.
      forget();
      forgetLately(app);
      return me(app, await sessionOf(app, getCookie(c, COOKIE)));
    },
    bringLibraryBack: async ({ params }, { session, c }) => {
      await bringLibraryBack(app, session.account, params.slug);
      forget();
      return me(app, await sessionOf(app, getCookie(c, COOKIE), params.slug));
    },
    eraseLibrary: async ({ params, body }, { session }) => {
      const row = await db('libraries').where('slug', params.slug).first('name');
      if (row && fold(body.name) !== fold(row.name)) throw refused('wrong-name');
      await eraseLibrary(app, session.account, params.slug);
      return done;
    },
    keeping: async (_, { session }) => ({
      repair: await workOf(session.library, 'repair'),
      tidy: await workOf(session.library, 'tidy'),
      export: await workOf(session.library, 'exportLibrary'),
      open: await workOf(session.library, 'openLibrary'),
      move: await workOf(session.library, 'moveLibrary'),
      home: (await db('libraries').where('id', session.library).first('home'))!.home,
      splits: await listSplits(app, session.library),
    }),
    repairLibrary: async (_, { session }) => (await ask(db, session.library, 'repair'), done),
    tidyHouse: async (_, { session }) => {
      await houseKeeperOnly(app, session.account);
      await ask(db, session.library, 'tidy');
      return done;
    },
    exportLibrary: async ({ body }, { session }) => {
      await houseKeeperOnly(app, session.account);
      await ask(db, session.library, 'exportLibrary', 0, 0, { to: folderAt(body.folder) });
      return done;
    },
    openLibrary: async ({ body }, { session }) => {
      await houseKeeperOnly(app, session.account);
      await ask(db, session.library, 'openLibrary', 0, 0, {
        from: folderAt(body.folder),
        account: session.account,
      });
      return done;
    },
    moveLibrary: async ({ body }, { session }) => {
      await houseKeeperOnly(app, session.account);
      const to = body.folder === null ? null : folderAt(body.folder);
      await ask(db, session.library, 'moveLibrary', 0, 0, { to });
      return done;
    },
    openState: async ({ body }, { session }) => {
      await houseKeeperOnly(app, session.account);
      await placeRow(app, body.place);
      const { slug } = (await db('libraries').where('id', session.library).first('slug'))!;
      const { state } = body;
      await ask(db, session.library, 'openState', body.place, 0, { slug, state, account: session.account });
      return done;
    },
    stopKeeping: async ({ body }, { session }) => (await cancel(db, session.library, body.what), done),
    splitOff: ({ body }, { session }) => splitOff(app, { ...by(session), account: session.account }, body.ids, body.to),
    storage: (_, { session }) => storageOf(app, session.library),
    setLimits: async ({ body }, { session }) => (await setLimits(app, session.library, body), done),
  };
}
