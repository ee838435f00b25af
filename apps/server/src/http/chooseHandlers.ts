import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import { emptyBin, intoBin, restore, setBinDays } from '../bin/acts';
import { listBin } from '../bin/list';
import { takeBinned } from '../bin/met';
import { chooseInRun } from '../run/choose';
import { keepDoublesApart, listDoubles, mergeDoubles } from '../run/doubles';
import { listRuns, runDetail } from '../run/runs';
import { takeApart } from '../scan/apart';
import { listBacks, pairSides } from '../scan/backs';
import { keepWhole, listScans, lookForPrints, scanOf } from '../scan/scans';
import { secondLook } from '../touchup/looks';
import { lookOf, setLooksKept, touchUp } from '../touchup/touchUp';
import type { App } from '../context';
import { FailLimit } from '../account/limit';
import { refused } from '../problem';

type Names =
  | 'look'
  | 'touchUp'
  | 'scans'
  | 'scan'
  | 'lookForPrints'
  | 'takeApart'
  | 'keepWhole'
  | 'secondLook'
  | 'backs'
  | 'pair'
  | 'looksKept'
  | 'setLooksKept'
  | 'runs'
  | 'run'
  | 'chooseInRun'
  | 'doubles'
  | 'mergeDoubles'
  | 'keepDoublesApart'
  | 'bin'
  | 'intoBin'
  | 'restore'
  | 'emptyBin'
  | 'setBinDays'
  | 'takeBinned';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** Answers of the routes of touch-ups, scans, runs, doubles and the bin. */
export function chooseHandlers(app: App): Handlers {
  // Whoever sits at an open page must not find out the password by trying.
  const tries = new FailLimit({ most: 10, minutes: 5 });
  return {
    look: ({ params }, { session }) => lookOf(app, session.library, params.id),
    touchUp: ({ body }, { session }) => touchUp(app, session, body.ids, body.recipe, body.colours),
    looksKept: async (_, { session }) => ({
      kept: (await app.db('libraries').where('id', session.library).first('looks_kept'))!.looks_kept,
    }),
    setLooksKept: ({ body }, { session }) => setLooksKept(app, session, body.kept),

    secondLook: ({ params, body }, { session }) => secondLook(app, session, params.id, body.recipe),

    scans: ({ query }, { session }) => listScans(app, session.library, query.limit),
    scan: ({ params }, { session }) => scanOf(app, session.library, params.id),
    lookForPrints: ({ params }, { session }) => lookForPrints(app, session.library, params.id),
    takeApart: ({ params, body }, { session }) => takeApart(app, session, params.id, body.prints),
    keepWhole: ({ params }, { session }) => keepWhole(app, session, params.id),
    backs: (_, { session }) => listBacks(app, session.library),
    pair: ({ body }, { session }) => pairSides(app, session, body.pairs, body.are),

    runs: ({ query }, { session }) => listRuns(app, session.library, query.limit),
    run: ({ params }, { session }) => runDetail(app, session.library, params.id),
    chooseInRun: ({ params, body }, { session }) => chooseInRun(app, session, params.id, body.keep),
    doubles: ({ query }, { session }) => listDoubles(app, session.library, query),
    mergeDoubles: ({ body }, { session }) => mergeDoubles(app, session, body.keep, body.others),
    keepDoublesApart: ({ body }, { session }) => keepDoublesApart(app, session, body.ids),

    bin: ({ query }, { session }) => listBin(app, session.library, query),
    intoBin: ({ body }, { session }) => intoBin(app, session, body.ids),
    restore: ({ body }, { session }) => restore(app, session, body),
    emptyBin: async ({ body }, { session }) => {
      const who = String(session.member);
      if (!(await tries.begin(who))) throw refused('too-many-tries');
      const done = await emptyBin(app, session, body);
      await tries.clear(who);
      return done;
    },
    setBinDays: ({ body }, { session }) => setBinDays(app, session, body.days),
    takeBinned: ({ params }, { session }) => takeBinned(app, session, params.id),
  };
}
