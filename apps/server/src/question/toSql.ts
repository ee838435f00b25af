import {
  allBelow,
  daysBefore,
  fold,
  latitudesWithin,
  type Condition,
  type Question,
  type Span,
  type Thing,
  type Where,
  type World,
} from '@gemmel/core';

/** A piece of SQL that is true for the pictures `p` that answer a question, and its values. */
export interface Sql {
  sql: string;
  values: (string | number)[];
}

const sql = (text: string, ...values: (string | number)[]): Sql => ({ sql: text, values });
const marks = (n: number) => Array.from({ length: n }, () => '?').join(',');

/** Days as a range of the timeline, so that the index that orders pictures also finds them. Both ends belong to it. */
function between(from: string | undefined, to: string | undefined): Sql {
  const parts = [
    ...(from ? [sql('p.taken_local >= ?', from)] : []),
    ...(to ? [sql('p.taken_local < ?', daysBefore(to, -1))] : []),
  ];
  // What only knows a span of days lies in these when all of its span does.
  const spans = [...(from ? [sql('p.taken_from >= ?', from)] : []), ...(to ? [sql('p.taken_to <= ?', to)] : [])];
  const whole = sql(
    `(p.taken_exact IS NULL OR (${spans.map((part) => part.sql).join(' AND ')}))`,
    ...spans.flatMap((part) => part.values),
  );
  const all = [...parts, whole];
  return { sql: all.map((part) => part.sql).join(' AND '), values: all.flatMap((part) => part.values) };
}

function inSpan(span: Span, today: string): Sql {
  if ('lastDays' in span) return between(daysBefore(today, span.lastDays - 1), today);
  if ('month' in span)
    return span.day === undefined
      ? sql('p.month_day BETWEEN ? AND ?', span.month * 100, span.month * 100 + 31)
      : sql('p.month_day = ?', span.month * 100 + span.day);
  if ('only' in span) {
    const month = span.only.length > 4;
    const [first, last] = month ? [`${span.only}-01`, `${span.only}-31`] : [`${span.only}-01-01`, `${span.only}-12-31`];
    return sql(
      `p.day BETWEEN ? AND ? AND p.taken_exact ${month ? "= 'month'" : "IN ('season','year','decade')"}`,
      first,
      // A month's last day may not be the 31st; days are compared as dates.
      month ? daysBefore(`${nextMonth(span.only)}-01`, 1) : last,
    );
  }
  return between(span.from, span.to);
}

function nextMonth(month: string): string {
  const [y, m] = month.split('-').map(Number) as [number, number];
  return m === 12 ? `${y + 1}-01` : `${y}-${String(m + 1).padStart(2, '0')}`;
}

/** Great-circle distance in kilometres from a spot, as core's `distanceKm`: haversine formula, mean earth radius 6371 km. */
const DISTANCE = `12742 * ASIN(LEAST(1, SQRT(POW(SIN(RADIANS(p.lat - ?) / 2), 2) + COS(RADIANS(?)) * COS(RADIANS(p.lat)) * POW(SIN(RADIANS(p.lon - ?) / 2), 2))))`;

function isWhere(where: Where): Sql {
  if ('own' in where) return sql('p.own_place_id = ?', where.own);
  if ('box' in where) {
    const [west, south, east, north] = where.box;
    const word = west <= east ? 'AND' : 'OR';
    return sql(`p.lat BETWEEN ? AND ? AND (p.lon >= ? ${word} p.lon <= ?)`, south, north, west, east);
  }
  if ('circle' in where) {
    const { lat, lon, km } = where.circle;
    return sql(`p.lat BETWEEN ? AND ? AND ${DISTANCE} <= ?`, ...latitudesWithin(lat, km), lat, lat, lon, km);
  }
  const parts = [
    sql('p.country = ?', where.country),
    ...(where.region === undefined ? [] : [sql('p.region = ?', where.region)]),
    ...(where.place === undefined ? [] : [sql('p.place = ?', where.place)]),
  ];
  return { sql: parts.map((part) => part.sql).join(' AND '), values: parts.flatMap((part) => part.values) };
}

const FACE = 'EXISTS (SELECT 1 FROM faces f WHERE f.picture_id = p.id AND f.state';

function has(thing: Thing): Sql {
  switch (thing) {
    case 'place':
      return sql('p.lat IS NOT NULL');
    case 'date':
      return sql('p.taken_local IS NOT NULL');
    case 'day':
      return sql("p.taken_local IS NOT NULL AND (p.taken_exact IS NULL OR p.taken_exact = 'day')");
    case 'caption':
      return sql("p.caption IS NOT NULL AND p.caption <> ''");
    case 'names':
      return sql(`NOT ${FACE} = 'waiting')`);
    case 'tags':
      return sql('EXISTS (SELECT 1 FROM picture_tags t WHERE t.picture_id = p.id)');
    case 'event':
      return sql('p.event_id IS NOT NULL');
    case 'double':
      return sql('p.alike_id IS NOT NULL');
  }
}

const ALBUM = `SELECT a.picture_id FROM album_pictures a JOIN albums b ON b.id = a.album_id AND b.removed_at IS NULL`;

function condition(c: Condition, library: number, world: World): Sql {
  if ('who' in c) {
    const { people, mode } = c.who;
    const shown = (ids: readonly number[]) =>
      sql(
        `p.id IN (SELECT f.picture_id FROM faces f WHERE f.library_id = ? AND f.person_id IN (${marks(ids.length)}))`,
        library,
        ...ids,
      );
    const each = mode === 'any' || mode === 'among' ? [shown(people)] : people.map((id) => shown([id]));
    if (mode === 'only' || mode === 'among')
      each.push(
        sql(
          `NOT ${FACE} IN ('waiting','named') AND (f.person_id IS NULL OR f.person_id NOT IN (${marks(people.length)})))`,
          ...people,
        ),
      );
    return join(each, 'AND');
  }
  if ('faces' in c)
    return sql(
      "p.id IN (SELECT f.picture_id FROM faces f WHERE f.library_id = ? AND f.state IN ('waiting','named') GROUP BY f.picture_id HAVING COUNT(*) >= ?)",
      library,
      c.faces.min,
    );
  if ('tag' in c) {
    const tags = allBelow(c.tag, world.tagParent);
    return sql(`p.id IN (SELECT t.picture_id FROM picture_tags t WHERE t.tag_id IN (${marks(tags.length)}))`, ...tags);
  }
  if ('taken' in c) return inSpan(c.taken, world.today);
  if ('where' in c) return isWhere(c.where);
  if ('folder' in c) {
    const folders = c.folder.only ? [c.folder.id] : allBelow(c.folder.id, world.folderParent);
    return sql(`p.folder_id IN (${marks(folders.length)})`, ...folders);
  }
  if ('event' in c) return sql('p.event_id = ?', c.event);
  if ('album' in c) return sql(`p.id IN (${ALBUM} WHERE a.album_id = ?)`, c.album);
  if ('batch' in c) return sql('p.batch_id = ?', c.batch);
  if ('device' in c) return sql('p.device_id = ?', c.device);
  if ('added' in c) return sql('p.created_at >= ?', daysBefore(world.today, c.added.lastDays - 1));
  if ('kind' in c) return sql('p.kind = ?', c.kind);
  if ('rating' in c) return sql('p.rating BETWEEN ? AND ?', c.rating.min ?? 0, c.rating.max ?? 5);
  if ('favourite' in c) return sql('p.favourite = ?', c.favourite ? 1 : 0);
  if ('text' in c) return sql("p.words LIKE ? ESCAPE '='", `%${fold(c.text).replace(/[%_=]/g, '=$&')}%`);
  if ('inNoAlbum' in c) return sql(`NOT EXISTS (${ALBUM} WHERE a.picture_id = p.id)`);
  if ('has' in c) return has(c.has);
  const { sql: text, values } = has(c.lacks);
  return sql(`NOT (${text})`, ...values);
}

function join(parts: readonly Sql[], word: 'AND' | 'OR'): Sql {
  if (parts.length === 0) return sql(word === 'AND' ? '1=1' : '1=0');
  return { sql: parts.map((part) => `(${part.sql})`).join(` ${word} `), values: parts.flatMap((part) => part.values) };
}

/**
 * The condition on `pictures p` that a question means: true for exactly the pictures for which core's `matches` is
 * true. Unknown values (no date, no place) count as false before a negation turns them round.
 */
export function toSql(question: Question, library: number, world: World): Sql {
  const walk = (q: Question): Sql => {
    if ('all' in q) return join(q.all.map(walk), 'AND');
    if ('any' in q) return join(q.any.map(walk), 'OR');
    if ('not' in q) {
      const inner = walk(q.not);
      return { sql: `NOT COALESCE((${inner.sql}), FALSE)`, values: inner.values };
    }
    return condition(q, library, world);
  };
  return walk(question);
}
