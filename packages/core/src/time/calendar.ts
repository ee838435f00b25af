/** A month of a calendar: its pictures, and how many on each of its days (index 0 is the first). */
export interface CalendarMonth {
  /** `YYYY-MM`. */
  month: string;
  pictures: number;
  days: number[];
  /** On which day of the week the first falls, Monday 0. */
  starts: number;
}

/** A year of a calendar with those of its months that have pictures. */
export interface CalendarYear {
  year: number;
  pictures: number;
  months: CalendarMonth[];
}

const lengthOf = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** Runs of pictures by day, in any order, as years and months, the newest first. What has no day is left out. */
export function calendarOf(runs: Iterable<readonly [day: string | null, pictures: number]>): CalendarYear[] {
  const months = new Map<string, CalendarMonth>();
  for (const [day, pictures] of runs) {
    if (day === null) continue;
    const key = day.slice(0, 7);
    let month = months.get(key);
    if (!month) {
      const [y, m] = [Number(key.slice(0, 4)), Number(key.slice(5))];
      month = {
        month: key,
        pictures: 0,
        days: new Array<number>(lengthOf(y, m)).fill(0),
        starts: (new Date(Date.UTC(y, m - 1, 1)).getUTCDay() + 6) % 7,
      };
      months.set(key, month);
    }
    month.pictures += pictures;
    month.days[Number(day.slice(8, 10)) - 1]! += pictures;
  }
  const years = new Map<number, CalendarYear>();
  for (const month of [...months.values()].sort((a, b) => (a.month < b.month ? 1 : -1))) {
    const key = Number(month.month.slice(0, 4));
    const year = years.get(key) ?? { year: key, pictures: 0, months: [] };
    year.pictures += month.pictures;
    year.months.push(month);
    years.set(key, year);
  }
  return [...years.values()];
}

/**
 * How full a day is, 0 (empty) to 4: by the root of its share of a full day, so that one picture can be told from none and
 * a wedding does not make every other day look empty.
 * @param full what counts as a full day, such as {@link fullDay} says.
 */
export const fullness = (pictures: number, full: number): number =>
  pictures <= 0 ? 0 : Math.max(1, Math.min(4, Math.ceil(4 * Math.sqrt(pictures / Math.max(1, full)))));

/** What counts as a full day in a calendar: more than nineteen of twenty of its days have. */
export function fullDay(years: readonly CalendarYear[]): number {
  const counts = years.flatMap((y) => y.months.flatMap((m) => m.days.filter((n) => n > 0))).sort((a, b) => a - b);
  return counts[Math.floor(counts.length * 0.95)] ?? 1;
}

/** The day `n` days from another, both `YYYY-MM-DD`. */
export const dayAfter = (day: string, n: number): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10);
