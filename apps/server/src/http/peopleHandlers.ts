import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import { peopleOf } from './lists';
import type { App } from '../context';
import { answerFaces } from '../faces/answers';
import { drawFace } from '../faces/draw';
import { introductions, likelyFaces } from '../faces/introductions';
import { recognisePerson, setRecognition, setSureness, surenessOf } from '../faces/recognition';
import { changeCircle, makeCircle, removeCircle } from '../person/circles';
import { forgetPerson, joinPeople, joinPreview } from '../person/join';
import { changePerson, personDetail } from '../person/people';

type Names =
  | 'people'
  | 'person'
  | 'changePerson'
  | 'recognisePerson'
  | 'joinPreview'
  | 'joinPeople'
  | 'forgetPerson'
  | 'makeCircle'
  | 'changeCircle'
  | 'removeCircle'
  | 'introductions'
  | 'likelyFaces'
  | 'answerFaces'
  | 'drawFace'
  | 'sureness'
  | 'setSureness'
  | 'setRecognition';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** Answers of the routes about people and their faces. */
export function peopleHandlers(app: App): Handlers {
  return {
    people: async (_, { session }) => {
      const all = await peopleOf(app, session.library);
      // Who may still be somebody is for those to say who answer it.
      return session.part === 'relative' ? { ...all, people: all.people.map((one) => ({ ...one, likely: 0 })) } : all;
    },
    person: ({ params }, { session }) => personDetail(app, session.library, params.id),
    changePerson: ({ params, body }, { session }) => changePerson(app, session, params.id, body),
    recognisePerson: ({ params, body }, { session }) => recognisePerson(app, session, params.id, body.on),
    joinPreview: ({ params }, { session }) => joinPreview(app, session.library, params.id, params.into),
    joinPeople: ({ params, body }, { session }) => joinPeople(app, session, params.id, body.into),
    forgetPerson: ({ params }, { session }) => forgetPerson(app, session, params.id),
    makeCircle: ({ body }, { session }) => makeCircle(app, session, body),
    changeCircle: ({ params, body }, { session }) => changeCircle(app, session, params.id, body),
    removeCircle: ({ params }, { session }) => removeCircle(app, session, params.id),
    introductions: (_, { session }) => introductions(app, session.library),
    likelyFaces: async ({ params }, { session }) => ({ faces: await likelyFaces(app, session.library, params.id) }),
    answerFaces: ({ body }, { session }) => answerFaces(app, session, body),
    drawFace: ({ params, body }, { session }) => drawFace(app, session, params.id, body.box, body.is),
    sureness: (_, { session }) => surenessOf(app, session.library),
    setSureness: ({ body }, { session }) => setSureness(app, session, body),
    setRecognition: ({ body }, { session }) => setRecognition(app, session, body.on),
  };
}
