import { statfs } from 'node:fs/promises';
import type { App } from '../context';

/** Room on the disk of the library, in bytes. `left` is what may still be taken; a reserve stays for the household's other work. */
export interface Room {
  left: number;
  total: number;
}

/** How much room there is where the library lies. */
export async function roomLeft(app: App): Promise<Room> {
  const info = await statfs(app.config.data);
  return {
    left: Math.max(0, info.bavail * info.bsize - app.config.reserve),
    total: info.blocks * info.bsize,
  };
}

/** There is no room; work that meets this waits and goes on by itself when there is. */
export class NoRoom extends Error {
  readonly code = 'ENOSPC';
  constructor() {
    super('The disk is full. What is stored is safe; it goes on by itself when there is room.');
  }
}

/** Whether an error means that the disk is full. */
export const isFull = (error: unknown): boolean => (error as NodeJS.ErrnoException | null)?.code === 'ENOSPC';

/** Throws {@link NoRoom} when `bytes` more would not fit. */
export async function needRoom(app: App, bytes: number): Promise<void> {
  if ((await roomLeft(app)).left < bytes) throw new NoRoom();
}
