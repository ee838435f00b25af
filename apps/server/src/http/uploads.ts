import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { Context, Hono } from 'hono';
import { mkdirSync } from 'node:fs';
import { open } from 'node:fs/promises';
import path from 'node:path';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { received, waitingItem } from '../intake/receive';
import { needRoom, roomLeft } from '../intake/space';
import { Refused, refused } from '../problem';
import { discard } from '../vault/vault';
import { guard, type Vars } from './guard';

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
  const sessions = new WeakMap<object, Session>();
  const libraryOf = (request: object): number => {
    const session = sessions.get(request);
    if (!session) throw told(refused('sign-in'));
    return session.library;
  };
  const wanted = async (request: object, id: string) => {
    const item = await waitingItem(app, libraryOf(request), Number(id)).catch(() => null);
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
      await received(app, libraryOf(request), Number(upload.id), file);
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
    const session = guard(c, 'helper');
    const request = c.req.raw;
    sessions.set(request, session);
    return server.handleWeb(request as never);
  };
  http.post('/api/uploads', pass);
  http.on(['GET', 'PATCH', 'DELETE', 'POST'], '/api/uploads/:item', pass);
}
