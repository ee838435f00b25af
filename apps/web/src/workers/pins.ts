/// <reference lib="webworker" />
import Supercluster from 'supercluster';

/** A pin: how many pictures, the newest of them, the box they lie in, and from which zoom on they part. */
export interface Pin {
  lat: number;
  lon: number;
  n: number;
  /** The newest picture. */
  id: number;
  /** Its number as a cluster; null for one picture alone. */
  cluster: number | null;
}

/** What the page asks: take these points (columns as the server gave them), show a part of the map, open a cluster. */
export type PinsAsk =
  | { load: { ids: number[]; lats: number[]; lons: number[] } }
  | { view: { box: [number, number, number, number]; zoom: number } }
  | { leaves: { cluster: number; seq: number } };

/** What comes back. `box` is west, south, east, north. */
export type PinsAnswer =
  | { loaded: { box: [number, number, number, number] | null; count: number } }
  | { pins: Pin[] }
  | { leaves: { seq: number; ids: number[]; box: [number, number, number, number]; zoom: number } };

interface Own {
  id: number;
  order: number;
}

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: PinsAnswer) => scope.postMessage(message);
let index: Supercluster<Own, Own> | null = null;

function load({ ids, lats, lons }: { ids: number[]; lats: number[]; lons: number[] }): void {
  let [id, lat, lon] = [0, 0, 0];
  const box: [number, number, number, number] = [180, 90, -180, -90];
  const points = ids.map((step, order) => {
    id += step;
    lat += lats[order]!;
    lon += lons[order]!;
    const [y, x] = [lat / 1e5, lon / 1e5];
    if (x < box[0]) box[0] = x;
    if (y < box[1]) box[1] = y;
    if (x > box[2]) box[2] = x;
    if (y > box[3]) box[3] = y;
    return {
      type: 'Feature' as const,
      geometry: { type: 'Point' as const, coordinates: [x, y] },
      properties: { id, order },
    };
  });
  index = new Supercluster<Own, Own>({
    radius: 58,
    maxZoom: 17,
    map: (own) => own,
    reduce: (sum, own) => {
      if (own.order > sum.order) Object.assign(sum, own);
    },
  }).load(points) as Supercluster<Own, Own>;
  answer({ loaded: { box: points.length ? box : null, count: points.length } });
}

scope.onmessage = ({ data }: MessageEvent<PinsAsk>) => {
  if ('load' in data) return load(data.load);
  if (!index) return;
  if ('view' in data) {
    const pins = index.getClusters(data.view.box, Math.floor(data.view.zoom)).map((feature): Pin => {
      const [lon, lat] = feature.geometry.coordinates as [number, number];
      const properties = feature.properties as Partial<Own> & {
        cluster?: boolean;
        cluster_id?: number;
        point_count?: number;
      };
      return {
        lat,
        lon,
        n: properties.point_count ?? 1,
        id: properties.id!,
        cluster: properties.cluster ? (properties.cluster_id ?? null) : null,
      };
    });
    return answer({ pins });
  }
  const { cluster, seq } = data.leaves;
  const box: [number, number, number, number] = [180, 90, -180, -90];
  const leaves = index.getLeaves(cluster, Infinity);
  for (const leaf of leaves) {
    const [x, y] = leaf.geometry.coordinates as [number, number];
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
  }
  const ids = leaves.sort((a, b) => b.properties.order - a.properties.order).map((leaf) => leaf.properties.id);
  answer({ leaves: { seq, ids, box, zoom: index.getClusterExpansionZoom(cluster) } });
};
