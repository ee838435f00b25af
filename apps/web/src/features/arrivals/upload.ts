import type { Saying } from '@gemmel/contract';
import type { DetailedError, Upload, UploadOptions } from 'tus-js-client';
import { sessionToken } from '@/api/client';
import { namedLibrary } from '@/api/library';

/** How sending one file ended. `over`: the server does not wait for it any more. */
export type Outcome = { how: 'sent' | 'over' | 'lost' | 'full' | 'held' } | { how: 'refused'; reason: Saying };

/** A file on its way. */
export interface Going {
  done: Promise<Outcome>;
  /** Holds it: what has arrived stays, and sending it again goes on from there. */
  hold: () => void;
}

/** Waits between tries of one piece, in ms. */
const PATIENCE = [300, 1000, 3000];

const statusOf = (error: Error | DetailedError): number =>
  ('originalResponse' in error && error.originalResponse?.getStatus()) || 0;

function reasonOf(error: Error | DetailedError): Saying {
  const body = 'originalResponse' in error ? error.originalResponse?.getBody() : undefined;
  try {
    const { code, params } = JSON.parse(body ?? '') as Partial<Saying>;
    if (code) return { code, params: params ?? {} };
  } catch {
    // No answer of ours.
  }
  return { code: 'unexpected', params: {} };
}

/**
 * Sends one announced file by the tus protocol (1.0). Its address is made from its item, so that going on needs no memory:
 * `before` asks first how much of it has arrived already.
 */
export function upload(item: number, file: File, before: boolean, told: (bytes: number) => void): Going {
  let held = false;
  let end: (outcome: Outcome) => void = () => undefined;
  const done = new Promise<Outcome>((resolve) => (end = resolve));
  const how: UploadOptions = {
    endpoint: '/api/uploads',
    ...(before ? { uploadUrl: `/api/uploads/${item}` } : {}),
    metadata: { item: String(item) },
    uploadDataDuringCreation: true,
    storeFingerprintForResuming: false,
    retryDelays: PATIENCE,
    onBeforeRequest: (request) => {
      const token = sessionToken();
      if (token) request.setHeader('x-gemmel-token', token);
      const library = namedLibrary();
      if (library) request.setHeader('x-gemmel-library', library);
    },
    onShouldRetry: (error) => {
      const status = statusOf(error as DetailedError);
      return !held && (status === 0 || status === 409 || status === 423 || (status >= 500 && status !== 507));
    },
    onProgress: told,
    onSuccess: () => end({ how: 'sent' }),
    onError: (error) => {
      const status = statusOf(error);
      if (held) end({ how: 'held' });
      else if (status === 410) end({ how: 'over' });
      else if (status === 507) end({ how: 'full' });
      else if (status === 0 || status >= 500 || status === 409 || status === 423 || status === 401)
        end({ how: 'lost' });
      else end({ how: 'refused', reason: reasonOf(error) });
    },
  };
  let sending: Upload | undefined;
  // The protocol is fetched with the first file that is sent.
  import('tus-js-client').then(
    (tus) => {
      if (held) return;
      sending = new tus.Upload(file, how);
      sending.start();
    },
    () => end({ how: 'lost' }),
  );
  return {
    done,
    hold: () => {
      held = true;
      if (sending) void sending.abort().finally(() => end({ how: 'held' }));
      else end({ how: 'held' });
    },
  };
}
