import { SCAN_CODE } from './scanCode';
import type { Vector } from './vector';

// What is used of WebAssembly, which is in every browser and in Node but in no library of types without either.
declare const WebAssembly: {
  Module: new (code: Uint8Array) => object;
  Instance: new (module: object) => { exports: unknown };
};
declare const atob: (text: string) => string;

interface Exports {
  memory: { buffer: ArrayBuffer; grow(pages: number): number };
  scan(a: number, rows: number, n: number, bytes: number, out: number): void;
  near(a: number, rows: number, n: number, half: number, limit: number, first: number, out: number): number;
}

const PAGE = 65_536;
let code: object | null = null;

/** An instance of its own, with room for so many bytes. */
function withRoom(bytes: number): Exports {
  code ??= new WebAssembly.Module(Uint8Array.from(atob(SCAN_CODE), (c) => c.charCodeAt(0)));
  const wasm = new WebAssembly.Instance(code).exports as Exports;
  const pages = Math.ceil(bytes / PAGE) - 1;
  if (pages > 0) wasm.memory.grow(pages);
  return wasm;
}

/**
 * Many vectors of one length in one place, so that one can be compared with all of them at once: dot products in 32-bit
 * floats. Lengths are filled up with zeros to a multiple of sixteen.
 */
export class VectorTable {
  private readonly wasm: Exports;
  private readonly width: number;
  private readonly rows: number;
  private readonly out: number;
  /** Where answers are written; the memory never grows, so this view stays. */
  private readonly answer: Float32Array;

  /** Makes room for `size` vectors of `length` numbers. */
  constructor(
    readonly size: number,
    length: number,
  ) {
    this.width = Math.max(16, Math.ceil(length / 16) * 16);
    // Before the rows there is room for the vector that is asked about, after them for the answer.
    this.rows = 4 * this.width;
    this.out = this.rows + 4 * this.width * size;
    this.wasm = withRoom(this.out + 4 * size);
    this.answer = new Float32Array(this.wasm.memory.buffer, this.out, size);
  }

  /** Puts a vector into row `i`. */
  set(i: number, vector: Vector): void {
    new Float32Array(this.wasm.memory.buffer, this.rows + 4 * i * this.width, this.width).set(vector);
  }

  /**
   * The dot products of a vector with rows `from` up to `to`, not included. The answer is a view that the next call writes over.
   * @param vector itself, or the number of its row.
   */
  scan(vector: Vector | number, from = 0, to = this.size): Float32Array {
    const n = Math.max(0, to - from);
    let at = 0;
    if (typeof vector === 'number') at = this.rows + 4 * this.width * vector;
    else {
      const asked = new Float32Array(this.wasm.memory.buffer, 0, this.width);
      asked.fill(0);
      asked.set(vector);
    }
    this.wasm.scan(at, this.rows + 4 * this.width * from, n, 4 * this.width, this.out);
    return this.answer.subarray(0, n);
  }

  /** The dot product of two rows. */
  dot(i: number, j: number): number {
    const row = 4 * this.width;
    this.wasm.scan(this.rows + row * i, this.rows + row * j, 1, row, this.out);
    return this.answer[0]!;
  }
}

/** Bits of a sketch, and bytes. */
const BITS = 1024;
const BYTES = BITS / 8;

/**
 * Sketches of vectors for a first look at very many pairs: the signs of a vector's numbers after random turns of space.
 * Two sketches differ in about angle / 180 degrees of their bits (Charikar 2002); the turns are random signs and Walsh-Hadamard
 * transforms (Ailon and Chazelle 2009), always the same ones. For vectors of at most 1024 numbers.
 */
export class SketchTable {
  private readonly wasm: Exports;
  private readonly out: number;
  private readonly answer: Int32Array;
  private readonly signs: Float32Array;
  private readonly turned = new Float32Array(BITS);

  constructor(readonly size: number) {
    this.out = BYTES * size;
    this.wasm = withRoom(this.out + 8 * size);
    this.answer = new Int32Array(this.wasm.memory.buffer, this.out, 2 * size);
    let state = 9;
    const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) >>> 31;
    this.signs = Float32Array.from({ length: 2 * BITS }, () => (random() ? 1 : -1));
  }

  /** Sketches a vector into row `i`. */
  set(i: number, vector: Vector): void {
    const { turned, signs } = this;
    turned.fill(0);
    turned.set(vector);
    for (let round = 0; round < 2; round++) {
      for (let k = 0; k < BITS; k++) turned[k]! *= signs[round * BITS + k]!;
      for (let half = 1; half < BITS; half *= 2)
        for (let from = 0; from < BITS; from += 2 * half)
          for (let k = from; k < from + half; k++) {
            const a = turned[k]!;
            const b = turned[k + half]!;
            turned[k] = a + b;
            turned[k + half] = a - b;
          }
    }
    const row = new Uint8Array(this.wasm.memory.buffer, BYTES * i, BYTES);
    row.fill(0);
    for (let k = 0; k < BITS; k++) if (turned[k]! > 0) row[k >> 3]! |= 1 << (k & 7);
  }

  /**
   * The rows among `from` up to `to`, not included, that are probably at least as alike to row `i` as this cosine: in turn
   * the number of a row and how many bits differ (see {@link likeOf}). Four standard deviations of chance are allowed for, so
   * that next to nothing is missed. A view, written over by the next call.
   */
  near(i: number, cosine: number, from: number, to: number): Int32Array {
    const part = Math.acos(Math.max(-1, Math.min(1, cosine))) / Math.PI;
    const most = (bits: number) => Math.floor(bits * part + 4 * Math.sqrt(bits * part * (1 - part)));
    const n = Math.max(0, to - from);
    const hits = this.wasm.near(BYTES * i, BYTES * from, n, most(BITS / 2), most(BITS), from, this.out);
    return this.answer.subarray(0, 2 * hits);
  }
}

/** About how alike two vectors are whose sketches differ in so many bits; the standard deviation is about 0.05. */
export const likeOf = (bits: number): number => LIKE_OF[bits] ?? -1;
const LIKE_OF = Float32Array.from({ length: BITS + 1 }, (_, bits) => Math.cos((Math.PI * bits) / BITS));
