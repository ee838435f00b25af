/// <reference lib="webworker" />
import { type SpotColumns, unpackSpots } from '@gemmel/core';
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
  | { load: SpotColumns }
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

/** Widens a box so that a position lies in it. */
function stretch(box: [number, number, number, number], lon: number, lat: number): void {
  box[0] = Math.min(box[0], lon);
  box[1] = Math.min(box[1], lat);
  box[2] = Math.max(box[2], lon);
  box[3] = Math.max(box[3], lat);
}

function load(columns: SpotColumns): void {
  const box: [number, number, number, number] = [180, 90, -180, -90];
  const points = [...unpackSpots(columns)].map(({ id, lat, lon }, order) => {
    stretch(box, lon, lat);
    return {
      type: 'Feature' as const,
      geometry: { type: 'Point' as const, coordinates: [lon, lat] },
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
    stretch(box, x, y);
  }
  const ids = leaves.sort((a, b) => b.properties.order - a.properties.order).map((leaf) => leaf.properties.id);
  answer({ leaves: { seq, ids, box, zoom: index.getClusterExpansionZoom(cluster) } });
};
