import { type Condition, normalise, type Question } from '@gemmel/core';

/** How a group's lines are joined: all of them, any of them, none of them. */
export type Join = 'all' | 'any' | 'none';

/** A group of sentences as the editor holds it: conditions, and groups one level down. */
export interface Group {
  join: Join;
  lines: (Condition | Group)[];
}

export const isGroup = (line: Condition | Group): line is Group => 'join' in line;

/** The question a group of sentences means. An empty group asks for nothing in particular. */
export function toQuestion(group: Group): Question {
  const parts = group.lines
    .filter((line) => !isGroup(line) || line.lines.length > 0)
    .map((line): Question => (isGroup(line) ? toQuestion(line) : line));
  if (parts.length === 0) return { all: [] };
  if (group.join === 'none') return { not: { any: parts } };
  return group.join === 'all' ? { all: parts } : { any: parts };
}

const JOINS = ['all', 'any'] as const;

/** A question as sentences to edit. Groups deeper than the editor shows stay as they are, as one line each. */
export function toDraft(question: Question): Group {
  const plain = normalise(question);
  const group = (q: Question): Group | null => {
    for (const join of JOINS)
      if (join in q) return { join, lines: (q as Record<'all' | 'any', Question[]>)[join].flatMap(line) };
    if ('not' in q) {
      const inner = 'any' in q.not ? q.not.any : [q.not];
      return { join: 'none', lines: inner.flatMap(line) };
    }
    return null;
  };
  const line = (q: Question): (Condition | Group)[] => {
    const inner = group(q);
    return inner ? [inner] : [q as Condition];
  };
  return group(plain) ?? { join: 'all', lines: [plain as Condition] };
}
