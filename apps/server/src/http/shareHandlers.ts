import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import { randomBytes } from 'node:crypto';
import { getCookie } from 'hono/cookie';
import { addressOf } from '../account/address';
import type { App } from '../context';
import { additionsOf, announceAdditions, sayOfAdditions, takeAddition } from '../share/additions';
import { addGuests, setGuest, sharedWith } from '../share/guests';
import { answerComment } from '../comment/comments';
import { guestComment, guestComments, guestHeart, hideComment, takeGuestComment } from '../share/guestSay';
import { guestView } from '../share/guestView';
import { changeShare, listShares, openShare, renewLink, setClosed, tryShare } from '../share/shares';
import { atShare, ShareDoor, visitsOf, type AtShare } from '../share/visits';
import { setOwnCookie } from './cookies';
import type { Call } from './guard';
import { reachOf, setAddress } from './reach';

type Names =
  | ('shares' | 'tryShare' | 'openShare' | 'changeShare' | 'renewLink' | 'closeShare' | 'reopenShare')
  | ('addGuests' | 'closeGuest' | 'visits' | 'shareAdditions' | 'answerComment' | 'hideComment' | 'mine')
  | ('reach' | 'setAddress')
  | ('guest' | 'enterShare' | 'guestComments' | 'guestComment' | 'takeGuestComment' | 'guestHeart')
  | ('announceAdditions' | 'additions' | 'takeAddition');
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

/** The mark by which a guest's browser is known again. */
export const GUEST = 'gemmel-guest';
const DAYS = 365;

/** The share a link opens, as the browser that asks. `marks` gives it a mark when it has none. */
export async function guestAt(
  app: App,
  c: Call['c'],
  token: string,
  { marks = false, brief = false } = {},
): Promise<AtShare> {
  let mark = getCookie(c, GUEST);
  const fresh = marks && !mark;
  if (fresh) mark = randomBytes(18).toString('base64url');
  const at = await atShare(app, token, mark, brief);
  // Only who has opened a share that is there is marked, and only when their link is not a mark itself.
  if (fresh && !at.guest) setOwnCookie(c, GUEST, mark!, DAYS);
  return at;
}

/** The answers of the routes of shares, for keepers and for guests. */
export function shareHandlers(app: App): Handlers {
  const door = new ShareDoor(app);
  const agentOf = (c: Call['c']) => c.req.header('user-agent');
  return {
    shares: async (_, { session }) => ({ shares: await listShares(app, session.library) }),
    tryShare: ({ body }, { session }) => tryShare(app, session.library, body),
    openShare: ({ body }, { session }) => openShare(app, session, body),
    changeShare: ({ params, body }, { session }) => changeShare(app, session, params.id, body as never),
    renewLink: async ({ params }, { session }) => ({ share: await renewLink(app, session.library, params.id) }),
    closeShare: ({ params }, { session }) => setClosed(app, session, params.id, true),
    reopenShare: ({ params }, { session }) => setClosed(app, session, params.id, false),
    addGuests: async ({ params, body }, { session }) => ({
      share: await addGuests(app, session.library, params.id, body),
    }),
    closeGuest: async ({ params }, { session }) => ({
      share: await setGuest(app, session.library, params.id, params.guest, params.what),
    }),
    visits: async ({ params }, { session }) => ({ visits: await visitsOf(app, session.library, params.id) }),
    shareAdditions: ({ params, body }, { session }) => sayOfAdditions(app, session, params.id, body),
    answerComment: ({ params, body }, { session }) => answerComment(app, session, params.id, body.text),
    hideComment: ({ params, body }, { session }) => hideComment(app, session, params.id, body.hidden),
    reach: (_, { session }) => reachOf(app, session.library),
    setAddress: ({ body }, { session }) => setAddress(app, session, body.address),
    mine: (_, { session }) => sharedWith(app.whole ?? app, session.library, session.member),

    guest: async ({ params }, { c }) =>
      guestView(app, await guestAt(app, c, params.token, { marks: true }), agentOf(c)),
    enterShare: async ({ params, body }, { c }) =>
      door.enter(await guestAt(app, c, params.token, { marks: true }), body, {
        place: addressOf(c),
        agent: agentOf(c),
      }),
    guestComments: async ({ params }, { c }) => ({
      comments: await guestComments(app, await guestAt(app, c, params.token), params.id),
    }),
    guestComment: async ({ params, body }, { c }) => ({
      comments: await guestComment(app, await guestAt(app, c, params.token), params.id, body.text),
    }),
    takeGuestComment: async ({ params }, { c }) => {
      await takeGuestComment(app, await guestAt(app, c, params.token), params.id);
      return { done: true };
    },
    guestHeart: async ({ params, body }, { c }) => ({
      hearts: await guestHeart(app, await guestAt(app, c, params.token), params.id, body.on),
    }),
    announceAdditions: async ({ params, body }, { c }) => ({
      additions: await announceAdditions(app, await guestAt(app, c, params.token), body.files),
    }),
    additions: async ({ params }, { c }) => ({
      additions: await additionsOf(app, await guestAt(app, c, params.token)),
    }),
    takeAddition: async ({ params }, { c }) => {
      await takeAddition(app, await guestAt(app, c, params.token), params.id);
      return { done: true };
    },
  };
}
