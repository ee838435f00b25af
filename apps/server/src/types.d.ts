declare module 'heic-decode' {
  export default function decode(input: {
    buffer: Uint8Array;
  }): Promise<{ width: number; height: number; data: Uint8ClampedArray }>;
}
declare module 'geokdbush' {
  import type KDBush from 'kdbush';
  export function around(
    index: KDBush,
    lon: number,
    lat: number,
    most?: number,
    km?: number,
    wanted?: (i: number) => boolean,
  ): number[];
}
declare module 'pbf' {
  /** Reads protocol buffers. */
  export default class Pbf {
    constructor(bytes: Uint8Array);
    pos: number;
    readonly length: number;
    readFields<T>(read: (tag: number, into: T) => void, into: T, end?: number): T;
    readString(): string;
    readVarint(): number;
    readSVarint(): number;
  }
}

/** The path of the vendored program. */
declare module 'exiftool-vendored.pl' {
  const exiftoolPath: string;
  export default exiftoolPath;
}

declare module 'lineclip' {
  /** Cuts a polygon to a box (Sutherland and Hodgman). */
  export function clipPolygon(points: [number, number][], box: [number, number, number, number]): [number, number][];
}
