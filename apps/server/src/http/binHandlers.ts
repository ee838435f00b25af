import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import { emptyBin, intoBin, restore, setBinDays } from '../bin/acts';
import { listBin } from '../bin/list';
import { takeBinned } from '../bin/met';
import type { App } from '../context';
import { FailLimit } from '../account/limit';
import { refused } from '../problem';

type Names = 'bin' | 'intoBin' | 'restore' | 'emptyBin' | 'setBinDays' | 'takeBinned';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** Answers of the routes of the bin. */
export function binHandlers(app: App): Handlers {
  // Whoever sits at an open page must not find out the password by trying.
  const tries = new FailLimit({ most: 10, minutes: 5 });
  return {
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
