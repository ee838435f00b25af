/** One point of a track as it crosses the wire: milliseconds since 1970, latitude, longitude. */
export type Point = [at: number, lat: number, lon: number];

/** The points with a time in a GPX document (topografix.com/GPX/1/1), of all tracks and routes. Null when it is none. */
export function readGpx(text: string): Point[] | null {
  const page = new DOMParser().parseFromString(text, 'application/xml');
  if (page.querySelector('parsererror') || page.documentElement.localName !== 'gpx') return null;
  const points: Point[] = [];
  for (const element of page.querySelectorAll('trkpt,rtept,wpt')) {
    const at = Date.parse(element.querySelector('time')?.textContent?.trim() ?? '');
    const lat = Number(element.getAttribute('lat') ?? NaN);
    const lon = Number(element.getAttribute('lon') ?? NaN);
    if (Number.isFinite(at) && Math.abs(lat) <= 90 && Math.abs(lon) <= 180) points.push([at, lat, lon]);
  }
  return points;
}
