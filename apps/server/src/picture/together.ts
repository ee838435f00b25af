import type { SaidTogether } from '@gemmel/contract';
import { chunks, type App } from '../context';

interface Row {
  rating: number;
  favourite: number;
  mark_id: number | null;
  title: string | null;
  caption: string | null;
}

/** What some pictures say together: for each thing how many of them say it. Ids that are not in the library are left out. */
export async function saidTogether(app: App, library: number, ids: readonly number[]): Promise<SaidTogether> {
  const { db } = app;
  const rows: Row[] = [];
  const tags = new Map<number, { id: number; name: string; pictures: number }>();
  const people = new Map<number, { id: number; name: string; pictures: number }>();
  const add = (to: typeof tags, found: readonly { id: number; name: string; n: number | string }[]) => {
    for (const { id, name, n } of found) to.set(id, { id, name, pictures: (to.get(id)?.pictures ?? 0) + Number(n) });
  };
  for (const some of chunks([...new Set(ids)], 2000)) {
    rows.push(
      ...((await db('pictures')
        .where('library_id', library)
        .whereIn('id', some)
        .select('rating', 'favourite', 'mark_id', 'title', 'caption')) as Row[]),
    );
    add(
      tags,
      (await db('picture_tags as pt')
        .join('tags as t', 't.id', 'pt.tag_id')
        .where('t.library_id', library)
        .whereIn('pt.picture_id', some)
        .groupBy('t.id')
        .select('t.id', 't.name', db.raw('COUNT(*) AS n'))) as unknown as { id: number; name: string; n: number }[],
    );
    add(
      people,
      (await db('faces as f')
        .join('people as n', 'n.id', 'f.person_id')
        .where('n.library_id', library)
        .whereIn('f.picture_id', some)
        .groupBy('n.id')
        .select('n.id', 'n.name', db.raw('COUNT(DISTINCT f.picture_id) AS n'))) as unknown as {
        id: number;
        name: string;
        n: number;
      }[],
    );
  }
  const marks = new Map<number, number>();
  for (const { mark_id } of rows) if (mark_id !== null) marks.set(mark_id, (marks.get(mark_id) ?? 0) + 1);
  const shared = (column: 'title' | 'caption') => {
    const said = rows.flatMap((row) => (row[column] ? [row[column]] : []));
    const all = said.length === rows.length && new Set(said).size === 1;
    return { text: all ? said[0]! : null, n: said.length };
  };
  const [title, caption] = [shared('title'), shared('caption')];
  const most = (map: typeof tags) =>
    [...map.values()].sort((a, b) => b.pictures - a.pictures || a.name.localeCompare(b.name));
  return {
    pictures: rows.length,
    ratings: [0, 1, 2, 3, 4, 5].map((n) => rows.filter((row) => row.rating === n).length),
    favourites: rows.filter((row) => row.favourite).length,
    marks: [...marks].map(([id, pictures]) => ({ id, pictures })),
    tags: most(tags),
    people: most(people),
    title: title.text,
    titles: title.n,
    caption: caption.text,
    captions: caption.n,
  };
}
