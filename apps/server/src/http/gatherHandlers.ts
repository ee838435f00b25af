import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { ledger, nameDevice, settleGaps } from '../gather/ledger';
import { listedFiles, lookAgain, takeFromCard } from '../gather/listing';
import { cardOffers, offerOf } from '../gather/offers';
import { addPhone, changeSource, renewPassword, sourceOf } from '../gather/sources';
import { refuseOverLimit } from '../keep/storage';
import { giveUpWaiting, openBatch, resumeBatch, retryBatch, stopBatch } from '../intake/announce';
import { settleConflict } from '../intake/conflicts';
import { listBatches, listConflicts, listItems } from '../intake/list';
import {
  nameFiles,
  namesToCome,
  numberPictures,
  previewNames,
  numberWhenIn,
  previewNumbers,
  previewOf,
} from '../intake/number';
import { batchPictures } from '../intake/came';
import { albumsPerFolder, answerOffer } from '../intake/offers';
import { fingerprints } from '../intake/receive';
import { roomLeft } from '../intake/space';
import { albumIds } from '../album/holding';
import { idsOf } from '../picture/pictures';
import { playable, stopConverting } from '../picture/clips';
import { notFound, refused } from '../problem';

type Names =
  | 'batches'
  | 'batch'
  | 'openBatch'
  | 'fingerprints'
  | 'batchItems'
  | 'stopBatch'
  | 'resumeBatch'
  | 'giveUpWaiting'
  | 'retryBatch'
  | 'batchAlbum'
  | 'folderAlbums'
  | 'conflicts'
  | 'settleConflict'
  | 'previewNumbers'
  | 'numberFiles'
  | 'previewNames'
  | 'nameFiles'
  | 'room'
  | 'ledger'
  | 'nameDevice'
  | 'settleGap'
  | 'cards'
  | 'card'
  | 'takeCard'
  | 'addPhone'
  | 'renewPassword'
  | 'changeSource'
  | 'playable'
  | 'stopConverting';

type Handlers = {
  [K in Names]: (input: HandlerInput<Api[K]>, call: { session: Session }) => Promise<Answer<Api[K]>>;
};

const done = { done: true } as const;

/** What the routes about gathering do. */
export function gatherHandlers(app: App): Handlers {
  const which = async (library: number, { ids, batch }: { ids?: number[] | undefined; batch?: number | undefined }) => {
    const wanted = ids ?? (batch === undefined ? [] : await batchPictures(app.db, library, batch));
    if (wanted.length === 0) throw refused('nothing-to-number');
    return wanted;
  };
  /** Pictures of a kind of whole, and whether they stand in an order of their own. */
  const someOf = async (
    library: number,
    what: {
      ids?: number[] | undefined;
      batch?: number | undefined;
      event?: number | undefined;
      album?: number | undefined;
    },
  ): Promise<readonly [number[], boolean]> => {
    if (what.album !== undefined) {
      const ids = await albumIds(app, library, what.album);
      if (ids.length === 0) throw refused('nothing-to-number');
      return [[...ids], true];
    }
    if (what.event === undefined) return [await which(library, what), false];
    const ids = await idsOf(app, library, { event: what.event }, true);
    if (ids.length === 0) throw refused('nothing-to-number');
    return [ids, false];
  };
  const room = async (library: number) => ({ ...(await roomLeft(app)), full: app.full.has(library) });
  return {
    batches: async (_, { session }) => ({ batches: await listBatches(app, session.library) }),
    batch: async ({ params }, { session }) => {
      const [batch] = await listBatches(app, session.library, 1, params.id);
      if (!batch) throw notFound('batch');
      return batch;
    },
    openBatch: async ({ body }, { session }) => {
      const bytes = body.files.reduce((sum, file) => sum + file.bytes, 0);
      await refuseOverLimit(app.whole ?? app, session.library, { member: session.member }, bytes);
      return openBatch(app.whole ?? app, session.library, body.name, body.files, {
        numbering: body.numbering,
        by: session.member,
      });
    },
    fingerprints: async ({ params, body }, { session }) => ({
      known: await fingerprints(app, session.library, params.id, body.prints),
    }),
    batchItems: ({ params, body }, { session }) =>
      listItems(app, session.library, params.id, body.fate, body.after, body.limit),
    stopBatch: async ({ params }, { session }) => (await stopBatch(app, session.library, params.id), done),
    resumeBatch: async ({ params }, { session }) => (await resumeBatch(app, session.library, params.id), done),
    giveUpWaiting: async ({ params }, { session }) => (await giveUpWaiting(app, session.library, params.id), done),
    retryBatch: async ({ params }, { session }) => ({ again: await retryBatch(app, session.library, params.id) }),
    batchAlbum: async ({ params, body }, { session }) => {
      const { album: albumId, act } = await answerOffer(app, session, params.id, body.name);
      return { albumId, act };
    },
    folderAlbums: async ({ params }, { session }) => {
      const { albums: albumIds, act } = await albumsPerFolder(app, session, params.id);
      return { albumIds, act };
    },
    conflicts: async ({ params }, { session }) => ({
      conflicts: await listConflicts(app, session.library, params.id),
    }),
    settleConflict: ({ params, body }, { session }) => settleConflict(app, session, params.id, body.take),
    previewNumbers: async ({ body }, { session }) => {
      const coming = body.batch === undefined ? null : await namesToCome(app, session.library, body.batch);
      if (coming) return { names: previewOf(coming, body.numbering), count: coming.length };
      const ids = await which(session.library, body);
      return { names: await previewNumbers(app, session.library, ids, body.numbering), count: ids.length };
    },
    numberFiles: async ({ body }, { session }) =>
      body.batch !== undefined && (await numberWhenIn(app, session.library, body.batch, body.numbering))
        ? { count: 0, act: null }
        : numberPictures(app, session, await which(session.library, body), body.numbering),
    previewNames: async ({ body }, { session }) => {
      const [ids, own] = await someOf(session.library, body);
      return { names: await previewNames(app, session.library, ids, body.naming, own), count: ids.length };
    },
    nameFiles: async ({ body }, { session }) => {
      const [ids, own] = await someOf(session.library, body);
      return nameFiles(app, session, ids, body.naming, own);
    },
    room: (_, { session }) => room(session.library),
    ledger: async (_, { session }) => ({ devices: await ledger(app, session.library) }),
    nameDevice: ({ params, body }, { session }) => nameDevice(app, session, params.id, body.name),
    settleGap: ({ params, body }, { session }) => settleGaps(app, session, params.id, body.from),
    cards: async (_, { session }) => ({ cards: await cardOffers(app, session.library) }),
    card: async ({ params }, { session }) => {
      const source = await sourceOf(app, session.library, params.id);
      await lookAgain(app, session.library, source);
      return {
        card: await offerOf(app, session.library, source),
        files: await listedFiles(app, session.library, params.id),
        room: await room(session.library),
      };
    },
    takeCard: ({ params, body }, { session }) =>
      takeFromCard(app, session.library, params.id, body.files, body.numbering),
    addPhone: ({ body }, { session }) => addPhone(app, session.library, body.name),
    renewPassword: ({ params }, { session }) => renewPassword(app, session.library, params.id),
    changeSource: ({ params, body }, { session }) => changeSource(app, session, params.id, body),
    playable: ({ params }, { session }) => playable(app, session.library, params.id),
    stopConverting: async ({ params }, { session }) => (await stopConverting(app, session.library, params.id), done),
  };
}
