import type { Folder } from '@gemmel/contract';
import { byName } from '@/ui/say';

/** A folder with everything below it: its own counts and the sums of all below. */
export interface Branch {
  folder: Folder;
  below: Branch[];
  /** Of itself and all below. */
  pictures: number;
  bytes: number;
  first: string | null;
  last: string | null;
  changed: string | null;
  /** The names of the folders above it and its own, parted by " › ". */
  way: string;
}

/** How folders are sorted: by name, by the date of their pictures, by size, by when something last came in. */
export const SORTS = ['name', 'date', 'size', 'change'] as const;
export type Sort = (typeof SORTS)[number];

const least = (a: string | null, b: string | null) => (a === null || (b !== null && b < a) ? b : a);
const most = (a: string | null, b: string | null) => (a === null || (b !== null && b > a) ? b : a);

/** A folder that only holds another is shown as one with it, under the upper name. */
function compact(branch: Branch): Branch {
  const [only] = branch.below;
  if (only && branch.below.length === 1 && branch.folder.pictures === 0)
    return compact({ ...only, way: branch.way, folder: { ...only.folder, name: branch.folder.name } });
  return { ...branch, below: branch.below.map(compact) };
}

/** Folders as a tree, with sums. */
export function branches(folders: readonly Folder[]): Branch[] {
  const made = new Map<number, Branch>();
  for (const folder of folders)
    made.set(folder.id, {
      folder,
      below: [],
      pictures: folder.pictures,
      bytes: folder.bytes,
      first: folder.first,
      last: folder.last,
      changed: folder.changed,
      way: folder.name,
    });
  const top: Branch[] = [];
  for (const branch of made.values()) {
    const above = branch.folder.parent === null ? null : made.get(branch.folder.parent);
    (above ? above.below : top).push(branch);
  }
  const sum = (branch: Branch, way: string) => {
    branch.way = way ? `${way} › ${branch.folder.name}` : branch.folder.name;
    for (const child of branch.below) {
      sum(child, branch.way);
      branch.pictures += child.pictures;
      branch.bytes += child.bytes;
      branch.first = least(branch.first, child.first);
      branch.last = most(branch.last, child.last);
      branch.changed = most(branch.changed, child.changed);
    }
  };
  for (const branch of top) sum(branch, '');
  return top.map(compact);
}

/** A folder by itself, without what lies below it. */
export const alone = (branch: Branch): Branch => {
  const { pictures, bytes, first, last, changed } = branch.folder;
  return { ...branch, below: [], pictures, bytes, first, last, changed };
};

/** Every branch, the upper ones first. */
export const flatten = (list: readonly Branch[]): Branch[] =>
  list.flatMap((branch) => [branch, ...flatten(branch.below)]);

const KEYS: Record<Sort, (a: Branch, b: Branch) => number> = {
  name: (a, b) => byName(a.folder.name, b.folder.name),
  date: (a, b) => (a.last ?? '').localeCompare(b.last ?? ''),
  size: (a, b) => a.bytes - b.bytes,
  change: (a, b) => (a.changed ?? '').localeCompare(b.changed ?? ''),
};

/** Branches in an order, one way or the other; those that are equal by their names. */
export const sorted = (list: readonly Branch[], sort: Sort, backwards: boolean): Branch[] =>
  [...list].sort((a, b) => (backwards ? -1 : 1) * KEYS[sort](a, b) || KEYS.name(a, b));
