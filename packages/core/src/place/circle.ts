const EARTH = 6371;
const R = Math.PI / 180;

/** A position so many kilometres from another in a direction, in degrees from north (spherical earth, radius 6371 km). */
export function towards(lat: number, lon: number, km: number, bearing: number): { lat: number; lon: number } {
  const d = km / EARTH;
  const sin = Math.sin(lat * R) * Math.cos(d) + Math.cos(lat * R) * Math.sin(d) * Math.cos(bearing * R);
  const turn = Math.atan2(
    Math.sin(bearing * R) * Math.sin(d) * Math.cos(lat * R),
    Math.cos(d) - Math.sin(lat * R) * sin,
  );
  return { lat: Math.asin(Math.max(-1, Math.min(1, sin))) / R, lon: lon + turn / R };
}

/** A circle on earth as a closed ring of [longitude, latitude], for drawing. */
export function circleRing(lat: number, lon: number, km: number, steps = 64): [number, number][] {
  return Array.from({ length: steps + 1 }, (_, i) => {
    const at = towards(lat, lon, km, (360 * (i % steps)) / steps);
    return [at.lon, at.lat];
  });
}
