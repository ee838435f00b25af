import { type Condition, normalise, type Question } from '@gemmel/core';

/** How a group's lines are joined: all of them, any of them, none of them. */
export type Join = 'all' | 'any' | 'none';

/** A group of sentences as the editor holds it: conditions, and groups within. */
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

/** A question as sentences to edit. */
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

/** Where a line stands: the place in the outermost group, then in the group there, and so on. */
export type Way = readonly number[];

/** The group at a way; the outermost for an empty one. */
export function groupAt(group: Group, way: Way): Group {
  return way.reduce((at, i) => at.lines[i] as Group, group);
}

/** The same sentences with another group at a way. */
export function withGroup(group: Group, way: Way, next: Group): Group {
  const [first, ...rest] = way;
  if (first === undefined) return next;
  return {
    ...group,
    lines: group.lines.map((line, i) => (i === first ? withGroup(line as Group, rest, next) : line)),
  };
}

/** How deep groups may stand within each other, so that a question stays one. */
export const DEEPEST = 4;
