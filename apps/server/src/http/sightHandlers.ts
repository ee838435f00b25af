import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { parlour, setHeart } from '../parlour/parlour';
import { audiencesOf, meantOf, sayAudience } from '../sight/say';
import { setView, tryView, viewOf } from '../sight/views';
import { refused } from '../problem';

type Names = 'parlour' | 'ownHeart' | 'view' | 'tryView' | 'setView' | 'meant' | 'sayAudience' | 'audiences';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** The answers of the routes about what somebody sees, and for whom pictures are. */
export function sightHandlers(app: App, forget: () => void): Handlers {
  return {
    parlour: (_, { session }) => parlour(app, session),
    ownHeart: async ({ params, body }, { session }) => {
      await setHeart(app, session, params.id, body.on);
      return { done: true };
    },
    view: ({ params }, { session }) => viewOf(app, session.library, params.id),
    tryView: ({ params, body }, { session }) => tryView(app, session.library, params.id, body),
    setView: ({ params, body }, { session }) => setView(app, session.library, params.id, body),
    meant: ({ body }, { session }) => meantOf(app, session.library, session.member, body.ids),
    sayAudience: async ({ body }, { session }) => {
      if (body.of === 'library' && session.part !== 'keeper') throw refused('not-allowed');
      const done = await sayAudience(app, session, body);
      forget();
      return done;
    },
    audiences: (_, { session }) => audiencesOf(app, session.library),
  };
}
