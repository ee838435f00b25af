import { Upload } from 'tus-js-client';
import { Refusal, uploadsAt } from './api';

/** Waits between tries of one piece, in ms. */
const PATIENCE = [500, 1500, 4000, 8000];

/**
 * Sends announced files one after another by the tus protocol (1.0), each going on from where it was when the way breaks off. `told` hears
 * how many bytes have been sent in all. @throws {@link Refusal} for what is not taken; `signal` stops.
 */
export async function sendAll(
  files: readonly { file: File; item: number }[],
  told: (bytes: number) => void,
  signal: AbortSignal,
): Promise<void> {
  let before = 0;
  for (const { file, item } of files) {
    if (signal.aborted) return;
    await new Promise<void>((resolve, reject) => {
      const upload = new Upload(file, {
        endpoint: uploadsAt(),
        metadata: { item: String(item) },
        // An upload goes by its item, whatever address the server says.
        uploadDataDuringCreation: true,
        storeFingerprintForResuming: false,
        retryDelays: PATIENCE,
        onAfterResponse: () => {
          upload.url = `${uploadsAt()}/${item}`;
        },
        onProgress: (bytes) => told(before + bytes),
        onSuccess: () => resolve(),
        onError: (error) => {
          const status = 'originalResponse' in error ? (error.originalResponse?.getStatus() ?? 0) : 0;
          reject(new Refusal(status === 507 ? { code: 'full-disk', params: {} } : null, status));
        },
      });
      signal.addEventListener('abort', () => void upload.abort().then(() => resolve()));
      upload.start();
    });
    before += file.size;
    told(before);
  }
}
