import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import { changeComment, removeComment, writeComment } from '../comment/comments';
import { isEverything } from '@gemmel/core';
import type { App } from '../context';
import { facetsOfAll, tagsOf } from './lists';
import { refuseForeign } from '../library/own';
import { changeMark, listMarks, makeMark, removeMark } from '../mark/marks';
import { pauseLook } from '../observe/looks';
import { observing, sayNotSo, setObserving } from '../observe/observe';
import { metadataOf } from '../picture/metadata';
import { notAgain, thisDay } from '../picture/thisDay';
import { saidTogether } from '../picture/together';
import { changePin, listPins, makePin, removePin } from '../pin/pins';
import { askTyped } from '../question/ask';
import { facetsOf } from '../question/facets';
import { moreLike } from '../question/like';
import { refuseForeignQuestion } from '../question/foreign';
import {
  changeTag,
  clearTag,
  joinTags,
  keepApart,
  likelyTags,
  listTwins,
  makeTag,
  removeTag,
  tagsBeside,
} from '../tag/tree';

type Names =
  | 'marks'
  | 'makeMark'
  | 'changeMark'
  | 'removeMark'
  | 'comment'
  | 'changeComment'
  | 'removeComment'
  | 'tags'
  | 'makeTag'
  | 'changeTag'
  | 'joinTags'
  | 'clearTag'
  | 'removeTag'
  | 'tagsBeside'
  | 'twins'
  | 'keepApart'
  | 'likelyTags'
  | 'saidTogether'
  | 'ask'
  | 'facets'
  | 'moreLike'
  | 'thisDay'
  | 'notAgain'
  | 'metadata'
  | 'observing'
  | 'setObserving'
  | 'pauseLook'
  | 'sayNotSo'
  | 'pins'
  | 'makePin'
  | 'changePin'
  | 'removePin';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>> };

/** Answers of the routes of what people say of pictures, and of asking for it. */
export function sayHandlers(app: App): Handlers {
  const { db } = app;
  return {
    marks: async (_, { session }) => ({ marks: await listMarks(db, session.library) }),
    makeMark: ({ body }, { session }) => makeMark(app, session, body),
    changeMark: ({ params, body }, { session }) => changeMark(app, session, params.id, body),
    removeMark: ({ params }, { session }) => removeMark(app, session, params.id),

    comment: ({ body }, { session }) => writeComment(app, session, body.ids, body.text),
    changeComment: ({ params, body }, { session }) => changeComment(app, session, params.id, body.text),
    removeComment: ({ params }, { session }) => removeComment(app, session, params.id),

    tags: (_, { session }) => tagsOf(app, session.library),
    makeTag: ({ body }, { session }) => makeTag(app, session, body.path),
    changeTag: ({ params, body }, { session }) => changeTag(app, session, params.id, body),
    joinTags: ({ params, body }, { session }) => joinTags(app, session, params.id, body.to),
    clearTag: ({ params, body }, { session }) => clearTag(app, session, params.id, body.where),
    removeTag: ({ params }, { session }) => removeTag(app, session, params.id),
    tagsBeside: async ({ params }, { session }) => {
      await refuseForeign(db, session.library, 'tags', [params.id], 'tag');
      return { tags: await tagsBeside(app, session.library, params.id) };
    },
    twins: async (_, { session }) => ({ twins: await listTwins(app, session.library) }),
    keepApart: ({ params, body }, { session }) => keepApart(app, session, params.id, body.other),
    likelyTags: async ({ body }, { session }) => ({ tags: await likelyTags(app, session, body.ids) }),
    saidTogether: ({ body }, { session }) => saidTogether(app, session.library, body.ids),

    ask: ({ body }, { session }) => askTyped(app, session.library, body),
    facets: ({ body: { question } }, { session: { library } }) =>
      isEverything(question) ? facetsOfAll(app, library) : facetsOf(app, library, question),
    moreLike: async ({ params }, { session }) => ({ offers: await moreLike(app, session.library, params.id) }),
    thisDay: (_, { session }) => thisDay(app, session.library),
    notAgain: ({ body }, { session }) => notAgain(app, session, body),
    metadata: ({ params }, { session }) => metadataOf(app, session.library, params.id),
    observing: (_, { session }) => observing(app, session.library),
    setObserving: ({ params, body }, { session }) => setObserving(app, session, params.kind, body.on),
    pauseLook: async ({ params, body }, { session }) => {
      await pauseLook(app, session.library, params.look, body.paused);
      return {};
    },
    sayNotSo: ({ body }, { session }) => sayNotSo(app, session, body.ids, body.observed),
    pins: async (_, { session }) => ({ pins: await listPins(app, session.library, session.member) }),
    makePin: async ({ body }, { session }) => {
      await refuseForeignQuestion(db, session.library, body.question);
      return makePin(app, session, body);
    },
    changePin: async ({ params, body }, { session }) => {
      if (body.question) await refuseForeignQuestion(db, session.library, body.question);
      return changePin(app, session, params.id, body);
    },
    removePin: ({ params }, { session }) => removePin(app, session, params.id),
  };
}
