import { fold } from '../text/fold';
import { EN } from '../words/en';
import type { Words } from '../words/words';
import { normalise } from './normalise';
import type { Question } from './question';
import { daysBefore } from './matches';
import { saidAt } from './typed';
import { indexOf, meantBy, namedAt, type Index, type Vocabulary, type WordKind } from './vocabulary';

/** What typed text asks for. */
export interface Parsed {
  question: Question;
  /**
   * What the text ends in that may go on. Null when nothing is begun: the text is empty or ends in a space.
   */
  open: Open | null;
}

/** A word that is being typed. */
export interface Open {
  /** What it may only be: `@` people, `#` tags. */
  sign: '@' | '#' | '';
  /**
   * The words as typed, folded, several where a name may have been begun some words ago; what is asked before them; and whether
   * they are to be left out.
   */
  starts: readonly { text: string; before: Question; not: boolean }[];
}

interface Taken {
  question: Question;
  length: number;
}

/** The words of typing of a language and of English, put together once. */
interface Typing {
  and: RegExp;
  or: RegExp;
  not: RegExp;
  endsInNot: RegExp;
  filler: RegExp;
  stop: ReadonlySet<string>;
  only: RegExp;
  leads: readonly [lead: string, kinds: ReadonlySet<WordKind>, made?: (found: Question) => Question | null][];
  relative: readonly [RegExp, keyof Words['typed']['relative']][];
  stars: RegExp;
}

const known = new Map<Words, Typing>();

/** Leads of a sentence that only fit names of some kinds: "in the album", "marked", "with nobody but". */
function leadsOf(words: Words): Typing['leads'] {
  const of = (...kinds: WordKind[]): ReadonlySet<WordKind> => new Set(kinds);
  const all: [string, ReadonlySet<WordKind>, ((found: Question) => Question | null)?][] = [
    [words.tagged, of('tag')],
    [words.album, of('album')],
    [words.event, of('event')],
    [words.folder.all, of('folder')],
    [
      words.folder.only,
      of('folder'),
      (found) => ('folder' in found ? { folder: { id: found.folder.id, only: true } } : null),
    ],
    [words.batch, of('batch')],
    [words.device, of('device')],
    [words.marked, of('mark')],
    [words.camera, of('camera')],
    [words.lens, of('lens')],
    [words.saidBy, of('member')],
    [words.where.own, of('own', 'place')],
    [words.where.near, of('place')],
    [words.where.around, of('place')],
  ];
  return all.map(
    ([lead, kinds, made]) => [`${fold(lead)} `, kinds, ...(made ? [made] : [])] as Typing['leads'][number],
  );
}

function typingOf(words: Words): Typing {
  const there = known.get(words);
  if (there) return there;
  const both = words === EN ? [EN] : [words, EN];
  const of = (key: 'and' | 'or' | 'not' | 'filler') => both.map((w) => w.typed[key]).join('|');
  const made: Typing = {
    and: new RegExp(`^(?:,|(?:${of('and')})(?= |$))`, 'u'),
    or: new RegExp(`^(?:${of('or')})(?= |$)`, 'u'),
    not: new RegExp(`^(?:${of('not')})(?= )`, 'u'),
    endsInNot: new RegExp(`(?:^| )(?:${of('not')})$`, 'u'),
    filler: new RegExp(`^(?:${of('filler')})(?= )`, 'u'),
    only: new RegExp(`^(?:${both.flatMap((w) => [fold(w.with.among), fold(w.with.only)]).join('|')})(?= )`, 'u'),
    stop: new Set(both.flatMap((w) => [...w.typed.filler.split('|'), ...w.typed.and.split('|')])),
    leads: both.flatMap(leadsOf).sort((a, b) => b[0].length - a[0].length),
    relative: both.flatMap((w) =>
      Object.entries(w.typed.relative).map(
        ([what, pattern]) => [new RegExp(`^(?:${pattern})(?= |$)`, 'u'), what] as Typing['relative'][number],
      ),
    ),
    stars: new RegExp(`^([1-5])(\\+)? ?(?:${both.map((w) => w.typed.stars).join('|')})(?= |$)`, 'u'),
  };
  known.set(words, made);
  return made;
}

/** "Yesterday", "last week", "this year", seen from a day. */
function relativeAt(rest: string, today: string, typing: Typing): Taken | null {
  for (const [pattern, what] of typing.relative) {
    const m = rest.match(pattern);
    if (!m) continue;
    const year = Number(today.slice(0, 4));
    const taken = {
      yesterday: { from: daysBefore(today, 1), to: daysBefore(today, 1) },
      week: { lastDays: 7 },
      month: { lastDays: 30 },
      thisMonth: { from: `${today.slice(0, 7)}-01`, to: lastOfMonth(today) },
      thisYear: { from: `${year}-01-01`, to: `${year}-12-31` },
      lastYear: { from: `${year - 1}-01-01`, to: `${year - 1}-12-31` },
    }[what];
    return { question: { taken }, length: m[0].length };
  }
  return null;
}

function lastOfMonth(day: string): string {
  const [y, m] = day.split('-').map(Number) as [number, number];
  return new Date(Date.UTC(y, m, 0)).toISOString().slice(0, 10);
}

const PEOPLE: ReadonlySet<WordKind> = new Set(['person']);
const TAGS: ReadonlySet<WordKind> = new Set(['tag']);
/** What counts as named without any lead: words of devices and of members are too often something else. */
const BARE: ReadonlySet<WordKind> = new Set(['person', 'tag', 'own', 'place', 'event', 'album', 'mark', 'folder']);

const QUOTED = /^["“”„]([^"“”„]+)["“”„]/u;

class Reader {
  constructor(
    private readonly index: Index,
    private readonly words: Words,
    private readonly typing: Typing,
    private readonly today: string,
  ) {}

  private named(rest: string, kinds: ReadonlySet<WordKind>): Taken | null {
    const found = namedAt(rest, this.index, kinds);
    return found.length ? { question: meantBy(found), length: found[0]!.folded.length } : null;
  }

  /** People "with nobody but": only these, or, joined by "or", some of them and nobody else. */
  private people(rest: string, lead: number): Taken | null {
    const ids: number[] = [];
    let at = lead;
    let any = false;
    for (;;) {
      const one = this.named(rest.slice(at), PEOPLE);
      if (!one || !('who' in one.question)) return ids.length ? this.only(ids, any, at) : null;
      ids.push(...one.question.who.people);
      at += one.length;
      const joint = rest.slice(at).match(/^,? /)?.[0] ?? '';
      const word =
        rest.slice(at + joint.length).match(this.typing.and) ?? rest.slice(at + joint.length).match(this.typing.or);
      const more = rest.slice(at + joint.length + (word ? word[0].length : 0)).match(/^ +/)?.[0] ?? '';
      const next = at + joint.length + (word ? word[0].length + more.length : 0);
      if (next === at || !this.named(rest.slice(next), PEOPLE)) return this.only(ids, any, at);
      any ||= word !== null && this.typing.or.test(word[0]);
      at = next;
    }
  }

  private only(ids: readonly number[], any: boolean, length: number): Taken {
    return {
      question: { who: { people: [...new Set(ids)].sort((a, b) => a - b), mode: any ? 'among' : 'only' } },
      length,
    };
  }

  /** One condition, as far as it goes; null when the words are nothing known. */
  condition(rest: string): Taken | null {
    const quoted = rest.match(QUOTED);
    if (quoted?.[1]?.trim()) return { question: { text: quoted[1].trim() }, length: quoted[0].length };
    if (rest.startsWith('@') || rest.startsWith('#')) {
      const found = this.named(rest.slice(1), rest.startsWith('@') ? PEOPLE : TAGS);
      return found && { question: found.question, length: found.length + 1 };
    }
    // Times, stars and sizes end at a comma; names may hold one.
    const head = rest.split(/,(?= |$)/)[0]!;
    const plus = head.match(/^([1-5])\+(?= |$)/);
    if (plus) return { question: { rating: { min: Number(plus[1]) } }, length: plus[0].length };
    const stars = head.match(this.typing.stars);
    if (stars) return { question: { rating: { min: Number(stars[1]) } }, length: stars[0].length };
    const only = rest.match(this.typing.only);
    if (only) {
      const people = this.people(rest, only[0].length + 1);
      if (people) return people;
    }
    for (const [lead, kinds, made] of this.typing.leads)
      if (rest.startsWith(lead)) {
        const found = this.named(rest.slice(lead.length), kinds);
        const question = found && (made ? made(found.question) : found.question);
        if (question) return { question, length: lead.length + found.length };
      }
    const named = this.named(rest, BARE);
    const said = relativeAt(head, this.today, this.typing) ?? saidAt(head, this.words);
    // "May" is a month, "May Hallorin" is somebody, and so is "May" where somebody is called nothing else.
    if (said && (!named || said.length >= named.length)) return said;
    if (named) return named;
    // "at the lake": small words before a name.
    const filler = rest.match(this.typing.filler);
    if (!filler) return null;
    const after = this.condition(rest.slice(filler[0].length + 1));
    return after && { question: after.question, length: filler[0].length + 1 + after.length };
  }

  /** One part with what may stand before it: `-`, "not", a bracket. */
  part(rest: string, depth = 0): Taken | null {
    const minus = rest.startsWith('-') && rest.length > 1 && rest[1] !== ' ';
    if (minus) {
      const inner = this.part(rest.slice(1), depth + 1) ?? this.word(rest.slice(1));
      return { question: { not: inner.question }, length: inner.length + 1 };
    }
    if (rest.startsWith('(') && depth < 7) {
      const inner = this.group(rest);
      if (inner) return inner;
    }
    const found = this.condition(rest);
    if (found) return found;
    const not = rest.match(this.typing.not);
    if (!not) return null;
    const behind = rest.slice(not[0].length).trimStart();
    const skipped = rest.length - behind.length;
    const inner = this.part(behind, depth + 1) ?? this.word(behind);
    return { question: { not: inner.question }, length: skipped + inner.length };
  }

  /** A word that is nothing known is looked for. */
  word(rest: string): Taken {
    const word = rest.split(' ')[0] || rest;
    return { question: { text: word.replace(/^[@#"“”„(]+|,+$/gu, '') || word }, length: word.length };
  }

  /** What stands in brackets, up to the one that closes the first. */
  private group(rest: string): Taken | null {
    let depth = 0;
    for (let i = 0; i < rest.length; i++) {
      if (rest[i] === '(') depth++;
      if (rest[i] === ')' && --depth === 0) {
        const inner = rest.slice(1, i).trim();
        return inner ? { question: normalise(this.read(inner).question), length: i + 1 } : null;
      }
    }
    return null;
  }

  /** What is asked before a word that is begun, and whether "not" stands last. */
  before(text: string): { before: Question; not: boolean } {
    const not = text.match(this.typing.endsInNot);
    const asked = not ? text.slice(0, text.length - not[0].length) : text;
    return { before: normalise(this.read(asked.trim()).question), not: not !== null };
  }

  /** A whole question, and where its last words begin that nothing known was made of. */
  read(text: string): { question: Question; open: { before: Question[]; at: number } | null } {
    const parts: Question[] = [];
    let rest = text;
    let open: { before: Question[]; at: number } | null = null;
    // "a or b": the parts joined by "or" become one.
    let alternatives: Question[] | null = null;
    while (rest) {
      const and = rest.match(this.typing.and);
      if (and && parts.length) {
        rest = rest.slice(and[0].length).trimStart();
        continue;
      }
      const or = rest.match(this.typing.or);
      if (or && parts.length) {
        const last = parts.pop()!;
        alternatives = alternatives ? [...alternatives, last] : [last];
        rest = rest.slice(or[0].length).trimStart();
        continue;
      }
      const at = text.length - rest.length;
      const found = this.part(rest);
      const taken = found ?? this.word(rest);
      const next = rest.slice(taken.length).trimStart();
      const small = !found && this.typing.stop.has(rest.slice(0, taken.length));
      if (!next) open = { before: [...parts], at };
      // Small words that lead nowhere are no words to look for, unless there is nothing else.
      if (!small || (!next && parts.length === 0)) {
        parts.push(taken.question);
        if (alternatives) {
          alternatives.push(parts.pop()!);
          const after: boolean = this.typing.or.test(next);
          if (!after) {
            parts.push({ any: alternatives });
            alternatives = null;
          } else {
            // The next "or" takes the last one again.
            parts.push(alternatives.pop()!);
          }
        }
      }
      rest = next;
    }
    if (alternatives) parts.push({ any: alternatives });
    return { question: { all: parts }, open };
  }
}

/**
 * Reads what is typed: words people use (“Tove and Emil at the lake, not blurred, summer 2026, 3 stars”) and shorthand
 * (`@name`, `#tag`, `-` before anything to leave it out, `2024`, `apr-sep 2026`, `4+`, quoted text, `(this or that)`), in the
 * language given and in English. Names are those of `names`; a first name that several people bear is any of them; any other
 * word is looked for. Never fails: what cannot be understood is a word. `today` is the day that “last week” is seen from.
 */
export function parse(typed: string, names: Vocabulary, words: Words, today = '2000-01-01'): Parsed {
  const text = fold(typed);
  const reader = new Reader(indexOf(names), words, typingOf(words), today);
  const { question, open } = reader.read(text);
  if (!open || /\s$/u.test(typed)) return { question: normalise(question), open: null };
  // The word that is begun, and the two before it: a name of several words may have been begun there.
  const last = text.slice(open.at);
  const bare = last.replace(/^-/, '');
  const sign = bare.startsWith('@') ? '@' : bare.startsWith('#') ? '#' : '';
  if (sign || last.startsWith('-')) {
    const start = { text: bare.slice(sign.length), before: normalise({ all: open.before }), not: last.startsWith('-') };
    return { question: normalise(question), open: { sign, starts: [start] } };
  }
  const pieces = text.split(' ');
  const starts = [1, 2, 3].slice(0, pieces.length).map((n) => {
    const start = pieces.slice(-n).join(' ');
    const before = reader.before(pieces.slice(0, -n).join(' '));
    return { text: start, ...before };
  });
  return { question: normalise(question), open: { sign, starts } };
}
