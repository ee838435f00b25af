import { serve, type ServerType } from '@hono/node-server';
import type { Server } from 'node:http';

/** How long connections may take, in ms. */
export interface Patience {
  /** Until the head of a request has come. */
  head: number;
  /** Until the whole of it has come: a long clip over a slow line. */
  whole: number;
  /** Without a byte in either direction. */
  still: number;
}

const PATIENCE: Patience = { head: 20_000, whole: 12 * 3_600_000, still: 300_000 };

/** Listens on an address. Whoever sends half a request, or nothing at all, is not waited for without end. */
export function listen(
  fetch: (request: Request) => Response | Promise<Response>,
  port: number,
  hostname: string,
  patience: Patience = PATIENCE,
): ServerType {
  const server = serve({
    fetch,
    port,
    hostname,
    serverOptions: {
      headersTimeout: patience.head,
      requestTimeout: patience.whole,
      connectionsCheckingInterval: Math.min(5000, patience.head),
    },
  });
  (server as Server).setTimeout(patience.still, (socket) => socket.destroy());
  return server;
}
