import { fold } from '../text/fold';
import { oneOff } from '../text/search';
import type { Language } from '../words/languages';

/** Why a word may say the same as another. */
export type TwinWhy = 'spelling' | 'plural' | 'letters' | 'first name' | 'person' | 'place' | 'year';

/** A word that people give, and in how many pictures. */
export interface TagWord {
  id: number;
  name: string;
  parent: number | null;
  pictures: number;
}

/** Two words that may be one: a tag, and another one or what it names. */
export type Twin =
  | { tag: number; other: { tag: number }; why: TwinWhy }
  | { tag: number; other: { person: number; name: string } | { place: string } | { year: number }; why: TwinWhy };

/** Names that are no tags: of people with their nicknames, and of places. */
export interface OtherNames {
  people: readonly { id: number; name: string }[];
  places: readonly string[];
}

/** How one word becomes several, as endings of folded words: what is taken off, and what is put there, longest first. */
const ENDINGS: Record<Language, readonly (readonly [many: string, one: string])[]> = {
  en: [
    ['ies', 'y'],
    ['ives', 'ife'],
    ['lves', 'lf'],
    ['aves', 'af'],
    ['oves', 'ove'],
    ['uses', 'us'],
    ['ches', 'ch'],
    ['shes', 'sh'],
    ['sses', 'ss'],
    ['xes', 'x'],
    ['zzes', 'zz'],
    ['toes', 'to'],
    ['men', 'man'],
    ['s', ''],
  ],
  de: [
    ['innen', 'in'],
    ['nisse', 'nis'],
    ['en', ''],
    ['er', ''],
    ['n', ''],
    ['e', ''],
    ['s', ''],
  ],
  sv: [
    ['orna', 'a'],
    ['arna', 'e'],
    ['arna', ''],
    ['erna', ''],
    ['or', 'a'],
    ['or', 'o'],
    ['ar', 'e'],
    ['ar', ''],
    ['er', ''],
    ['en', ''],
    ['et', ''],
    ['an', 'a'],
    ['n', ''],
    ['t', ''],
  ],
};

/** Words whose several are no ending. */
const IRREGULAR: Record<Language, readonly (readonly [many: string, one: string])[]> = {
  en: [
    ['children', 'child'],
    ['people', 'person'],
    ['feet', 'foot'],
    ['teeth', 'tooth'],
    ['geese', 'goose'],
    ['mice', 'mouse'],
  ],
  de: [],
  sv: [
    ['barnen', 'barn'],
    ['man', 'man'],
    ['hander', 'hand'],
    ['stader', 'stad'],
    ['natter', 'natt'],
    ['bocker', 'bok'],
    ['fotter', 'fot'],
  ],
};

/** Words whose last "s" is no plural: glass, bus, tennis, lens. */
const NO_PLURAL = /(?:ss|us|is)$|^lens$/;
/** The shortest word of which several may be said. */
const SHORTEST_ONE = 3;

/** What a folded word may be several of: itself left out. */
export function onesOf(word: string, language: Language): string[] {
  const found: string[] = [];
  for (const [many, one] of IRREGULAR[language]) if (word === many) found.push(one);
  for (const [many, one] of ENDINGS[language]) {
    if (!word.endsWith(many)) continue;
    if (many === 's' && language !== 'sv' && NO_PLURAL.test(word)) continue;
    const stem = word.slice(0, word.length - many.length) + one;
    // Endings of one letter are chance on short words, but for the Swedish one behind a vowel: sjön is the sjö.
    const chance = language !== 'en' && many.length === 1 && !(language === 'sv' && /[aeiouy]n$/.test(word));
    if (stem.length >= SHORTEST_ONE + Number(chance)) found.push(stem);
  }
  return found;
}

/** A word without what only parts it: spaces, hyphens, apostrophes. */
const squash = (folded: string): string => folded.replace(/['’]s\b/gu, '').replace(/[^\p{L}\p{N}]+/gu, '');

/** From how many letters on one of them may be a slip: another letter in place of one needs a longer word. */
const SLIP = { swapped: 5, more: 6, other: 8 } as const;

/** Whether two folded words differ by a slip of the hand: never in the first letter, never in a figure. */
export function slipped(a: string, b: string): boolean {
  if (a === b || a[0] !== b[0] || /\d/.test(a + b) || !oneOff(a, b)) return false;
  const shorter = Math.min(a.length, b.length);
  if (a.length !== b.length) {
    // A letter doubled or not is the commonest slip of all.
    const [long, short] = a.length > b.length ? [a, b] : [b, a];
    let at = 0;
    while (at < short.length && long[at] === short[at]) at++;
    const doubled = long[at] === long[at - 1] || long[at] === long[at + 1];
    // A last letter more is another form of the word, which is for the endings to say.
    return at < short.length ? shorter >= (doubled ? SLIP.swapped - 1 : SLIP.more) : doubled && shorter >= SLIP.swapped;
  }
  let at = 0;
  while (a[at] === b[at]) at++;
  const swapped = a[at] === b[at + 1] && a[at + 1] === b[at];
  // Another last letter is mostly another ending.
  return swapped ? shorter >= SLIP.swapped : shorter >= SLIP.other && at < shorter - 1;
}

/** Every word that is left when one letter is taken out of another. */
function* without(word: string): Generator<string> {
  yield word;
  for (let i = 0; i < word.length; i++) yield word.slice(0, i) + word.slice(i + 1);
}

const isName = (name: string): boolean => /^\p{Lu}/u.test(name.trim());

/**
 * Words that may say the same, the surest first: one that is parted or written together, several of one, a slip of a letter, a
 * first name beside a whole one; and tags that are really a person, a place or a year. `apart` holds what people said is
 * different, and `together` pairs that stand on the same picture: who gives both means both. The fewer pictures a tag is on,
 * the likelier it is the one to be joined: it comes first. Time grows with the number of tags, not with that of pairs.
 */
export function findTwins(
  tags: readonly TagWord[],
  others: OtherNames,
  language: Language,
  apart: (tag: number, other: string) => boolean = () => false,
  together: (a: number, b: number) => boolean = () => false,
): Twin[] {
  const words = tags.map((tag) => ({ ...tag, folded: fold(tag.name) }));
  const found: Twin[] = [];
  const paired = new Set<string>();
  const pair = (a: (typeof words)[number], b: (typeof words)[number], why: TwinWhy) => {
    if (a.id === b.id || a.folded === b.folded) return;
    const [few, many] = a.pictures < b.pictures || (a.pictures === b.pictures && a.id > b.id) ? [a, b] : [b, a];
    const key = `${few.id} ${many.id}`;
    if (paired.has(key) || apart(few.id, `tag ${many.id}`) || apart(many.id, `tag ${few.id}`)) return;
    // What lies below something is no twin of it: it is there on purpose.
    if (few.parent === many.id || many.parent === few.id) return;
    if (together(few.id, many.id)) return;
    paired.add(key);
    found.push({ tag: few.id, other: { tag: many.id }, why });
  };
  const by = (key: (word: (typeof words)[number]) => Iterable<string>) => {
    const map = new Map<string, (typeof words)[number][]>();
    for (const word of words)
      for (const k of key(word)) {
        const list = map.get(k);
        if (list) list.push(word);
        else map.set(k, [word]);
      }
    return map;
  };
  for (const list of by(({ folded }) => [squash(folded)]).values())
    for (let i = 1; i < list.length; i++) pair(list[i]!, list[0]!, 'spelling');
  // Of a tag of several words the last one is said of several: "apple trees".
  const whole = by(({ folded }) => [folded]);
  for (const word of words) {
    const parts = word.folded.split(' ');
    const last = parts.pop()!;
    for (const language_ of language === 'en' ? (['en'] as const) : ([language, 'en'] as const))
      for (const one of onesOf(last, language_)) {
        // English endings are tried on the words of every household, but only its commonest one.
        if (language_ !== language && one !== last.slice(0, -1)) continue;
        for (const other of whole.get([...parts, one].join(' ')) ?? []) pair(word, other, 'plural');
      }
  }
  for (const list of by(({ folded }) => without(folded)).values())
    if (list.length > 1 && list.length < 20)
      for (let i = 0; i < list.length; i++)
        for (let k = i + 1; k < list.length; k++)
          if (slipped(list[i]!.folded, list[k]!.folded)) pair(list[i]!, list[k]!, 'letters');
  const names = new Set<number>();
  const person = new Map<string, { id: number; name: string }>();
  const first = new Map<string, { id: number; name: string }[]>();
  for (const one of others.people) {
    person.set(fold(one.name), one);
    const [start, ...more] = fold(one.name).split(' ');
    if (more.length) first.set(start!, [...(first.get(start!) ?? []).filter((p) => p.id !== one.id), one]);
  }
  const place = new Map(others.places.map((name) => [fold(name), name]));
  for (const { id, name, folded } of words) {
    const who = person.get(folded) ?? (first.get(folded)?.length === 1 ? first.get(folded)![0] : undefined);
    if (who && !apart(id, `person ${who.id}`)) {
      names.add(id);
      const why = person.has(folded) ? 'person' : 'first name';
      found.push({ tag: id, other: { person: who.id, name: who.name }, why });
      continue;
    }
    const where = place.get(folded);
    if (where !== undefined && !apart(id, `place ${where}`))
      found.push({ tag: id, other: { place: where }, why: 'place' });
    const year = name.trim().match(/^(1[89]\d\d|20\d\d)$/);
    if (year && !apart(id, `year ${year[1]}`)) found.push({ tag: id, other: { year: Number(year[1]) }, why: 'year' });
  }
  // "Tove" beside "Tove Hallorin", where nobody of that name is known to be somebody.
  for (const word of words) {
    const [start, ...more] = word.name.trim().split(/\s+/);
    if (more.length !== 1 || !isName(start!) || !isName(more[0]!) || names.has(word.id)) continue;
    for (const other of whole.get(fold(start!)) ?? []) if (isName(other.name)) pair(other, word, 'first name');
  }
  const rank: readonly TwinWhy[] = ['spelling', 'plural', 'person', 'first name', 'year', 'place', 'letters'];
  return found.sort((a, b) => rank.indexOf(a.why) - rank.indexOf(b.why) || a.tag - b.tag);
}
