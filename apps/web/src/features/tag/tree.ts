import type { Tag } from '@gemmel/contract';
import { fold } from '@gemmel/core';

/** A tag where it stands: how deep, and the words above it. */
export interface Branch {
  tag: Tag;
  depth: number;
  path: string[];
}

/** Tags in the order of the tree: what lies below a word follows it, words of one depth by their letters. */
export function inTree(tags: readonly Tag[], collate: (a: string, b: string) => number): Branch[] {
  const below = new Map<number | null, Tag[]>();
  const ids = new Set(tags.map((tag) => tag.id));
  for (const tag of tags) {
    const parent = tag.parent !== null && ids.has(tag.parent) ? tag.parent : null;
    below.set(parent, [...(below.get(parent) ?? []), tag]);
  }
  const found: Branch[] = [];
  const walk = (parent: number | null, depth: number, path: readonly string[]) => {
    for (const tag of (below.get(parent) ?? []).sort((a, b) => collate(a.name, b.name))) {
      found.push({ tag, depth, path: [...path, tag.name] });
      if (depth < 20) walk(tag.id, depth + 1, [...path, tag.name]);
    }
  };
  walk(null, 0, []);
  return found;
}

/** What stands between the words of a path as people type it. */
const STEP = /\s*[›>/]\s*/;
/** A path as it is typed: “outdoors › lake”, also with > or /. */
export const pathTyped = (typed: string): string[] =>
  typed
    .split(STEP)
    .map((word) => word.trim())
    .filter(Boolean);
/** A path as it is shown. */
export const pathSaid = (path: readonly string[]): string => path.join(' › ');

/** Branches whose name, spelling or path a typed text is part of, the best first: names that begin so, then those on most pictures. */
export function findBranches(branches: readonly Branch[], typed: string, most: number): Branch[] {
  const path = pathTyped(typed).map(fold);
  const last = path[path.length - 1];
  if (last === undefined) return [];
  const above = path.slice(0, -1);
  const rank = ({ tag, path: whole }: Branch): number => {
    const words = whole.map(fold);
    // The words typed before must stand above, in their order.
    let at = 0;
    for (const word of above) {
      at = words.slice(0, -1).findIndex((one, i) => i >= at && one.startsWith(word)) + 1;
      if (at === 0) return -1;
    }
    const names = [fold(tag.name), ...tag.spellings.map(fold)];
    if (names.includes(last)) return 3;
    if (names.some((name) => name.startsWith(last))) return 2;
    return names.some((name) => name.includes(last)) ? 1 : -1;
  };
  return branches
    .map((branch) => ({ branch, rank: rank(branch) }))
    .filter((one) => one.rank > 0)
    .sort((a, b) => b.rank - a.rank || b.branch.tag.below - a.branch.tag.below)
    .slice(0, most)
    .map((one) => one.branch);
}
