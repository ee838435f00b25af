import type { Audience } from '@gemmel/contract';
import type { Sql } from '../question/toSql';

/** Audiences from the narrowest to the widest. */
export const AUDIENCES = ['me', 'house', 'family', 'link'] as const satisfies readonly Audience[];

/** Whether an audience reaches at least as far as another. */
export const reaches = (audience: Audience, least: Audience): boolean =>
  AUDIENCES.indexOf(audience) >= AUDIENCES.indexOf(least);

/** What is said of things that pictures belong to. */
export interface Said {
  of: 'person' | 'album' | 'device' | 'place';
  id: number;
  audience: Audience;
  /** Who said it: whose "only me" it is. */
  by: number | null;
}

const marks = (ids: readonly unknown[]) => ids.map(() => '?').join(',');

/** True for pictures `p` that belong to one of some things; null where there are none. */
function belonging(things: readonly Said[], library: number): Sql | null {
  const of = (kind: Said['of']) => [...new Set(things.filter((one) => one.of === kind).map(({ id }) => id))];
  const [people, albums, devices, places] = (['person', 'album', 'device', 'place'] as const).map(of);
  const parts: Sql[] = [];
  if (people!.length)
    parts.push({
      sql: `p.id IN (SELECT f.picture_id FROM faces f WHERE f.library_id = ? AND f.person_id IN (${marks(people!)}))`,
      values: [library, ...people!],
    });
  if (albums!.length)
    parts.push({
      sql: `p.id IN (SELECT a.picture_id FROM album_pictures a WHERE a.library_id = ? AND a.album_id IN (${marks(albums!)}))`,
      values: [library, ...albums!],
    });
  if (devices!.length) parts.push({ sql: `COALESCE(p.device_id IN (${marks(devices!)}), FALSE)`, values: devices! });
  if (places!.length) parts.push({ sql: `COALESCE(p.own_place_id IN (${marks(places!)}), FALSE)`, values: places! });
  if (parts.length === 0) return null;
  return { sql: parts.map(({ sql }) => sql).join(' OR '), values: parts.flatMap(({ values }) => values) };
}

/**
 * True for pictures `p` whose audience is at least `least`. What is said of a picture itself counts; where nothing is, the narrowest
 * of what is said of those who are in it, of its albums, its device and its place; where nothing is said of those either, what
 * holds for the library. "Only me" includes `member`, when it was them who said it. Never NULL, so that it can be turned round.
 */
export function atLeast(
  least: Audience,
  { library, member, said, usual }: { library: number; member: number | null; said: readonly Said[]; usual: Audience },
): Sql {
  const open = AUDIENCES.filter((audience) => reaches(audience, least));
  const enough = (one: Said) =>
    reaches(one.audience, least) || (one.audience === 'me' && one.by !== null && one.by === member);
  const narrow = belonging(
    said.filter((one) => !enough(one)),
    library,
  );
  const wide = reaches(usual, least) ? null : belonging(said.filter(enough), library);
  const unsaid: Sql = reaches(usual, least)
    ? { sql: narrow ? `NOT (${narrow.sql})` : 'TRUE', values: narrow?.values ?? [] }
    : wide
      ? {
          sql: `(${wide.sql})${narrow ? ` AND NOT (${narrow.sql})` : ''}`,
          values: [...wide.values, ...(narrow?.values ?? [])],
        }
      : { sql: 'FALSE', values: [] };
  const own = member === null ? null : "COALESCE(p.audience = 'me' AND p.audience_by = ?, FALSE)";
  return {
    sql: `(p.audience IS NULL AND (${unsaid.sql})) OR COALESCE(p.audience IN (${marks(open)}), FALSE)${own ? ` OR ${own}` : ''}`,
    values: [...unsaid.values, ...open, ...(own ? [member!] : [])],
  };
}
