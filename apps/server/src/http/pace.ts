const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref());

/**
 * Has pieces of work done one after another, and in the long run for one part in `times` of the time only; `atOnce` ms of them may be done at
 * a stretch after a rest. (Generic cell rate algorithm, ITU-T I.371, with what a piece took as its cells.)
 */
export class Pace {
  private last: Promise<unknown> = Promise.resolve();
  /** When all that was done will have been made up for. */
  private even = -Infinity;

  constructor(
    private readonly times: number,
    private readonly atOnce: number,
  ) {}

  /** Does a piece of work when it is its turn. Throws what the work throws. */
  run<T>(work: () => Promise<T>): Promise<T> {
    const one = this.last.then(async () => {
      const early = this.even - performance.now();
      if (early > 0) await pause(early);
      const began = performance.now();
      try {
        return await work();
      } finally {
        const now = performance.now();
        this.even = Math.max(this.even, now - this.times * this.atOnce) + this.times * (now - began);
      }
    });
    this.last = one.catch(() => undefined);
    return one;
  }
}
