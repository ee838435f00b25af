import type { Answer, Api, HandlerInput, PieceSettings } from '@gemmel/contract';
import path from 'node:path';
import type { App } from '../context';
import { layoutOf } from '../piece/book/layout';
import { sheetsLayout } from '../piece/sheets/of';
import { orderPrints } from '../piece/sheets/order';
import { changePiece, listPieces, makePiece, pieceById, produce, removePiece, stopProducing } from '../piece/pieces';
import { houseKeeperOnly } from '../library/libraries';
import { refused } from '../problem';
import { changeFrame, endFrame, listFrames, makeFrame } from '../frame/frames';
import type { Call } from './guard';

type Names =
  | 'frames'
  | 'makeFrame'
  | 'changeFrame'
  | 'endFrame'
  | 'pieces'
  | 'piece'
  | 'makePiece'
  | 'changePiece'
  | 'removePiece'
  | 'bookLayout'
  | 'sheetsLayout'
  | 'orderPrints'
  | 'produce'
  | 'stopProducing';

/** The answers of the routes about what is made of pictures. */
export function pieceHandlers(app: App): {
  [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>>;
} {
  /** A folder of this machine is chosen by whoever looks after it. */
  const mayWrite = async (settings: PieceSettings | undefined, { account }: Call['session']) => {
    if ((settings?.kind !== 'out' && settings?.kind !== 'bundle') || settings.folder === null) return;
    await houseKeeperOnly(app, account);
    if (!path.isAbsolute(settings.folder)) throw refused('whole-path');
  };
  return {
    pieces: async (_, { session }) => ({ pieces: await listPieces(app, session.library) }),
    piece: ({ params }, { session }) => pieceById(app, session.library, params.id),
    makePiece: async ({ body }, { session }) => {
      await mayWrite(body.settings, session);
      return makePiece(app, session, body);
    },
    changePiece: async ({ params, body }, { session }) => {
      await mayWrite(body.settings, session);
      return changePiece(app, session, params.id, body);
    },
    removePiece: ({ params }, { session }) => removePiece(app, session, params.id),
    bookLayout: ({ params }, { session }) => layoutOf(app, session.library, params.id),
    sheetsLayout: ({ params }, { session }) => sheetsLayout(app, session.library, params.id),
    orderPrints: ({ params }, { session }) => orderPrints(app, session.library, params.id),
    frames: async (_, { session }) => ({ frames: await listFrames(app, session.library) }),
    makeFrame: ({ body }, { session }) => makeFrame(app, session.library, body),
    changeFrame: ({ params, body }, { session }) => changeFrame(app, session.library, params.id, body),
    endFrame: async ({ params }, { session }) => (await endFrame(app, session.library, params.id), {}),
    produce: async ({ params }, { session }) => (await produce(app, session.library, params.id), {}),
    stopProducing: async ({ params }, { session }) => (await stopProducing(app, session.library, params.id), {}),
  };
}
