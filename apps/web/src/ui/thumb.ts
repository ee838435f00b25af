import { thumbHashToAverageRGBA, thumbHashToDataURL } from 'thumbhash';

const MOST = 4000;
const made = new Map<string, string>();
const tints = new Map<string, string>();

const bytesOf = (thumb: string) => Uint8Array.from(atob(thumb), (c) => c.charCodeAt(0));

function remember(map: Map<string, string>, thumb: string, make: (bytes: Uint8Array) => string): string {
  let value = map.get(thumb);
  if (value === undefined) {
    if (map.size > MOST) map.clear();
    const bytes = bytesOf(thumb);
    value = bytes.length ? make(bytes) : 'none';
    map.set(thumb, value);
  }
  return value;
}

/** A blurred placeholder as a CSS image, from the few bytes kept with every picture. Takes some milliseconds to make. */
export const placeholder = (thumb: string): string =>
  remember(made, thumb, (bytes) => `url(${thumbHashToDataURL(bytes)})`);

/** The one colour a picture has from far away: there at once, even while scrolling fast. */
export const tint = (thumb: string): string =>
  remember(tints, thumb, (bytes) => {
    const { r, g, b } = thumbHashToAverageRGBA(bytes);
    return `rgb(${[r, g, b].map((v) => Math.round(v * 255)).join(' ')})`;
  });
