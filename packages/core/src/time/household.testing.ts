/** A picture of a made-up household, with what is true of it. */
export interface MadeShot {
  /** Wall-clock time as recorded, in ms. */
  at: number;
  /** Wall-clock time as it was. */
  real: number;
  device: number;
  people: number[];
  lat: number | null;
  lon: number | null;
  /** The event it belongs to; everyday pictures have one of their own. */
  event: number;
}

/** How one household lives and photographs. */
export interface MadeHousehold {
  shots: MadeShot[];
  /** Shift of each device's clock that has to be added, in ms. */
  shifts: number[];
  /** What sort of household it is. */
  sort: (typeof SORTS)[number];
}

interface Place {
  lat: number;
  lon: number;
}

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** Numbers that look random and are the same every time (mulberry32). */
export function dice(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const SORTS = [
  'bursty',
  'sparse',
  'many devices',
  'parties',
  'journeys',
  // No picture at home ever knows where it was taken, and there is one holiday a year.
  'one holiday',
  // Journeys on which nothing is taken for a day or two.
  'paused journeys',
  // Two things on one day some kilometres apart, and the same place on two days running.
  'two at a time',
  // A camera without places is all there is, and years without a picture lie between.
  'camera only',
] as const;
/** Home, of those who have one that is known. */
const HOME = { lat: 59.86, lon: 17.64 };

/**
 * A year of a made-up household. Phones (devices 0 and 1) keep the right time; cameras (from 2) may be off by `wrong` ms.
 * @param wrong the shift of the cameras' clocks; 0 for right ones.
 */
export function makeHousehold(seed: number, wrong = 0): MadeHousehold {
  const roll = dice(seed * 7919 + 17);
  const int = (least: number, most: number) => least + Math.floor(roll() * (most - least + 1));
  const pick = <T>(list: readonly T[]): T => list[Math.floor(roll() * list.length)]!;
  const sort = SORTS[seed % SORTS.length]!;
  const cameras = sort === 'many devices' ? 2 : 1;
  const devices = 2 + cameras;
  const shots: MadeShot[] = [];
  let event = 0;
  let day = Date.UTC(2025, 0, 3);

  const moment = (real: number, family: number[], place: Place | null, taking: number[]) => {
    const who = family.filter(() => roll() < 0.55);
    if (who.length === 0) who.push(pick(family));
    for (const device of taking) {
      const n = sort === 'bursty' && roll() < 0.3 ? int(3, 8) : 1;
      for (let k = 0; k < n; k++) {
        const mine = real + (device === taking[0] ? 0 : (roll() - 0.5) * 50_000) + k * 900;
        const phone = device < 2;
        shots.push({
          real: mine,
          at: mine - (phone ? 0 : wrong),
          device,
          people: who.filter(() => roll() < 0.92),
          lat: place && phone && roll() < 0.8 ? place.lat + (roll() - 0.5) * 0.004 : null,
          lon: place && phone ? place.lon + (roll() - 0.5) * 0.004 : null,
          event,
        });
      }
    }
  };

  const stretch = (from: number, hours: number, pictures: number, place: Place | null) => {
    const family = Array.from({ length: int(3, 7) }, () => int(1, 12));
    for (let i = 0; i < pictures; i++) {
      const real = from + hours * HOUR * ((i + 0.2 + roll() * 0.6) / pictures);
      const who = [int(0, devices - 1)];
      // The same moment by two people, now and then.
      if (roll() < 0.35) who.push((who[0]! + int(1, devices - 1)) % devices);
      moment(real, family, place, who);
    }
  };

  while (shots.length < 320) {
    const morning = day + int(9, 12) * HOUR;
    const away = { lat: HOME.lat + (roll() - 0.5) * 20, lon: HOME.lon + (roll() - 0.5) * 30 };
    const near = { lat: HOME.lat + (roll() - 0.5) * 0.2, lon: HOME.lon + (roll() - 0.5) * 0.3 };
    const nowhere = sort === 'one holiday' || sort === 'camera only';
    if (sort === 'journeys' && roll() < 0.5) {
      // A journey of several days in one place is one event.
      const days = int(2, 5);
      for (let d = 0; d < days; d++) stretch(morning + d * DAY, int(5, 9), int(8, 22), away);
      day += (days + int(3, 12)) * DAY;
    } else if (sort === 'paused journeys' && roll() < 0.5) {
      const days = int(4, 9);
      let pause = 0;
      for (let d = 0; d < days; d++) {
        // Never more than two days in a row without a picture, and none of them at either end.
        if (d > 0 && d < days - 1 && pause < 2 && roll() < 0.35) {
          pause++;
          continue;
        }
        pause = 0;
        stretch(morning + d * DAY, int(4, 9), int(5, 16), {
          lat: away.lat + (roll() - 0.5),
          lon: away.lon + (roll() - 0.5),
        });
      }
      day += (days + int(4, 15)) * DAY;
    } else if (sort === 'one holiday' && event % 9 === 4) {
      const days = int(7, 14);
      for (let d = 0; d < days; d++)
        stretch(morning + d * DAY, int(5, 9), int(6, 18), {
          lat: away.lat + 0.3 * (roll() - 0.5),
          lon: away.lon + 0.3 * (roll() - 0.5),
        });
      day += (days + int(5, 20)) * DAY;
    } else if (sort === 'two at a time' && roll() < 0.6) {
      stretch(morning, int(1, 3), int(8, 20), near);
      event++;
      if (roll() < 0.5)
        stretch(day + int(16, 19) * HOUR, int(1, 3), int(8, 20), { lat: near.lat + 0.14, lon: near.lon });
      else stretch(morning + DAY, int(1, 4), int(8, 20), near);
      day += int(3, 9) * DAY;
    } else if (sort === 'parties' && roll() < 0.6) {
      // From the evening past midnight.
      stretch(day + 18 * HOUR, int(6, 10), int(14, 40), near);
      day += int(2, 9) * DAY;
    } else if (sort === 'sparse') {
      stretch(morning, int(2, 5), int(2, 6), roll() < 0.2 ? away : near);
      day += int(3, 20) * DAY;
    } else {
      stretch(morning, int(1, 5), int(8, 35), nowhere ? null : near);
      // Two things on one day, hours apart.
      if (roll() < 0.18) {
        event++;
        stretch(day + 19.5 * HOUR, int(1, 2), int(8, 16), nowhere ? null : near);
      }
      day += int(1, 7) * DAY;
      if (sort === 'camera only' && roll() < 0.04) day += 400 * DAY;
    }
    event++;
  }
  return {
    shots: shots.sort((a, b) => a.at - b.at),
    shifts: Array.from({ length: devices }, (_, d) => (d < 2 ? 0 : wrong)),
    sort,
  };
}
