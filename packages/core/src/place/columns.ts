/** Positions of pictures in columns, small enough to send 100 000: ids and steps of 1e-5 degrees (about a metre) as differences. */
export interface SpotColumns {
  ids: number[];
  lats: number[];
  lons: number[];
}

const STEPS = 1e5;

/** Packs positions into columns, in their order. */
export function packSpots(spots: readonly { id: number; lat: number; lon: number }[]): SpotColumns {
  const columns: SpotColumns = { ids: [], lats: [], lons: [] };
  let [id, lat, lon] = [0, 0, 0];
  for (const spot of spots) {
    const [y, x] = [Math.round(spot.lat * STEPS), Math.round(spot.lon * STEPS)];
    columns.ids.push(spot.id - id);
    columns.lats.push(y - lat);
    columns.lons.push(x - lon);
    [id, lat, lon] = [spot.id, y, x];
  }
  return columns;
}

/** Reads columns back, one position at a time, in their order. */
export function* unpackSpots({ ids, lats, lons }: SpotColumns): Generator<{ id: number; lat: number; lon: number }> {
  let [id, lat, lon] = [0, 0, 0];
  for (let i = 0; i < ids.length; i++) {
    id += ids[i]!;
    lat += lats[i]!;
    lon += lons[i]!;
    yield { id, lat: lat / STEPS, lon: lon / STEPS };
  }
}
