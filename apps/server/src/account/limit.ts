/**
 * Slows guessing down: at most `most` tries a key within `minutes`, kept in memory. A right answer should clear its key.
 */
export class TryLimit {
  private readonly tries = new Map<string, number[]>();

  constructor(
    private readonly most: number,
    private readonly minutes: number,
    private readonly now: () => number = Date.now,
  ) {}

  /** Counts a try; false when there have been too many. */
  allow(key: string): boolean {
    const from = this.now() - this.minutes * 60_000;
    if (this.tries.size > 10_000)
      for (const [k, times] of this.tries) if (times.every((t) => t < from)) this.tries.delete(k);
    const recent = (this.tries.get(key) ?? []).filter((t) => t > from);
    recent.push(this.now());
    this.tries.set(key, recent.slice(-this.most - 1));
    return recent.length <= this.most;
  }

  clear(key: string): void {
    this.tries.delete(key);
  }
}
