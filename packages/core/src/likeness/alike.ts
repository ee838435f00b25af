/** How many of 32 bits are set (Warren, Hacker's Delight, 2nd ed., 5-1). */
export function ones(x: number): number {
  x -= (x >>> 1) & 0x55555555;
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

/** 64-bit hashes as two halves, so that many can be compared without big integers. */
export interface Halves {
  high: Uint32Array;
  low: Uint32Array;
}

/** Parts decimal or big 64-bit hashes into halves. */
export function halves(hashes: readonly (string | bigint)[]): Halves {
  const high = new Uint32Array(hashes.length);
  const low = new Uint32Array(hashes.length);
  hashes.forEach((hash, i) => {
    const value = BigInt(hash);
    high[i] = Number(BigInt.asUintN(32, value >> 32n));
    low[i] = Number(BigInt.asUintN(32, value));
  });
  return { high, low };
}

/** Bits from `from` on, `width` of them, of a hash in halves. */
export function band(high: number, low: number, from: number, width: number): number {
  const mask = (1 << width) - 1;
  if (from >= 32) return (high >>> (from - 32)) & mask;
  if (from + width <= 32) return (low >>> from) & mask;
  return ((low >>> from) | (high << (32 - from))) & mask;
}

/**
 * Finds, among hashes added so far, the nearest to another one without comparing all: hashes that differ in at most `most`
 * bits are equal in at least one of `most + 1` bands of bits, so only those that share a band are looked at (multi-index
 * hashing: Norouzi, Punjani, Fleet, CVPR 2012).
 */
export class NearHashes {
  private readonly bands: { from: number; width: number; heads: Int32Array; next: Int32Array }[] = [];
  private readonly first = new Map<number, Map<number, number>>();

  constructor(
    private readonly hashes: Halves,
    private readonly most: number,
  ) {
    const n = Math.min(most + 1, 64);
    for (let i = 0, from = 0; i < n; i++) {
      const width = Math.ceil((64 - from) / (n - i));
      this.bands.push({
        from,
        width: Math.min(width, 16),
        heads: new Int32Array(1 << Math.min(width, 16)).fill(-1),
        next: new Int32Array(hashes.high.length).fill(-1),
      });
      from += width;
    }
  }

  /** Adds the hash at a place; to be called in rising order, once each. */
  add(at: number): void {
    const [h, l] = [this.hashes.high[at]!, this.hashes.low[at]!];
    const same = this.first.get(h) ?? new Map<number, number>();
    this.first.set(h, same);
    // Of equal ones the first stands for all.
    if (same.has(l)) return;
    same.set(l, at);
    for (const { from, width, heads, next } of this.bands) {
      const key = band(h, l, from, width);
      next[at] = heads[key]!;
      heads[key] = at;
    }
  }

  /**
   * The added hashes that differ from one in at most `most` bits and share a band with it: all of them up to as many bits as there
   * are bands less one, most of them up to a few more. Of equal ones the first stands for all.
   */
  within({ high: h, low: l }: { high: number; low: number }, most = this.most): number[] {
    const { high, low } = this.hashes;
    const found = new Set<number>();
    for (const { from, width, heads, next } of this.bands)
      for (let i = heads[band(h, l, from, width)]!; i >= 0; i = next[i]!)
        if (ones(h ^ high[i]!) + ones(l ^ low[i]!) <= most) found.add(i);
    return [...found];
  }

  /** The added hash nearest to the one at a place, differing in at most `most` bits; the first of equals, -1 when there is none. */
  nearest(at: number): number {
    const { high, low } = this.hashes;
    const [h, l] = [high[at]!, low[at]!];
    const same = this.first.get(h)?.get(l);
    if (same !== undefined) return same;
    let least = this.most + 1;
    let nearest = -1;
    for (const { from, width, heads, next } of this.bands)
      for (let i = heads[band(h, l, from, width)]!; i >= 0; i = next[i]!) {
        const bits = ones(h ^ high[i]!) + ones(l ^ low[i]!);
        if (bits < least || (bits === least && i < nearest)) {
          least = bits;
          nearest = i;
        }
      }
    return nearest;
  }
}
