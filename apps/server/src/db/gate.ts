const GONE = new Set([
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ER_SERVER_SHUTDOWN',
  'ER_NORMAL_SHUTDOWN',
]);

/** Whether an error says that the database is away, not that what it was asked is wrong. */
export function isDbGone(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code, syscall } = error as NodeJS.ErrnoException;
  return (
    (code !== undefined && GONE.has(code)) ||
    (code === 'ENOENT' && syscall === 'connect') ||
    error.name === 'KnexTimeoutError' ||
    /closed state|connection lost/i.test(error.message)
  );
}

/** Lets work wait while the database is started again. */
export class Gate {
  private up = true;
  private readonly waiting = new Set<() => void>();

  /** Says that the database went away or is back. */
  set(up: boolean): void {
    this.up = up;
    if (!up) return;
    for (const go of this.waiting) go();
    this.waiting.clear();
  }

  /** Waits until the database can be asked, at most so many milliseconds; false when it is still away then. */
  async pass(most: number): Promise<boolean> {
    if (this.up) return true;
    return new Promise((resolve) => {
      const go = () => {
        clearTimeout(timer);
        resolve(true);
      };
      const timer = setTimeout(() => {
        this.waiting.delete(go);
        resolve(false);
      }, most);
      this.waiting.add(go);
    });
  }
}
