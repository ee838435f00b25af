import type { Words } from '../words/words';
import type { Names } from './sentence';
import { phrase } from './sentence';
import type { Condition, Question } from './question';

/** Text as it is typed for one condition; null for what only a screen can ask: a part of the map, a likeness. */
function condition(c: Condition, names: Names, words: Words): string | null {
  if ('who' in c) {
    const { people, mode } = c.who;
    const said = people.map((id) => `@${names.person(id)}`);
    if (mode === 'all') return said.join(' ');
    if (mode === 'any') return `(${said.join(` ${words.or} `)})`;
    const { lead, value } = phrase(c, names, words);
    return `${lead} ${value}`;
  }
  if ('tag' in c) return `#${names.tag(c.tag)}`;
  if ('text' in c) return `“${c.text}”`;
  if ('where' in c && ('box' in c.where || 'circle' in c.where)) return null;
  if ('like' in c || 'near' in c || 'faces' in c) return null;
  const { lead, value } = phrase(c, names, words);
  return `${lead} ${value}`;
}

/**
 * A question as it can be typed, so that `parse` of it asks the same; null where it holds something that cannot be typed. Names
 * that are the same cannot be told apart.
 */
export function typedOf(question: Question, names: Names, words: Words): string | null {
  const say = (q: Question, top: boolean): string | null => {
    if ('all' in q || 'any' in q) {
      const list = 'all' in q ? q.all : q.any;
      if (list.length === 0) return 'all' in q && top ? '' : null;
      const said = list.map((part) => say(part, false));
      if (said.some((part) => part === null)) return null;
      if ('all' in q) return top ? said.join(', ') : list.length === 1 ? said[0]! : `(${said.join(', ')})`;
      return `(${said.join(` ${words.or} `)})`;
    }
    if ('not' in q) {
      const inner = say(q.not, false);
      if (inner === null) return null;
      return /^[@#(“]/.test(inner) && !inner.includes(' @') ? `-${inner}` : `-(${inner})`;
    }
    return condition(q, names, words);
  };
  return say(question, true);
}
