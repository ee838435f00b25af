import { fromGeojsonVt } from '@maplibre/vt-pbf';

/** Numbers as PMTiles writes them: seven bits a byte, the lowest first. */
function varints(...numbers: number[]): Buffer {
  const bytes: number[] = [];
  for (let n of numbers) {
    for (; n >= 128; n = Math.floor(n / 128)) bytes.push((n % 128) | 128);
    bytes.push(n);
  }
  return Buffer.from(bytes);
}

/** A PMTiles archive (version 3) of one vector tile for the whole world, filled by one layer of a name. */
export function oneTile(layer: string): Buffer {
  const extent = 4096;
  const corners: [number, number][] = [
    [0, 0],
    [extent, 0],
    [extent, extent],
    [0, extent],
    [0, 0],
  ];
  const features = [{ type: 3, geometry: [corners], tags: {} }];
  const tile = Buffer.from(fromGeojsonVt({ [layer]: { features } } as never, { version: 2, extent } as never));
  const directory = varints(1, 0, 1, tile.length, 1);
  const metadata = Buffer.from(JSON.stringify({ vector_layers: [{ id: layer, fields: {} }] }));
  const head = Buffer.alloc(127);
  head.write('PMTiles');
  head[7] = 3;
  const whole = (value: number, at: number) => head.writeBigUInt64LE(BigInt(value), at);
  const data = 127 + directory.length + metadata.length;
  [127, directory.length, 127 + directory.length, metadata.length, data, 0, data, tile.length, 1, 1, 1].forEach(
    (n, i) => whole(n, 8 + 8 * i),
  );
  // Clustered, nothing compressed, vector tiles, zoom 0 alone.
  head.set([1, 1, 1, 1, 0, 0], 96);
  [-1800000000, -850000000, 1800000000, 850000000].forEach((n, i) => head.writeInt32LE(n, 102 + 4 * i));
  return Buffer.concat([head, directory, metadata, tile]);
}
