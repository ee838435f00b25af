/** A tag or folder and all below it. A loop in the tree, which the store forbids, would still end. */
export function allBelow(top: number, parents: ReadonlyMap<number, number | null>): number[] {
  const children = new Map<number, number[]>();
  for (const [child, parent] of parents)
    if (parent !== null) {
      const list = children.get(parent);
      if (list) list.push(child);
      else children.set(parent, [child]);
    }
  const found = new Set([top]);
  for (const id of found) for (const child of children.get(id) ?? []) found.add(child);
  return [...found].sort((a, b) => a - b);
}
