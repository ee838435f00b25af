import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { lookedAt, notices } from '../notice/notices';
import { addPlace, endPlace } from '../notice/push';
import { setDigest, toldOf } from '../notice/told';
import { parlour, setHeart } from '../parlour/parlour';
import { audiencesOf, meantOf, sayAudience } from '../sight/say';
import { setView, tryView, viewOf } from '../sight/views';
import { refused } from '../problem';

type Names =
  | ('parlour' | 'ownHeart' | 'view' | 'tryView' | 'setView' | 'meant' | 'sayAudience' | 'audiences')
  | ('notices' | 'noticesSeen' | 'told' | 'setTold' | 'addPushPlace' | 'endPushPlace');
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** The answers of the routes about what somebody sees, for whom pictures are, and what is new to whom. */
export function sightHandlers(app: App, forget: () => void): Handlers {
  const whole = app.whole ?? app;
  return {
    parlour: (_, { session }) => parlour(app, session),
    ownHeart: async ({ params, body }, { session }) => {
      await setHeart(app, session, params.id, body.on);
      return { done: true };
    },
    notices: (_, { session }) => notices(app, session),
    noticesSeen: async ({ body }, { session }) => {
      await lookedAt(app, session, body.until);
      return { done: true };
    },
    told: (_, { session }) => toldOf(app, session),
    setTold: async ({ body }, { session }) => {
      await setDigest(app, session, body.digest);
      return toldOf(app, session);
    },
    addPushPlace: async ({ body }, { session }) => {
      await addPlace(whole, session.member, body);
      return toldOf(app, session);
    },
    endPushPlace: async ({ body }, { session }) => {
      await endPlace(whole, session.member, body.endpoint);
      return toldOf(app, session);
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
