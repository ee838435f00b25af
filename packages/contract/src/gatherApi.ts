import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import * as g from './gatherShapes';
import { Id, IdParam, Ids, Title } from './ids';
import { Done } from './shapes';

const id = z.object({ id: IdParam });
/** Which pictures are meant: some by their ids, or all that a batch brought. */
const Some = { ids: Ids.min(1).optional(), batch: Id.optional(), event: Id.optional(), album: Id.optional() };
const Which = { ids: Ids.min(1).optional(), batch: Id.optional() };

/** Routes about how pictures come into the house. */
export const gatherApi = {
  batches: endpoint({
    method: 'GET',
    path: '/api/batches',
    part: 'helper',
    summary: 'Batches, newest first',
    answer: z.object({ batches: z.array(g.Batch) }),
  }),
  batch: endpoint({
    method: 'GET',
    path: '/api/batches/:id',
    part: 'helper',
    summary: 'One batch, with its counts',
    params: id,
    answer: g.Batch,
  }),
  openBatch: endpoint({
    method: 'POST',
    path: '/api/batches',
    part: 'relative',
    summary:
      'Announce a batch of files; then send each as a resumable upload to /api/uploads with its item in the metadata',
    body: z.strictObject({
      /** The folder's name; null for files without one. */
      name: Title.nullable(),
      files: z
        .array(
          z.strictObject({
            path: z.string().min(1).max(4000),
            bytes: z.number().int().min(0),
            modified: z.number().int().min(0).optional(),
          }),
        )
        .min(1)
        .max(50_000),
      numbering: g.Numbering.optional(),
    }),
    answer: z.object({ id: Id, items: z.array(Id) }),
  }),
  fingerprints: endpoint({
    method: 'POST',
    path: '/api/batches/:id/fingerprints',
    part: 'helper',
    summary: 'Tell fingerprints before sending; answers with the items that are here already',
    params: id,
    body: z.strictObject({
      prints: z.array(z.strictObject({ item: Id, sha256: z.string().regex(/^[0-9a-f]{64}$/) })).max(1000),
    }),
    answer: z.object({ known: z.array(Id) }),
  }),
  batchItems: endpoint({
    method: 'POST',
    path: '/api/batches/:id/items',
    part: 'helper',
    summary: 'The files of a batch and what became of each, a page at a time',
    params: id,
    body: z.strictObject({
      fate: z.enum(['all', 'stored', 'known', 'out', 'coming', 'beside']).default('all'),
      after: z.number().int().min(0).default(0),
      limit: z.number().int().min(1).max(5000).default(200),
    }),
    answer: z.object({ items: z.array(g.BatchItem), after: Id.nullable() }),
  }),
  stopBatch: endpoint({
    method: 'POST',
    path: '/api/batches/:id/stop',
    part: 'helper',
    summary: 'Stop taking in; what is stored stays',
    params: id,
    answer: Done,
  }),
  resumeBatch: endpoint({
    method: 'POST',
    path: '/api/batches/:id/resume',
    part: 'helper',
    summary: 'Go on with a stopped batch',
    params: id,
    answer: Done,
  }),
  giveUpWaiting: endpoint({
    method: 'POST',
    path: '/api/batches/:id/give-up',
    part: 'helper',
    summary: 'Wait no longer for files that never came',
    params: id,
    answer: Done,
  }),
  retryBatch: endpoint({
    method: 'POST',
    path: '/api/batches/:id/retry',
    part: 'helper',
    summary: 'Try the failed files of a batch again',
    params: id,
    answer: z.object({ again: z.number().int() }),
  }),
  batchAlbum: endpoint({
    method: 'POST',
    path: '/api/batches/:id/album',
    part: 'helper',
    summary: 'Answer the offer to make an album from a batch',
    params: id,
    body: z.strictObject({ name: Title.nullable() }),
    answer: Did.extend({ albumId: Id.nullable() }),
  }),
  folderAlbums: endpoint({
    method: 'POST',
    path: '/api/batches/:id/folder-albums',
    part: 'helper',
    summary: 'Make one album for each folder of a batch',
    params: id,
    answer: Did.extend({ albumIds: z.array(Id) }),
  }),
  conflicts: endpoint({
    method: 'GET',
    path: '/api/batches/:id/conflicts',
    part: 'helper',
    summary: 'What was said differently elsewhere about a batch’s pictures',
    params: id,
    answer: z.object({ conflicts: z.array(g.SaidConflict) }),
  }),
  settleConflict: endpoint({
    method: 'POST',
    path: '/api/conflicts/:id',
    part: 'helper',
    summary: 'Keep what stands, or take what was said elsewhere',
    params: id,
    body: z.strictObject({ take: z.enum(['kept', 'other']) }),
    answer: Did,
  }),

  previewNumbers: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/numbers/preview',
    part: 'helper',
    summary: 'The names numbering would give: the first and the last few',
    body: z.strictObject({ ...Which, numbering: g.Numbering }),
    answer: z.object({ names: z.array(z.object({ from: z.string(), to: z.string() })), count: z.number().int() }),
  }),
  numberFiles: endpoint({
    method: 'POST',
    path: '/api/numbers',
    part: 'helper',
    summary: 'Number files in the order of time; those of a batch that is still coming in, when all of it is in',
    body: z.strictObject({ ...Which, numbering: g.Numbering }),
    answer: Did.extend({ count: z.number().int() }),
  }),

  previewNames: endpoint({
    method: 'POST',
    reads: true,
    path: '/api/names/preview',
    part: 'helper',
    summary: 'The names a pattern would give: the first and the last few',
    body: z.strictObject({ ...Some, naming: g.Naming }),
    answer: z.object({ names: z.array(z.object({ from: z.string(), to: z.string() })), count: z.number().int() }),
  }),
  nameFiles: endpoint({
    method: 'POST',
    path: '/api/names',
    part: 'helper',
    summary: 'Name files by a pattern; the names they came with stay known',
    body: z.strictObject({ ...Some, naming: g.Naming }),
    answer: Did.extend({ count: z.number().int() }),
  }),

  room: endpoint({
    method: 'GET',
    path: '/api/room',
    part: 'helper',
    summary: 'How much room is left on the library’s disk',
    answer: g.Room,
  }),
  ledger: endpoint({
    method: 'GET',
    path: '/api/devices',
    part: 'helper',
    summary: 'The household’s devices: what came in from each and up to which day it may be cleared',
    answer: z.object({ devices: z.array(g.LedgerEntry) }),
  }),
  nameDevice: endpoint({
    method: 'PATCH',
    path: '/api/devices/:id',
    part: 'helper',
    summary: 'Name a device',
    params: id,
    body: z.strictObject({ name: Title }),
    answer: Did,
  }),
  settleGap: endpoint({
    method: 'POST',
    path: '/api/devices/:id/gaps',
    part: 'helper',
    summary: 'Say that missing numbers are gone for good: the first name of each gap',
    params: id,
    body: z.strictObject({ from: z.array(z.string().min(1).max(80)).min(1).max(500) }),
    answer: Did,
  }),
  cards: endpoint({
    method: 'GET',
    path: '/api/cards',
    part: 'helper',
    summary: 'Cards and phones that are there as folders now',
    answer: z.object({ cards: z.array(g.CardOffer) }),
  }),
  card: endpoint({
    method: 'GET',
    path: '/api/sources/:id/files',
    part: 'helper',
    summary: 'What a card holds, and what of it is here',
    params: id,
    answer: z.object({ card: g.CardOffer, files: z.array(g.CardFile), room: g.Room }),
  }),
  takeCard: endpoint({
    method: 'POST',
    path: '/api/sources/:id/take',
    part: 'helper',
    summary: 'Take the ticked files of a card; the card is only read',
    params: id,
    body: z.strictObject({ files: Ids.min(1), numbering: g.Numbering.optional() }),
    answer: z.object({ batch: Id }),
  }),
  addPhone: endpoint({
    method: 'POST',
    path: '/api/sources',
    part: 'keeper',
    summary: 'Let a phone’s sync application in; its password is told this once',
    body: z.strictObject({ name: Title }),
    answer: g.PhoneKey,
  }),
  renewPassword: endpoint({
    method: 'POST',
    path: '/api/sources/:id/password',
    part: 'keeper',
    summary: 'Give a phone a new password; the old one is worth nothing then',
    params: id,
    answer: g.PhoneKey,
  }),
  changeSource: endpoint({
    method: 'PATCH',
    path: '/api/sources/:id',
    part: 'helper',
    summary: 'Rename a way in, put its offer off, or take it off the list; its pictures stay',
    params: id,
    body: z.strictObject({ name: Title.optional(), removed: z.boolean().optional(), putOff: z.boolean().optional() }),
    answer: Did,
  }),
  playable: endpoint({
    method: 'GET',
    path: '/api/pictures/:id/playable',
    part: 'relative',
    summary: 'How a clip can be played; one that browsers cannot play is converted from now on',
    params: id,
    answer: g.Playable,
  }),
  stopConverting: endpoint({
    method: 'POST',
    path: '/api/pictures/:id/playable/stop',
    part: 'helper',
    summary: 'Stop converting a clip; it begins again when somebody wants to see it',
    params: id,
    answer: Done,
  }),
} as const;

/** Routes about gathering that carry files instead of JSON. */
export const gatherFileRoutes = [
  {
    method: 'GET',
    path: '/api/map/street/:name',
    part: 'relative',
    summary: 'A street map from the data folder, in ranges',
  },
  { method: 'POST', path: '/api/uploads', part: 'relative', summary: 'Begin a resumable upload (tus 1.0)' },
  { method: 'PATCH', path: '/api/uploads/:item', part: 'relative', summary: 'Go on with an upload' },
  { method: 'HEAD', path: '/api/uploads/:item', part: 'relative', summary: 'How far an upload is' },
  { method: 'DELETE', path: '/api/uploads/:item', part: 'relative', summary: 'Give an upload up' },
  {
    method: 'GET',
    path: '/api/batches/:id/report',
    part: 'helper',
    summary: 'Every file of a batch and its fate, as CSV',
  },
  {
    method: 'GET',
    path: '/api/sources/:id/files/:file/thumb',
    part: 'helper',
    summary: 'A small view of a file on a card',
  },
  { method: 'GET', path: '/api/derived/:sha/moving', part: 'relative', summary: 'A few silent seconds of a clip' },
  { method: 'GET', path: '/api/pictures/:id/play', part: 'relative', summary: 'A clip in a form browsers play' },
  {
    method: 'GET',
    path: '/api/pictures/:id/files/:file',
    part: 'relative',
    summary: 'A file that is kept beside a picture, byte for byte',
  },
] as const;
