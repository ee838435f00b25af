/** Grey values, one byte a pixel, row by row. */
export interface Grey {
  width: number;
  height: number;
  data: Uint8Array;
}

/** Luma (ITU-R BT.601) of RGB bytes. */
export function toGrey(rgb: Uint8Array, width: number, height: number): Grey {
  const data = new Uint8Array(width * height);
  for (let i = 0, q = 0; i < data.length; i++, q += 3)
    data[i] = (rgb[q]! * 77 + rgb[q + 1]! * 150 + rgb[q + 2]! * 29) >> 8;
  return { width, height, data };
}

/** Shrinks by averaging the pixels of each cell. Enlarging repeats pixels. */
export function shrink(grey: Grey, width: number, height: number): Grey {
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const y0 = Math.floor((y * grey.height) / height);
    const y1 = Math.max(y0 + 1, Math.floor(((y + 1) * grey.height) / height));
    for (let x = 0; x < width; x++) {
      const x0 = Math.floor((x * grey.width) / width);
      const x1 = Math.max(x0 + 1, Math.floor(((x + 1) * grey.width) / width));
      let sum = 0;
      for (let v = y0; v < y1; v++) for (let u = x0; u < x1; u++) sum += grey.data[v * grey.width + u]!;
      data[y * width + x] = sum / ((y1 - y0) * (x1 - x0));
    }
  }
  return { width, height, data };
}

const SIDE = 32;
const COSINES = Float64Array.from({ length: 8 * SIDE }, (_, i) =>
  Math.cos((Math.PI * Math.floor(i / SIDE) * (2 * (i % SIDE) + 1)) / (2 * SIDE)),
);

/**
 * The 64-bit perceptual hash of a picture: the signs of its 8 x 8 lowest DCT-II coefficients of a 32 x 32 grey version
 * against their median (Zauner, "Implementation and Benchmarking of Perceptual Image Hash Functions", 2010).
 */
export function perceptualHash(grey: Grey): bigint {
  const small = shrink(grey, SIDE, SIDE).data;
  const rows = new Float64Array(8 * SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let x = 0; x < SIDE; x++) sum += small[y * SIDE + x]! * COSINES[u * SIDE + x]!;
      rows[u * SIDE + y] = sum;
    }
  const terms = new Float64Array(64);
  for (let v = 0; v < 8; v++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let y = 0; y < SIDE; y++) sum += rows[u * SIDE + y]! * COSINES[v * SIDE + y]!;
      terms[v * 8 + u] = sum;
    }
  const middle = [...terms.subarray(1)].sort((a, b) => a - b)[31]!;
  let hash = 0n;
  for (let i = 0; i < 64; i++) hash = (hash << 1n) | (terms[i]! > middle ? 1n : 0n);
  return hash;
}

/** In how many of 64 bits two perceptual hashes differ. */
export function hashDistance(a: bigint, b: bigint): number {
  let x = BigInt.asUintN(64, a ^ b);
  let bits = 0;
  for (; x; x &= x - 1n) bits++;
  return bits;
}

/**
 * How sharp a picture is: the variance of its Laplacian on a version of at most 512 pixels (Pech-Pacheco et al., 2000).
 * Below about 60 a picture looks blurred.
 */
export function sharpness(grey: Grey): number {
  const k = Math.min(1, 512 / Math.max(grey.width, grey.height));
  const {
    width: w,
    height: h,
    data,
  } = k < 1 ? shrink(grey, Math.max(3, Math.round(grey.width * k)), Math.max(3, Math.round(grey.height * k))) : grey;
  let sum = 0;
  let squares = 0;
  let n = 0;
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const l = 4 * data[i]! - data[i - 1]! - data[i + 1]! - data[i - w]! - data[i + w]!;
      sum += l;
      squares += l * l;
      n++;
    }
  return n ? squares / n - (sum / n) ** 2 : 0;
}
