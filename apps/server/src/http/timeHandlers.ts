import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { eventDetail } from '../event/detail';
import {
  changeEvent,
  joinEvents,
  makeEvent,
  moveToEvent,
  removeEvent,
  restoreEvents,
  splitEvent,
} from '../event/shape';
import { sittingOf } from '../sitting/sitting';
import { answerClock, clockOffers, reopenClock } from '../time/clocks';
import { mendDates, previewDates } from '../time/redate';
import { setVaultLayout, vaultLayout } from '../vault/layout';

type Names =
  | 'clocks'
  | 'answerClock'
  | 'reopenClock'
  | 'splitEvent'
  | 'joinEvents'
  | 'moveToEvent'
  | 'makeEvent'
  | 'removeEvent'
  | 'restoreEvents'
  | 'event'
  | 'changeEvent'
  | 'previewDates'
  | 'mendDates'
  | 'sitting'
  | 'vaultLayout'
  | 'setVaultLayout';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

const done = { done: true } as const;

/** Answers of the routes about time. */
export function timeHandlers(app: App): Handlers {
  return {
    clocks: async (_, { session }) => ({ clocks: await clockOffers(app, session.library) }),
    answerClock: async ({ params, body }, { session }) => ({
      mended: await answerClock(app, session.library, params.id, body.mend),
    }),
    reopenClock: async ({ params }, { session }) => (await reopenClock(app, session.library, params.id), done),
    splitEvent: ({ params, body }, { session }) => splitEvent(app, session.library, params.id, body.picture),
    joinEvents: ({ params, body }, { session }) => joinEvents(app, session.library, params.id, body.other),
    moveToEvent: ({ body }, { session }) => moveToEvent(app, session.library, body.ids, body.to),
    makeEvent: ({ body }, { session }) => makeEvent(app, session.library, body.title, body.from, body.to),
    removeEvent: ({ params }, { session }) => removeEvent(app, session.library, params.id),
    restoreEvents: async ({ body }, { session }) => (await restoreEvents(app, session.library, body), done),
    event: ({ params }, { session }) => eventDetail(app, session.library, params.id),
    changeEvent: ({ params, body }, { session }) => changeEvent(app, session.library, params.id, body),
    previewDates: ({ body }, { session }) => previewDates(app, session.library, body.ids, body.how),
    mendDates: ({ body }, { session }) => mendDates(app, session.library, body.ids, body.how),
    sitting: (_, { session }) => sittingOf(app, session.library),
    vaultLayout: (_, { session }) => vaultLayout(app, session.library),
    setVaultLayout: async ({ body }, { session }) => ({
      before: await setVaultLayout(app, session.library, body.layout),
    }),
  };
}
