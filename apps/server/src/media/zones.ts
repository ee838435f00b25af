import { find } from 'geo-tz/all';

/** The time zone (IANA name) kept at a position, with its whole history. Null at the poles of the data. */
export const zoneAt = (lat: number, lon: number): string | null => find(lat, lon)[0] ?? null;
