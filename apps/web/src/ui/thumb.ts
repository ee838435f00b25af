import { thumbHashToDataURL } from 'thumbhash';

const MOST = 4000;
const made = new Map<string, string>();

/** A blurred placeholder as a CSS image, from the few bytes kept with every picture. */
export function placeholder(thumb: string): string {
  let url = made.get(thumb);
  if (url === undefined) {
    if (made.size > MOST) made.clear();
    const bytes = Uint8Array.from(atob(thumb), (c) => c.charCodeAt(0));
    url = bytes.length ? `url(${thumbHashToDataURL(bytes)})` : 'none';
    made.set(thumb, url);
  }
  return url;
}
