import type { Condition, Question } from './question';

const byNumber = (a: number, b: number) => a - b;

function tidy(condition: Condition): Condition {
  if (!('who' in condition)) return condition;
  const people = [...new Set(condition.who.people)].sort(byNumber);
  // With one person, all and any ask the same, and among and only: keep one way of writing it.
  const alone = { any: 'all', all: 'all', among: 'only', only: 'only' } as const;
  const mode = people.length === 1 ? alone[condition.who.mode] : condition.who.mode;
  return { who: { people, mode } };
}

/** Of several parts any of which will do, those that ask for somebody become one that asks for any of them. */
function peopleJoined(parts: readonly Question[]): Question[] {
  const people: number[] = [];
  let first = -1;
  const others: Question[] = [];
  for (const part of parts)
    if ('who' in part && (part.who.mode === 'any' || (part.who.mode === 'all' && part.who.people.length === 1))) {
      if (first < 0) first = others.length;
      people.push(...part.who.people);
    } else others.push(part);
  if (first >= 0) others.splice(first, 0, tidy({ who: { people, mode: 'any' } }));
  return others;
}

/**
 * The same question in its one plain form: groups of the same kind joined, groups of one opened, double negations
 * gone, repeated parts dropped, ids in order. It asks for the same pictures; doing it twice changes nothing.
 */
export function normalise(question: Question): Question {
  if ('not' in question) {
    const inner = normalise(question.not);
    return 'not' in inner ? inner.not : { not: inner };
  }
  if ('all' in question || 'any' in question) {
    const kind = 'all' in question ? 'all' : 'any';
    const parts = ('all' in question ? question.all : question.any).map(normalise).flatMap((part) => {
      if (kind === 'all' && 'all' in part) return part.all;
      if (kind === 'any' && 'any' in part) return part.any;
      return [part];
    });
    const seen = new Set<string>();
    const kept = (kind === 'any' ? peopleJoined(parts) : parts).filter((part) => {
      const key = JSON.stringify(part);
      return seen.has(key) ? false : (seen.add(key), true);
    });
    if (kept.length === 1 && kept[0]) return kept[0];
    return kind === 'all' ? { all: kept } : { any: kept };
  }
  return tidy(question);
}

/** The parts joined by "all" at the top of a question: what the question bar shows as chips. */
export function topParts(question: Question): Question[] {
  const plain = normalise(question);
  return 'all' in plain ? plain.all : [plain];
}

/** Adds a part to the top of a question, unless it is there already. */
export function narrow(question: Question, part: Question): Question {
  return normalise({ all: [question, part] });
}

/** Takes the nth of {@link topParts} away. */
export function widen(question: Question, index: number): Question {
  return normalise({ all: topParts(question).filter((_, i) => i !== index) });
}
