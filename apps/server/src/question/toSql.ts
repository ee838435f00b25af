import {
  allBelow,
  around,
  askedWords,
  daysBefore,
  isWhole,
  latitudesWithin,
  type Condition,
  type Heard,
  type Question,
  type Shape,
  type Span,
  type Thing,
  type Where,
  type World,
} from '@gemmel/core';
import { literally } from './words';

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
    case 'title':
      return sql("p.title IS NOT NULL AND p.title <> ''");
    case 'caption':
      return sql("p.caption IS NOT NULL AND p.caption <> ''");
    case 'comment':
      return sql('p.id IN (SELECT c.picture_id FROM comments c WHERE c.library_id = p.library_id)');
    case 'mark':
      return sql('p.mark_id IS NOT NULL');
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

const SAID = 'SELECT ap.picture_id FROM acts a JOIN act_pictures ap ON ap.act_id = a.id WHERE a.library_id = ?';

/** As core's `shapeOf`. */
const SQUARE = 'GREATEST(p.width, p.height) * 100 <= LEAST(p.width, p.height) * 103';
const PANORAMA = 'GREATEST(p.width, p.height) * 10 > LEAST(p.width, p.height) * 22';
export const SHAPE: Record<Shape, string> = {
  panorama: PANORAMA,
  square: SQUARE,
  landscape: `p.width > p.height AND NOT ${SQUARE} AND NOT ${PANORAMA}`,
  portrait: `p.width < p.height AND NOT ${SQUARE} AND NOT ${PANORAMA}`,
};

/** A text of which nothing is known but its own words. */
export function unheard(text: string): Heard {
  const none: ReadonlySet<number> = new Set();
  return {
    asked: askedWords(text),
    instead: null,
    tags: none,
    people: none,
    events: none,
    albums: none,
    folders: none,
    ownPlaces: none,
    places: [],
  };
}

/** Pictures that say words themselves: by the index of words, and in one text one after another where they are several. */
function saying({ asked, instead }: Heard, library: number): Sql | null {
  if (instead)
    return instead.length
      ? sql(
          `SELECT w.picture_id AS id FROM picture_words w WHERE w.library_id = ? AND w.word IN (${marks(instead.length)})`,
          library,
          ...instead,
        )
      : null;
  if (asked.length === 0) return null;
  // The longest word is in the fewest pictures; only the last one may be no more than begun.
  const at = asked.reduce((best, word, i) => (word.length >= asked[best]!.length ? i : best), 0);
  const begun = at === asked.length - 1 && !isWhole(asked);
  const word = begun ? sql("w.word LIKE ? ESCAPE '='", `${literally(asked[at]!)}%`) : sql('w.word = ?', asked[at]!);
  if (asked.length === 1)
    return sql(
      `SELECT w.picture_id AS id FROM picture_words w WHERE w.library_id = ? AND ${word.sql}`,
      library,
      ...word.values,
    );
  return sql(
    `SELECT w.picture_id AS id FROM picture_words w JOIN pictures q ON q.id = w.picture_id
      WHERE w.library_id = ? AND ${word.sql} AND q.words LIKE ? ESCAPE '='`,
    library,
    ...word.values,
    `% ${literally(asked.join(' '))}${isWhole(asked) ? ' ' : ''}%`,
  );
}

/** The ways in which a text finds pictures, each by an index of its own: statements that answer their numbers. */
export function waysOf(heard: Heard, library: number): Sql[] {
  const ways: Sql[] = [];
  const own = saying(heard, library);
  if (own) ways.push(own);
  const by = (ids: ReadonlySet<number>, text: (marks: string) => string) => {
    if (ids.size) ways.push(sql(text(marks(ids.size)), library, ...ids));
  };
  by(heard.tags, (m) => `SELECT t.picture_id AS id FROM picture_tags t WHERE t.library_id = ? AND t.tag_id IN (${m})`);
  by(heard.people, (m) => `SELECT f.picture_id AS id FROM faces f WHERE f.library_id = ? AND f.person_id IN (${m})`);
  by(
    heard.albums,
    (m) =>
      `SELECT a.picture_id AS id FROM album_pictures a JOIN albums b ON b.id = a.album_id AND b.removed_at IS NULL WHERE a.library_id = ? AND a.album_id IN (${m})`,
  );
  const of = (column: string) => (m: string) =>
    `SELECT q.id FROM pictures q WHERE q.library_id = ? AND q.${column} IN (${m})`;
  by(heard.events, of('event_id'));
  by(heard.folders, of('folder_id'));
  by(heard.ownPlaces, of('own_place_id'));
  for (const at of heard.places)
    ways.push(
      'region' in at
        ? sql(
            'SELECT q.id FROM pictures q WHERE q.library_id = ? AND q.country = ? AND q.region = ?',
            library,
            at.country,
            at.region,
          )
        : 'place' in at
          ? sql(
              'SELECT q.id FROM pictures q WHERE q.library_id = ? AND q.country = ? AND q.place = ?',
              library,
              at.country,
              at.place,
            )
          : sql('SELECT q.id FROM pictures q WHERE q.library_id = ? AND q.country = ?', library, at.country),
    );
  return ways;
}

/** Pictures that are found by a text in any of its ways. */
function found(heard: Heard, library: number): Sql {
  const ways = waysOf(heard, library);
  if (ways.length === 0) return sql('1=0');
  return {
    sql: `p.id IN (SELECT found.id FROM (${ways.map((way) => way.sql).join(' UNION ')}) AS found)`,
    values: ways.flatMap((way) => way.values),
  };
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
  if ('mark' in c) return sql('p.mark_id = ?', c.mark);
  if ('observed' in c)
    return sql(
      'p.id IN (SELECT o.picture_id FROM picture_observations o WHERE o.library_id = ? AND o.kind = ?)',
      library,
      c.observed,
    );
  if ('camera' in c) return sql('p.camera = ?', c.camera);
  if ('lens' in c) return sql('p.lens = ?', c.lens);
  if ('format' in c) return sql('p.format = ?', c.format);
  if ('shape' in c) return sql(SHAPE[c.shape]);
  if ('size' in c)
    return join(
      [
        ...(c.size.min === undefined ? [] : [sql('p.width * p.height >= ?', Math.round(c.size.min * 1e6))]),
        ...(c.size.max === undefined ? [] : [sql('p.width * p.height <= ?', Math.round(c.size.max * 1e6))]),
      ],
      'AND',
    );
  if ('near' in c) {
    const [from, to] = around(c.near.at, c.near.minutes);
    // Moments are kept to a thousandth of a second, and compared by whole seconds.
    return sql('p.taken_exact IS NULL AND p.taken_local >= ? AND p.taken_local < ? + INTERVAL 1 SECOND', from, to);
  }
  if ('like' in c) {
    const alike = [...(world.alike?.get(c.like) ?? [c.like])];
    return alike.length ? sql(`p.id IN (${marks(alike.length)})`, ...alike) : sql('1=0');
  }
  if ('saidBy' in c) return sql(`p.id IN (${SAID} AND a.member_id = ?)`, library, c.saidBy);
  if ('changed' in c)
    return sql(
      `p.id IN (${SAID} AND a.member_id IS NOT NULL AND a.at >= ?)`,
      library,
      daysBefore(world.today, c.changed.lastDays - 1),
    );
  if ('text' in c) return found(world.heard?.get(c.text) ?? unheard(c.text), library);
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
