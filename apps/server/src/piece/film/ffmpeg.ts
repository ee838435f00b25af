import { spawn } from 'node:child_process';
import { rename, stat } from 'node:fs/promises';
import { SAFE } from '../../media/clips';
import { discard } from '../../vault/vault';

/** The end of what it said that is kept, in characters. */
const MOST = 600;

/** Runs ffmpeg, which steps back for people at work. @throws what it said when it failed, and what aborted `signal` when that ended it. */
export async function ffmpeg(args: readonly string[], signal: AbortSignal): Promise<void> {
  signal.throwIfAborted();
  const child = spawn('nice', ['-n', '8', 'ffmpeg', '-y', '-nostdin', ...SAFE, ...args], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (said = (said + text).slice(-MOST)));
  const end = () => void child.kill('SIGKILL');
  signal.addEventListener('abort', end, { once: true });
  try {
    const code = await new Promise<number>((resolve, reject) => {
      child.once('error', reject);
      child.once('close', (status) => resolve(status ?? -1));
    });
    signal.throwIfAborted();
    if (/No space left/.test(said)) throw Object.assign(new Error(said), { code: 'ENOSPC' });
    if (code !== 0) throw new Error(`ffmpeg: ${said.trim() || code}`);
  } finally {
    signal.removeEventListener('abort', end);
  }
}

/** Has ffmpeg write a file, whole or not at all; one that is there already was written before. The ending says what it is. */
export async function written(file: string, args: readonly string[], signal: AbortSignal): Promise<void> {
  if (await stat(file).catch(() => null)) return;
  const half = file.replace(/(\.\w+)$/, '.half$1');
  try {
    await ffmpeg([...args, half], signal);
    await rename(half, file);
  } catch (error) {
    await discard(half);
    throw error;
  }
}
