import { distanceKm } from '../time/events';

/** A place with the household's own name for it: a circle around a spot. `hidden` ones are never told to guests. */
export interface OwnPlace {
  id: number;
  name: string;
  lat: number;
  lon: number;
  metres: number;
  hidden: boolean;
}

/** The household's own place a position lies in; where circles overlap, the smallest. Null when it lies in none. */
export function ownPlaceAt(places: readonly OwnPlace[], lat: number, lon: number): OwnPlace | null {
  let best: OwnPlace | null = null;
  for (const place of places)
    if (
      distanceKm(place.lat, place.lon, lat, lon) * 1000 <= place.metres &&
      (!best || place.metres < best.metres || (place.metres === best.metres && place.id < best.id))
    )
      best = place;
  return best;
}

/** Whether a position must not be told to guests: it lies in any hidden circle, also where a smaller open one overlaps. */
export const isHidden = (places: readonly OwnPlace[], lat: number, lon: number): boolean =>
  places.some((place) => place.hidden && distanceKm(place.lat, place.lon, lat, lon) * 1000 <= place.metres);
