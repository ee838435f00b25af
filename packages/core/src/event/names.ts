import { list } from '../question/sentence';
import { capital, fill, type Words } from '../words/words';

/** What is known of an event when a name is looked for. Counts are of its pictures. */
export interface EventFacts {
  pictures: number;
  /** First and last day, `YYYY-MM-DD`. */
  from: string;
  to: string;
  /** Places by how many pictures were taken there, most first; `own` ones have the household's own name. */
  places: readonly { name: string; pictures: number; own: boolean }[];
  /** Whether it lies far from where the household usually is. */
  away: boolean;
  /** A holiday among its days, as the country calls it. */
  holiday: string | null;
  tags: readonly { name: string; pictures: number }[];
  people: readonly { name: string; circle: string | null; pictures: number }[];
}

/** A tag or person stands for an event when it is on this part of its pictures. */
const SHARE = 0.34;
const MOST = 4;

const days = (from: string, to: string) => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000) + 1;
/** Who is there, in words that fit behind a place: "with the children", "with Tove and Noor"; empty when nobody stands out. */
function company({ people, pictures }: EventFacts, words: Words): string {
  const main = people.filter((p) => p.pictures >= SHARE * pictures);
  const circles = new Map<string, number>();
  for (const p of main) if (p.circle) circles.set(p.circle, (circles.get(p.circle) ?? 0) + 1);
  const [circle, n] = [...circles].sort((a, b) => b[1] - a[1])[0] ?? ['', 0];
  const { eventName } = words;
  // German writes nouns large wherever they stand.
  const called = words.language === 'de' ? circle : circle.toLowerCase();
  if (n >= 2 && n === main.length) return fill(eventName.circle, { circle: called });
  return main.length && main.length <= 3
    ? fill(eventName.people, {
        people: list(
          main.map((p) => p.name),
          words.and,
        ),
      })
    : '';
}

/**
 * Names an event could have, the likeliest first, at most four: from its holiday, its tags, its place, its length and
 * who is there. Empty when nothing is known that would be better than its date.
 */
export function eventNames(facts: EventFacts, words: Words): string[] {
  const { eventName: said } = words;
  const place = facts.places[0]?.name ?? null;
  const known = place !== null && (facts.away || facts.places[0]!.own);
  const who = company(facts, words);
  const withThem = (what: string) => (who ? fill(said.company, { what, who }) : what);
  const length = days(facts.from, facts.to);
  const season = capital(words.seasons[Math.floor(((Number(facts.from.slice(5, 7)) + 9) % 12) / 3)]!);
  const tag = facts.tags.find((t) => t.pictures >= SHARE * facts.pictures)?.name ?? null;
  const { holiday } = facts;
  const names: (string | null)[] = [
    holiday && (known ? fill(said.holidayAt, { holiday, place }) : withThem(holiday)),
    tag && (known ? fill(said.tagAt, { tag: capital(tag), place }) : withThem(capital(tag))),
    place && length > 2 && facts.away
      ? fill(length >= 6 && length <= 8 ? said.week : said.days, { n: length, place })
      : null,
    place && who ? withThem(place) : null,
    place && known ? place : null,
    who && !place ? capital(who) : null,
    place && !known ? fill(said.season, { season, place }) : null,
  ];
  return [...new Set(names.filter((name): name is string => Boolean(name)))].slice(0, MOST);
}
