import type { Folder } from '@gemmel/contract';
import { branches, flatten, sorted } from './tree';

const folder = (id: number, parent: number | null, name: string, more: Partial<Folder> = {}): Folder => ({
  id,
  parent,
  name,
  pictures: 1,
  bytes: 10,
  first: null,
  last: null,
  cameAs: null,
  changed: null,
  ...more,
});

const disk = [
  folder(1, null, 'Grandpa’s disk', { pictures: 0, bytes: 0 }),
  folder(2, 1, 'album 10', { bytes: 5, last: '1988-07-01', changed: '2026-01-02' }),
  folder(3, 1, 'album 9', { bytes: 50, first: '1970-01-01', last: '1975-01-01', changed: '2026-01-01' }),
  folder(4, 3, 'letters', { pictures: 4 }),
];

test('sums go up the tree, and each folder knows its way', () => {
  const [top] = branches(disk);
  expect(top).toMatchObject({ pictures: 6, bytes: 65, first: '1970-01-01', last: '1988-07-01', changed: '2026-01-02' });
  expect(flatten([top!]).map((b) => b.way)).toContain('Grandpa’s disk › album 9 › letters');
});

test('folders are sorted by name with their numbers, by date, size and change, both ways', () => {
  const below = branches(disk)[0]!.below;
  const names = (sort: Parameters<typeof sorted>[1], backwards = false) =>
    sorted(below, sort, backwards).map((b) => b.folder.name);
  expect(names('name')).toEqual(['album 9', 'album 10']);
  expect(names('name', true)).toEqual(['album 10', 'album 9']);
  expect(names('date', true)).toEqual(['album 10', 'album 9']);
  expect(names('size')).toEqual(['album 10', 'album 9']);
  expect(names('change')).toEqual(['album 9', 'album 10']);
});

test('a folder that only holds another is one with it', () => {
  const [top] = branches([
    folder(1, null, 'Ilse’s phone', { pictures: 0 }),
    folder(2, 1, 'DCIM', { pictures: 0 }),
    folder(3, 2, '100'),
  ]);
  expect(top).toMatchObject({ folder: { id: 3, name: 'Ilse’s phone' }, below: [], pictures: 1 });
});
