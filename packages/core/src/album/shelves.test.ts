import fc from 'fast-check';
import { countPlanned, planShelves, shelved, type FolderIn, type Planned, type Shelved } from './shelves';

const folders = fc
  .array(fc.record({ parent: fc.nat(30), pictures: fc.nat(3), name: fc.constantFrom('a', 'b', '10', '9', 'Ä') }), {
    minLength: 1,
    maxLength: 25,
  })
  .map((rows) =>
    rows.map((row, i): FolderIn => ({ ...row, id: i + 1, parent: i === 0 ? null : (row.parent % i) + 1 })),
  );

describe('shelves of a tree of folders', () => {
  const all = (plan: Planned): Planned[] => [plan, ...plan.on.flatMap(all)];

  test('every folder with pictures becomes one album, none is made of an empty one, and counts are right', () => {
    fc.assert(
      fc.property(folders, (tree) => {
        const plan = planShelves(tree, 1);
        const parts = plan ? all(plan) : [];
        const albums = parts.filter(({ kind }) => kind === 'album');
        expect(albums.map(({ folder }) => folder).sort()).toEqual(
          tree
            .filter(({ pictures }) => pictures)
            .map(({ id }) => id)
            .sort(),
        );
        for (const shelf of parts.filter(({ kind }) => kind === 'shelf')) {
          expect(shelf.on.length).toBeGreaterThan(0);
          expect(shelf.pictures).toBe(
            all(shelf).reduce((sum, one) => sum + (one.kind === 'album' ? one.pictures : 0), 0),
          );
        }
        if (plan) expect(countPlanned(plan)).toEqual({ albums: albums.length, shelves: parts.length - albums.length });
      }),
    );
  });
  test('names stand in order, numbers by their size; a folder that only leads on is skipped; a loop ends', () => {
    const folder = (id: number, parent: number | null, name: string, pictures = 0) => ({ id, parent, name, pictures });
    const plan = planShelves(
      [
        folder(1, null, 'Disk'),
        folder(2, 1, '10', 1),
        folder(3, 1, '9', 1),
        folder(4, 1, 'way'),
        folder(5, 4, 'Deep', 2),
      ],
      1,
    )!;
    expect(plan.on.map(({ name }) => name)).toEqual(['9', '10', 'Deep']);
    expect(planShelves([folder(1, 2, 'a', 1), folder(2, 1, 'b', 1)], 1)).toMatchObject({ kind: 'shelf', pictures: 2 });
    expect(planShelves([folder(1, null, 'empty')], 1)).toBeNull();
    expect(planShelves([], 7)).toBeNull();
  });
  test('what a camera called its folders tells nothing: the folder above lends its name', () => {
    const folder = (id: number, parent: number | null, name: string, pictures = 0) => ({ id, parent, name, pictures });
    const camera = [folder(1, null, 'The good camera'), folder(2, 1, 'DCIM'), folder(3, 2, '101GEMML', 110)];
    const more = [...camera, folder(4, 2, '102', 3)];
    // The folder itself or the one that is shown as one with it: the same.
    for (const top of [1, 2]) {
      expect(planShelves(more, top)).toMatchObject({ kind: 'shelf', name: 'The good camera' });
      expect(planShelves(more, top)!.on.map(({ name }) => name)).toEqual([
        'The good camera 101GEMML',
        'The good camera 102',
      ]);
      expect(planShelves(camera, top)).toMatchObject({ kind: 'album', name: 'The good camera', folder: 3 });
    }
    expect(planShelves([folder(2, null, 'DCIM'), folder(3, 2, '2019', 4)], 2)).toMatchObject({ name: 'DCIM' });
    // A year is a name.
    expect(planShelves([folder(1, null, 'Disk', 1), folder(2, 1, '2019', 4)], 1)!.on[1]).toMatchObject({
      name: '2019',
    });
  });
});

describe('what stands on shelves', () => {
  const tree = fc.record({
    shelves: fc.array(
      fc.record({
        shelf: fc.option(fc.nat(12)),
        position: fc.constantFrom('a0', 'a1', 'a2'),
        name: fc.string({ maxLength: 2 }),
        sorted: fc.constantFrom('hand' as const, 'name' as const, 'latest' as const),
      }),
      { maxLength: 10 },
    ),
    albums: fc.array(
      fc.record({
        shelf: fc.option(fc.nat(12)),
        position: fc.constantFrom('a0', 'a1', 'a2'),
        name: fc.string({ maxLength: 2 }),
        to: fc.option(fc.constantFrom('2024-01-01', '2026-05-16')),
      }),
      { maxLength: 12 },
    ),
  });
  test('whatever the rows say, each album and each shelf stands in the tree once', () => {
    fc.assert(
      fc.property(tree, ({ shelves: s, albums: a }) => {
        const shelves = s.map((row, i) => ({ ...row, id: i }));
        const albums = a.map((row, i) => ({ ...row, id: i }));
        const root = shelved(albums, shelves, 'name');
        const found: string[] = [];
        const walk = (part: Shelved<(typeof albums)[number], (typeof shelves)[number]>): number => {
          let count = 0;
          for (const one of part.on) {
            if ('album' in one) found.push(`album ${one.album.id}`);
            else found.push(`shelf ${one.shelf!.id}`);
            count += 'album' in one ? 1 : walk(one);
          }
          expect(part.albums).toBe(count);
          return count;
        };
        walk(root);
        expect(found.sort()).toEqual(
          [...albums.map(({ id }) => `album ${id}`), ...shelves.map(({ id }) => `shelf ${id}`)].sort(),
        );
      }),
    );
  });
  test('a loop of shelves, and a shelf that has gone, leave everything in sight', () => {
    const shelf = (id: number, on: number | null) => ({
      id,
      shelf: on,
      name: `${id}`,
      position: 'a0',
      sorted: 'hand' as const,
    });
    const album = { id: 9, shelf: 1, name: 'x', position: 'a0', to: null };
    const root = shelved([album, { ...album, id: 8, shelf: 77 }], [shelf(1, 2), shelf(2, 1)], 'hand');
    expect(root.albums).toBe(2);
  });
});
