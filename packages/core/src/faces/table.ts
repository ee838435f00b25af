import { SCAN_CODE } from './scanCode';
import type { Vector } from './vector';

// What is used of WebAssembly, which is in every browser and in Node but in no library of types without either.
interface Wasm {
  Module: new (code: Uint8Array) => object;
  Instance: new (module: object) => { exports: unknown };
}
declare const WebAssembly: Wasm;
declare const atob: (text: string) => string;

interface Exports {
  memory: { buffer: ArrayBuffer; grow(pages: number): number };
  scan(a: number, rows: number, n: number, bytes: number, out: number): void;
}

const PAGE = 65_536;
let code: object | null = null;

/**
 * Many vectors of one length in one place, so that one can be compared with all of them at once: dot products by
 * WebAssembly SIMD, in 32-bit floats. Lengths are filled up with zeros to a multiple of sixteen.
 */
export class VectorTable {
  private readonly wasm: Exports;
  private readonly width: number;
  /** One row for the vector that is asked about. */
  private readonly rowsAt: number;
  private readonly outAt: number;

  /** Makes room for `size` vectors of `length` numbers. */
  constructor(
    readonly size: number,
    length: number,
  ) {
    code ??= new WebAssembly.Module(Uint8Array.from(atob(SCAN_CODE), (c) => c.charCodeAt(0)));
    this.wasm = new WebAssembly.Instance(code).exports as Exports;
    this.width = Math.max(16, Math.ceil(length / 16) * 16);
    this.rowsAt = 4 * this.width;
    this.outAt = this.rowsAt + 4 * this.width * size;
    const bytes = this.outAt + 4 * size;
    const pages = Math.ceil(bytes / PAGE) - 1;
    if (pages > 0) this.wasm.memory.grow(pages);
  }

  private get floats(): Float32Array {
    return new Float32Array(this.wasm.memory.buffer);
  }

  /** Puts a vector into row `i`. */
  set(i: number, vector: Vector): void {
    this.floats.set(vector, this.rowsAt / 4 + i * this.width);
  }

  /**
   * The dot products of a vector with rows `from` up to `to`, not included. The answer is a view that the next call writes over.
   * @param vector itself, or the number of its row.
   */
  scan(vector: Vector | number, from = 0, to = this.size): Float32Array {
    const n = Math.max(0, to - from);
    let at = 0;
    if (typeof vector === 'number') at = this.rowsAt + 4 * this.width * vector;
    else {
      const { floats } = this;
      floats.fill(0, 0, this.width);
      floats.set(vector, 0);
    }
    this.wasm.scan(at, this.rowsAt + 4 * this.width * from, n, 4 * this.width, this.outAt);
    return new Float32Array(this.wasm.memory.buffer, this.outAt, n);
  }

  /** The dot product of two rows. */
  dot(i: number, j: number): number {
    return this.scan(i, j, j + 1)[0]!;
  }
}
