/** How many wrong tries somebody has within a span of time. */
export interface Allowed {
  most: number;
  minutes: number;
}

/**
 * Slows guessing down: after so many wrong tries of a key within some minutes, further ones are refused until the oldest is
 * that old. What is refused does not count, so that whoever goes on trying is not kept out for ever. Kept in memory.
 */
export class FailLimit {
  private readonly fails = new Map<string, number[]>();

  constructor(
    private readonly allowed: Allowed,
    private readonly now: () => number = Date.now,
  ) {}

  private recent(key: string): number[] {
    const from = this.now() - this.allowed.minutes * 60_000;
    return (this.fails.get(key) ?? []).filter((at) => at > from);
  }

  /** Whether a key has failed too often to be tried now. */
  blocked(key: string): boolean {
    return this.recent(key).length >= this.allowed.most;
  }

  /** Counts a wrong try. */
  fail(key: string): void {
    if (this.fails.size > 10_000)
      for (const known of this.fails.keys()) if (!this.recent(known).length) this.clear(known);
    this.fails.set(key, [...this.recent(key), this.now()].slice(-this.allowed.most));
  }

  /** Takes the latest try of a key back: it was not wrong after all. */
  pardon(key: string): void {
    this.fails.set(key, this.recent(key).slice(0, -1));
  }

  /** Forgets the wrong tries of a key. */
  clear(key: string): void {
    this.fails.delete(key);
  }
}
