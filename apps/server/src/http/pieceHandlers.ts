import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { App } from '../context';
import { layoutOf } from '../piece/book/layout';
import { changePiece, listPieces, makePiece, pieceById, produce, removePiece, stopProducing } from '../piece/pieces';
import type { Call } from './guard';

type Names =
  'pieces' | 'piece' | 'makePiece' | 'changePiece' | 'removePiece' | 'bookLayout' | 'produce' | 'stopProducing';

/** The answers of the routes about what is made of pictures. */
export function pieceHandlers(app: App): {
  [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>>;
} {
  return {
    pieces: async (_, { session }) => ({ pieces: await listPieces(app, session.library) }),
    piece: ({ params }, { session }) => pieceById(app, session.library, params.id),
    makePiece: ({ body }, { session }) => makePiece(app, session, body),
    changePiece: ({ params, body }, { session }) => changePiece(app, session, params.id, body),
    removePiece: ({ params }, { session }) => removePiece(app, session, params.id),
    bookLayout: ({ params }, { session }) => layoutOf(app, session.library, params.id),
    produce: async ({ params }, { session }) => (await produce(app, session.library, params.id), {}),
    stopProducing: async ({ params }, { session }) => (await stopProducing(app, session.library, params.id), {}),
  };
}
