/** A folder with how many pictures lie right in it. */
export interface FolderIn {
  id: number;
  parent: number | null;
  name: string;
  pictures: number;
}

/** What becomes of a folder: a shelf, or an album of the pictures right in it; and what stands on a shelf. */
export interface Planned {
  kind: 'shelf' | 'album';
  name: string;
  folder: number;
  pictures: number;
  on: Planned[];
}

const byName = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** Names a camera gives its folders by itself (DCF, JEITA CP-3461: `DCIM`, and three digits that a letter and four more signs may follow): they tell nothing. */
const MACHINE_MADE = /^(dcim|\d{3}([a-z_]\w{4})?)$/i;

/**
 * What shelves and albums a folder with all below it becomes: a folder that holds folders with pictures becomes a shelf, one that only holds
 * pictures an album; where it holds both, an album of its name stands first on its shelf. Folders without a picture below them become nothing, and
 * one that leads to a single further folder is not worth a shelf of its own: the one asked for lends it its name. Names a camera made tell nothing:
 * such an album is called by the folder above as well, such a shelf by that alone. Names come in order, numbers by their size. Time grows with the
 * number of folders.
 */
export function planShelves(folders: readonly FolderIn[], top: number): Planned | null {
  const below = new Map<number, FolderIn[]>();
  const by = new Map<number, FolderIn>();
  for (const folder of folders) {
    by.set(folder.id, folder);
    if (folder.parent === null) continue;
    const list = below.get(folder.parent);
    if (list) list.push(folder);
    else below.set(folder.parent, [folder]);
  }
  const seen = new Set<number>();
  /** @param above what the shelf above is called; for the folder asked for, what it is called itself. */
  const plan = (folder: FolderIn, above: string): Planned | null => {
    // A loop in the tree, which the store forbids, would still end.
    if (seen.has(folder.id)) return null;
    seen.add(folder.id);
    const dumb = folder.id !== top && MACHINE_MADE.test(folder.name);
    const name = dumb || folder.id === top ? above : folder.name;
    const on = [...(below.get(folder.id) ?? [])]
      .sort((a, b) => byName.compare(a.name, b.name) || a.id - b.id)
      .map((child) => plan(child, name))
      .filter((one) => one !== null);
    const own: Planned = {
      kind: 'album',
      name: dumb ? `${above} ${folder.name}` : name,
      folder: folder.id,
      pictures: folder.pictures,
      on: [],
    };
    if (on.length === 0) return folder.pictures ? own : null;
    if (on.length === 1 && !folder.pictures) return folder.id === top ? { ...on[0]!, name } : on[0]!;
    return {
      kind: 'shelf',
      name,
      folder: folder.id,
      pictures: folder.pictures + on.reduce((sum, one) => sum + one.pictures, 0),
      on: folder.pictures ? [own, ...on] : on,
    };
  };
  const root = by.get(top);
  if (!root) return null;
  // It is called by the uppermost folder that leads to it alone, and by one above that if that one's name was made by a camera.
  const leads = (folder: FolderIn | undefined) => !folder?.pictures && below.get(folder?.id ?? -1)?.length === 1;
  let named = root;
  for (let n = 0; n < folders.length; n++) {
    const over = by.get(named.parent ?? -1);
    if (!over || !(leads(over) || MACHINE_MADE.test(named.name))) break;
    named = over;
  }
  return plan(root, named.name);
}

/** How many shelves and albums something that is planned makes. */
export function countPlanned(plan: Planned): { shelves: number; albums: number } {
  const own = plan.kind === 'shelf' ? { shelves: 1, albums: 0 } : { shelves: 0, albums: 1 };
  return plan.on
    .map(countPlanned)
    .reduce((sum, one) => ({ shelves: sum.shelves + one.shelves, albums: sum.albums + one.albums }), own);
}

/** Anything that stands on a shelf. */
export interface OnShelf {
  id: number;
  name: string;
  /** The shelf it stands on; null for none. */
  shelf: number | null;
  position: string;
}

/** An album as shelves go by it. */
export interface ShelvedAlbum extends OnShelf {
  /** The day of its last picture. */
  to: string | null;
}

/** How what stands on a shelf is ordered. */
export type ShelfSort = 'hand' | 'name' | 'latest';

/** A shelf with what stands on it, in its order. */
export interface Shelved<A, S> {
  /** Null for what stands on no shelf. */
  shelf: S | null;
  on: ({ album: A } | Shelved<A, S>)[];
  /** How many albums stand on it and on those below it. */
  albums: number;
  /** The day of the last picture below it. */
  to: string | null;
}

/**
 * Albums and shelves as a tree, each shelf in its own order. Whatever speaks of a shelf that is not there stands on none, and so do shelves that
 * would stand on themselves.
 * @param sorted how what stands on no shelf is ordered.
 */
export function shelved<A extends ShelvedAlbum, S extends OnShelf & { sorted: ShelfSort }>(
  albums: readonly A[],
  shelves: readonly S[],
  sorted: ShelfSort,
  compare: (a: string, b: string) => number = byName.compare,
): Shelved<A, S> {
  const by = new Map(shelves.map((shelf) => [shelf.id, shelf]));
  const rooted = (shelf: S): boolean => {
    const seen = new Set<number>();
    for (let at: S | undefined = shelf; at; at = at.shelf === null ? undefined : by.get(at.shelf)) {
      if (seen.has(at.id)) return false;
      seen.add(at.id);
    }
    return true;
  };
  const under = <T extends OnShelf>(items: readonly T[], at: (item: T) => number | null): Map<number | null, T[]> => {
    const groups = new Map<number | null, T[]>();
    for (const item of items) {
      const shelf = at(item);
      const list = groups.get(shelf);
      if (list) list.push(item);
      else groups.set(shelf, [item]);
    }
    return groups;
  };
  const there = (shelf: number | null) => (shelf !== null && by.has(shelf) ? shelf : null);
  const albumsOn = under(albums, (album) => there(album.shelf));
  const shelvesOn = under(shelves, (shelf) => (rooted(shelf) ? there(shelf.shelf) : null));
  const build = (shelf: S | null, how: ShelfSort): Shelved<A, S> => {
    const id = shelf?.id ?? null;
    const items = [
      ...(shelvesOn.get(id) ?? []).map((one) => {
        const part = build(one, one.sorted);
        return { part, name: one.name, position: one.position, to: part.to, first: 0, id: one.id };
      }),
      ...(albumsOn.get(id) ?? []).map((album) => ({
        part: { album },
        name: album.name,
        position: album.position,
        to: album.to,
        first: 1,
        id: album.id,
      })),
    ];
    items.sort((a, b) => {
      if (how === 'hand')
        return a.position === b.position ? a.first - b.first || a.id - b.id : a.position < b.position ? -1 : 1;
      // By name and by time, shelves come before what stands beside them.
      if (a.first !== b.first) return a.first - b.first;
      if (how === 'latest' && a.to !== b.to) return (b.to ?? '').localeCompare(a.to ?? '');
      return compare(a.name, b.name) || a.id - b.id;
    });
    const on = items.map(({ part }) => part);
    return {
      shelf,
      on,
      albums: on.reduce((sum, part) => sum + ('album' in part ? 1 : part.albums), 0),
      to: items.reduce<string | null>(
        (last, { to }) => (to !== null && (last === null || to > last) ? to : last),
        null,
      ),
    };
  };
  return build(null, sorted);
}
