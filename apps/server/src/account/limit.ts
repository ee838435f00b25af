import { RateLimiterMemory } from 'rate-limiter-flexible';

/** How many wrong tries somebody has within a span of time. */
export interface Allowed {
  most: number;
  minutes: number;
}

/**
 * Slows guessing down: after so many wrong tries of a key, further ones are refused until the span that began with the first
 * has passed. Kept in memory.
 */
export class FailLimit {
  private readonly tries: RateLimiterMemory;

  constructor({ most, minutes }: Allowed) {
    this.tries = new RateLimiterMemory({ points: most, duration: minutes * 60 });
  }

  /** Counts a try; false when there have been too many, and then it does not count. */
  async begin(key: string): Promise<boolean> {
    try {
      await this.tries.consume(key);
      return true;
    } catch {
      await this.tries.reward(key);
      return false;
    }
  }

  /** Takes a try back: it was not wrong after all. */
  async pardon(key: string): Promise<void> {
    await this.tries.reward(key);
  }

  /** Forgets the wrong tries of a key. */
  async clear(key: string): Promise<void> {
    await this.tries.delete(key);
  }
}
