import { serve, type ServerType } from '@hono/node-server';
import { readFileSync, watch } from 'node:fs';
import type { Server } from 'node:http';
import { createServer, type Server as SecureServer } from 'node:https';
import path from 'node:path';

/** How long connections may take, in ms. */
export interface Patience {
  /** Until the head of a request has come. */
  head: number;
  /** Until the whole of it has come: a long clip over a slow line. */
  whole: number;
  /** Without a byte in either direction. */
  still: number;
  /** Between one request and the next on one connection: longer than a proxy in front keeps it, so that it is never cut in mid-asking. */
  between: number;
}

const PATIENCE: Patience = { head: 20_000, whole: 12 * 3_600_000, still: 300_000, between: 75_000 };
/** How long a changed certificate is waited for to be written whole, in ms. */
const SETTLES = 500;

/** Files of a certificate and of its key. */
export interface Certificate {
  cert: string;
  key: string;
}

const read = ({ cert, key }: Certificate) => ({ cert: readFileSync(cert), key: readFileSync(key) });

/** Takes a renewed certificate while the server runs: connections that are there stay. Answers how to stop. */
function takeRenewed(server: SecureServer, files: Certificate): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const renew = () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      try {
        server.setSecureContext(read(files));
      } catch (error) {
        // Half of it is new, or it is no certificate: the one before is used until both are right.
        console.error('a renewed certificate:', error instanceof Error ? error.message : error);
      }
    }, SETTLES);
  };
  // Whoever renews a certificate puts a new file in the place of the old: the folder tells.
  const folders = [...new Set([files.cert, files.key].map((file) => path.dirname(file)))];
  const watchers = folders.map((folder) => watch(folder, { persistent: false }, renew));
  return () => {
    clearTimeout(timer);
    for (const watcher of watchers) watcher.close();
  };
}

/**
 * Listens on an address, encrypted where there is a certificate. Whoever sends half a request, or nothing at all, is not waited for
 * without end.
 */
export function listen(
  fetch: (request: Request) => Response | Promise<Response>,
  port: number,
  hostname: string,
  { tls = null, patience = PATIENCE }: { tls?: Certificate | null; patience?: Patience } = {},
): ServerType {
  const times = {
    headersTimeout: patience.head,
    requestTimeout: patience.whole,
    keepAliveTimeout: patience.between,
    connectionsCheckingInterval: Math.min(5000, patience.head),
  };
  const server = serve(
    tls
      ? { fetch, port, hostname, createServer, serverOptions: { ...times, ...read(tls) } }
      : { fetch, port, hostname, serverOptions: times },
  );
  (server as Server).setTimeout(patience.still, (socket) => socket.destroy());
  if (tls) server.on('close', takeRenewed(server as SecureServer, tls));
  return server;
}
