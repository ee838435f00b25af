/** How many of 32 bits are set (Warren, Hacker's Delight, 2nd ed., 5-1). */
function ones(x: number): number {
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

/**
 * The earlier hash nearest to the one at `at`, differing in at most `most` bits; the first of equals, -1 when there is none.
 */
export function nearestBefore({ high, low }: Halves, at: number, most: number): number {
  const [h, l] = [high[at]!, low[at]!];
  let least = most + 1;
  let nearest = -1;
  for (let i = 0; i < at; i++) {
    const bits = ones(h ^ high[i]!) + ones(l ^ low[i]!);
    if (bits < least) {
      least = bits;
      nearest = i;
    }
  }
  return nearest;
}
