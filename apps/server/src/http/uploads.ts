import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { Context, Hono } from 'hono';
import { mkdirSync } from 'node:fs';
import { open } from 'node:fs/promises';
import path from 'node:path';
import type { App } from '../context';
import { received, waitingItem } from '../intake/receive';
import { needRoom, roomLeft } from '../intake/space';
import { Refused, refused } from '../problem';
import { discard } from '../vault/vault';
import { ownBatch } from '../intake/ownBatch';
import { ownItem } from '../share/additions';
import { guard, type Vars } from './guard';
import { guestAt } from './shareHandlers';

/** Whoever sends a file: into which library, and whether an item is theirs to send. */
interface Sender {
  library: number;
  may: (item: number) => Promise<void>;
}

/** What a refused upload is told, in the protocol's own shape. */
const told = ({ status, message, saying }: Refused) => ({
  status_code: status,
  body: JSON.stringify({ type: 'about:blank', title: message, status, ...saying }),
});

/**
 * Uploads that can be resumed (tus 1.0: creation, creation with upload, termination). An upload goes by the number of its
 * batch item, so that a browser that comes back needs to remember nothing: it asks how far that item is.
 */
export function addUploads(http: Hono<Vars>, app: App): void {
  mkdirSync(app.paths.uploads, { recursive: true });
  const senders = new WeakMap<object, Sender>();
  const senderOf = (request: object): Sender => {
    const sender = senders.get(request);
    if (!sender) throw told(refused('sign-in'));
    return sender;
  };
  const wanted = async (request: object, id: string) => {
    const { library, may } = senderOf(request);
    const item = await may(Number(id))
      .then(() => waitingItem(app, library, Number(id)))
      .catch(() => null);
    if (!item) throw told(refused('no-longer-waited-for'));
    return item;
  };
  const server = new Server({
    path: '/api/uploads',
    datastore: new FileStore({ directory: app.paths.uploads }),
    relativeLocation: true,
    namingFunction: (request, metadata) => {
      const id = metadata?.['item'] ?? '';
      if (!/^\d{1,10}$/.test(id)) throw told(refused('which-file'));
      return id;
    },
    onUploadCreate: async (request, upload) => {
      const item = await wanted(request, upload.id);
      if (upload.size !== Number(item.bytes)) throw told(refused('not-as-announced'));
      await needRoom(app, Number(item.bytes)).catch(() => {
        throw told(refused('full-disk'));
      });
      return {};
    },
    onIncomingRequest: async (request, id) => {
      if (request.method === 'PATCH' || request.method === 'HEAD' || request.method === 'DELETE')
        await wanted(request, id);
    },
    onUploadFinish: async (request, upload) => {
      const file = path.join(app.paths.uploads, upload.id);
      const handle = await open(file, 'r+');
      try {
        await handle.sync();
      } finally {
        await handle.close();
      }
      await received(app, senderOf(request).library, Number(upload.id), file);
      await discard(`${file}.json`);
      return {};
    },
    onResponseError: async (_, error) => {
      if ('status_code' in error && error.status_code && error.status_code < 500) return undefined;
      if ((await roomLeft(app)).left < 1_000_000) return told(refused('full-disk'));
      if (error instanceof Refused) return told(error);
      return undefined;
    },
  });
  const pass = async (c: Context<Vars>): Promise<Response> => {
    const session = guard(c, 'relative');
    const request = c.req.raw;
    // Relatives send what they announced themselves.
    const may =
      session.part === 'relative' ? (item: number) => ownBatch(app, session, { item }) : async () => undefined;
    senders.set(request, { library: session.library, may });
    return server.handleWeb(request as never);
  };
  const passGuest = async (c: Context<Vars>): Promise<Response> => {
    const at = await guestAt(app, c, c.req.param('token')!);
    const request = c.req.raw;
    senders.set(request, { library: at.share.library_id, may: (item) => ownItem(app, at, item) });
    return server.handleWeb(request as never);
  };
  http.post('/api/guest/:token/uploads', passGuest);
  http.on(['HEAD', 'GET', 'PATCH'], '/api/guest/:token/uploads/:item', passGuest);
  http.post('/api/uploads', pass);
  http.on(['GET', 'PATCH', 'DELETE', 'POST'], '/api/uploads/:item', pass);
}
