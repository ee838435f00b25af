import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { eventDetail } from '../event/detail';
import { changeEvent, joinEvents, makeEvent, moveToEvent, nameEvent, removeEvent, splitEvent } from '../event/shape';
import { sittingOf } from '../sitting/sitting';
import { answerClock, clockOffers } from '../time/clocks';
import { mendDates, previewDates } from '../time/redate';
import { setLibraryLanguage, setLibraryZone } from '../library/language';
import { setVaultLayout, vaultLayout } from '../vault/layout';

type Names =
  | 'clocks'
  | 'answerClock'
  | 'splitEvent'
  | 'joinEvents'
  | 'moveToEvent'
  | 'makeEvent'
  | 'removeEvent'
  | 'nameEvent'
  | 'event'
  | 'changeEvent'
  | 'previewDates'
  | 'mendDates'
  | 'sitting'
  | 'vaultLayout'
  | 'setVaultLayout'
  | 'setLibraryLanguage'
  | 'setLibraryZone';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** Answers of the routes about time. */
export function timeHandlers(app: App): Handlers {
  return {
    clocks: async (_, { session }) => ({ clocks: await clockOffers(app, session.library) }),
    answerClock: ({ params, body }, { session }) => answerClock(app, session, params.id, body),
    splitEvent: ({ params, body }, { session }) => splitEvent(app, session, params.id, body.picture),
    joinEvents: ({ params, body }, { session }) => joinEvents(app, session, params.id, body.other),
    moveToEvent: ({ body }, { session }) => moveToEvent(app, session, body.ids, body.to),
    makeEvent: ({ body }, { session }) => makeEvent(app, session, body.title, body.from, body.to),
    nameEvent: ({ params, body }, { session }) => nameEvent(app, session, params.id, body.title),
    removeEvent: ({ params }, { session }) => removeEvent(app, session, params.id),
    event: ({ params }, { session }) => eventDetail(app, session.library, params.id),
    changeEvent: ({ params, body }, { session }) => changeEvent(app, session, params.id, body),
    previewDates: ({ body }, { session }) => previewDates(app, session.library, body.ids, body.how),
    mendDates: ({ body }, { session }) => mendDates(app, session, body.ids, body.how),
    sitting: (_, { session }) => sittingOf(app, session.library),
    vaultLayout: (_, { session }) => vaultLayout(app, session.library),
    setLibraryZone: ({ body }, { session }) => setLibraryZone(app, session, body.zone),
    setLibraryLanguage: ({ body }, { session }) => setLibraryLanguage(app, session, body.language),
    setVaultLayout: ({ body }, { session }) => setVaultLayout(app, session, body.layout),
  };
}
