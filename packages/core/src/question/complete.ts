import { isNoticed, THINGS } from '../observe/kinds';
import { fold } from '../text/fold';
import type { Words } from '../words/words';
import { narrow, normalise } from './normalise';
import type { Open } from './parse';
import type { Condition, Question } from './question';
import { indexOf, WORD_KINDS, type Vocabulary, type WordKind } from './vocabulary';

/** What a begun word may be. */
export type CompletionKind = WordKind | 'observed' | 'stars' | 'word';

/** Something typing may be completed to. */
export interface Completion {
  kind: CompletionKind;
  /** As it is called: the name that was begun. For stars the number alone. */
  label: string;
  /** The condition it is, without what stands before it; turned round where "not" stands before it. */
  part: Question;
  /** The whole question there would be. */
  question: Question;
}

/** Kinds in the order in which equally good ones are shown. */
const RANK: readonly CompletionKind[] = [...WORD_KINDS, 'observed', 'stars', 'word'];
/** Of one kind are shown at most so many while there are others. */
const OF_A_KIND = 3;

interface Found extends Completion {
  /** Words of what was typed that it takes up; the more, the better. */
  words: number;
  /** Whether the name itself begins so, and not one of its later words. */
  first: boolean;
}

/** Where in a name, folded, a text begins a word; -1 nowhere. */
export function startOfWord(name: string, text: string): number {
  if (name.startsWith(text)) return 0;
  for (let at = name.indexOf(text, 1); at > 0; at = name.indexOf(text, at + 1))
    if (!/[\p{L}\p{N}]/u.test(name[at - 1]!)) return at;
  return -1;
}

/**
 * What the end of a typed text may be, the likeliest first, at most `most`: names that begin so, at their start before at a
 * later word, with at most three of a kind while there are others; things the machine noticed, stars; and always the words
 * themselves, to be looked for.
 */
export function complete(open: Open | null, names: Vocabulary, words: Words, most = 8): Completion[] {
  if (!open) return [];
  const found: Found[] = [];
  const add = (
    kind: CompletionKind,
    label: string,
    condition: Condition | Question,
    { before, not }: { before: Question; not: boolean },
    rest: Pick<Found, 'words' | 'first'>,
  ) => {
    const part = normalise(not ? { not: condition } : condition);
    found.push({ kind, label, part, question: narrow(before, part), ...rest });
  };
  for (const start of open.starts) {
    const { text } = start;
    if (!text && !open.sign) continue;
    const n = text.split(' ').length;
    for (const entry of indexOf(names).entries) {
      if (entry.first) continue;
      if (open.sign && entry.kind !== (open.sign === '@' ? 'person' : 'tag')) continue;
      const where = startOfWord(entry.folded, text);
      if (where >= 0) add(entry.kind, entry.name, entry.question, start, { words: n, first: where === 0 });
    }
    if (open.sign || text.length < 2) continue;
    for (const one of names.observed ?? []) {
      const said = isNoticed(one) ? words.noticed[one][1] : THINGS[one][words.language];
      const where = startOfWord(fold(said), text);
      if (where >= 0) add('observed', said, { observed: one }, start, { words: n, first: where === 0 });
    }
  }
  const last = open.starts[0];
  if (last && /^[1-5]$/.test(last.text) && !open.sign)
    add('stars', last.text, { rating: { min: Number(last.text) } }, last, { words: 1, first: true });
  // One thing under several names is offered by the one that takes up most of what is typed, its own name before others.
  const best = new Map<string, Found>();
  for (const one of found) {
    const key = JSON.stringify(one.question);
    const there = best.get(key);
    if (!there || one.words > there.words || (one.words === there.words && one.first && !there.first))
      best.set(key, one);
  }
  const different = [...best.values()].sort(
    (a, b) =>
      b.words - a.words ||
      Number(b.first) - Number(a.first) ||
      RANK.indexOf(a.kind) - RANK.indexOf(b.kind) ||
      a.label.length - b.label.length ||
      (a.label < b.label ? -1 : 1),
  );
  const count = new Map<CompletionKind, number>();
  const early = different.filter(({ kind }) => {
    const n = (count.get(kind) ?? 0) + 1;
    count.set(kind, n);
    return n <= OF_A_KIND;
  });
  const chosen = [...early, ...different.filter((one) => !early.includes(one))].slice(0, open.sign ? most : most - 1);
  const end: Completion[] = [];
  if (last && last.text && !open.sign) {
    const part: Question = last.not ? { not: { text: last.text } } : { text: last.text };
    end.push({ kind: 'word', label: last.text, part, question: narrow(last.before, part) });
  }
  return [...chosen.map(({ kind, label, part, question }) => ({ kind, label, part, question })), ...end];
}
