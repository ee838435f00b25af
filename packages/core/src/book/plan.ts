import type { Part } from '../show/pan';
import { arrangementsOf, ppiOf } from './arrange';
import { fullOnes, fullPage, paged, type BookPicture } from './flow';
import { areaOf, BLEED, GAP, isLeft, PAGES, spineOf, type PaperBox } from './paper';
import { slicedInto } from './slice';
import type { BookEdits, BookSettings } from './settings';
import { lineHeight, linesOf, type Measure, type TextRole } from './text';

/** A chapter: what it is called, when it was, what was written of it, and its pictures in order. */
export interface BookChapter {
  key: string;
  title: string | null;
  days: string | null;
  words: string | null;
  pictures: readonly BookPicture[];
  /** Whether it was a journey of which a map is drawn: how wide that is for its height. */
  map: number | null;
}

/** Somebody with a picture of each year. */
export interface BookPerson {
  id: number;
  name: string;
  years: readonly { label: string; picture: number; part: Part }[];
}

/** What a book is made of. */
export interface BookOf {
  title: string;
  subtitle: string | null;
  chapters: readonly BookChapter[];
  /** What stands below pictures. */
  captions: ReadonlyMap<number, string>;
  people: readonly BookPerson[];
  /** Who is in a picture, by names. */
  names: ReadonlyMap<number, readonly string[]>;
  /** Words of the book itself. */
  says: { people: string; index: string };
}

/** A picture on a page. What lies outside of the page is its bleed. */
export interface PlacedPicture {
  id: number;
  box: PaperBox;
  /** What of it is seen; null for all of it. */
  part: Part | null;
  /** Pixels to an inch of paper. */
  ppi: number;
  /** Whether it is an upright oval: somebody's likeness. */
  cameo: boolean;
}

/** Lines of text on a page, the first with its upper edge at `y`; every next one a line lower. */
export interface PlacedText {
  role: TextRole;
  x: number;
  y: number;
  w: number;
  align: 'left' | 'right' | 'center';
  lines: readonly string[];
}

/** A page of a book. */
export interface BookPage {
  number: number;
  kind: 'title' | 'pictures' | 'full' | 'people' | 'index' | 'blank';
  /** Which chapter it belongs to, and whether that begins here. */
  chapter: string | null;
  opens: boolean;
  pictures: readonly PlacedPicture[];
  texts: readonly PlacedText[];
  /** Where a map is drawn; null where none is. */
  map: PaperBox | null;
  /** Whether it stays as it is, which way of placing its pictures it shows, and how many there are. */
  kept: boolean;
  way: number;
  ways: number;
}

/** The cover as one sheet: back, spine and front, with its bleed outside of it. */
export interface BookCover {
  width: number;
  height: number;
  spine: number;
  picture: PlacedPicture | null;
  texts: readonly PlacedText[];
  /** What stands along the spine; null where that is too thin. */
  along: string | null;
}

export interface BookPlan {
  pages: readonly BookPage[];
  cover: BookCover;
}

/** The one picture that stands for a chapter's map. */
export const MAP = 0;
/** At most so many ways of placing a page's pictures are told apart. */
export const WAYS = 12;
const CAPTION_MOST = 3;
const CAPTION_ROOM = 1.2;
const WORDS_MOST = 9;
/** The least height that is worth being given to pictures below a chapter's title, in mm. */
const WORTH = 62;
/** A spine thinner than this bears no words, in mm. */
const SPINE_WORDS = 7;

/** A page that is being filled: which pictures, and how. */
interface Filled {
  pictures: readonly BookPicture[];
  full: boolean;
  way: number;
  kept: boolean;
}

const belowOf = (lines: number): number => (lines ? lines * lineHeight('caption') + CAPTION_ROOM : 0);

/** Lays out a book: chapters one after another, each picture once, people and an index at the end. The same book is always laid out the same. */
export function planBook(of: BookOf, settings: BookSettings, edits: BookEdits, measure: Measure): BookPlan {
  const { paper, fill } = settings;
  const { width, height } = PAGES[paper];
  const pages: BookPage[] = [];
  const number = () => pages.length + 1;
  const area = () => areaOf(paper, number());

  /** Text from a height on, and the height below it. */
  const text = (
    texts: PlacedText[],
    role: TextRole,
    said: string | null,
    at: Pick<PaperBox, 'x' | 'y' | 'w'>,
    { align = 'left', most = Infinity, gap = 0 }: { align?: PlacedText['align']; most?: number; gap?: number } = {},
  ): number => {
    if (!said) return at.y;
    const lines = linesOf(said, role, at.w, measure, most);
    texts.push({ role, ...at, align, lines });
    return at.y + lines.length * lineHeight(role) + gap;
  };

  /** The page's number, and what it is about, at its foot. */
  const foot = (about: string | null): PlacedText[] => {
    const n = number();
    const box = area();
    const y = box.y + box.h + (height - box.y - box.h) * 0.42;
    const outer = isLeft(n) ? 'left' : 'right';
    const said = linesOf([String(n), about].filter(Boolean).join('  ·  '), 'foot', box.w, measure, 1);
    const turned = outer === 'right' && about ? linesOf(`${about}  ·  ${n}`, 'foot', box.w, measure, 1) : said;
    return [{ role: 'foot', x: box.x, y, w: box.w, align: outer, lines: turned }];
  };

  const push = (page: Omit<BookPage, 'number'>): void => void pages.push({ number: number(), ...page });
  const plain = {
    chapter: null,
    opens: false,
    pictures: [],
    texts: [],
    map: null,
    kept: false,
    way: 0,
    ways: 1,
  } as const;

  // What stands below pictures has room before it is known how wide they are.
  const guess = areaOf(paper, 1).w * 0.45;
  const roomed = (picture: BookPicture): BookPicture => {
    const said = of.captions.get(picture.id);
    return said
      ? { ...picture, below: belowOf(linesOf(said, 'caption', guess, measure, CAPTION_MOST).length) }
      : picture;
  };

  /** Pictures placed with what stands below them, which is broken into lines once it is known how wide they are. */
  const place = (
    room: PaperBox,
    filled: Filled,
  ): Pick<BookPage, 'pictures' | 'texts' | 'map' | 'way' | 'ways'> | null => {
    const found = arrangementsOf(room, filled.pictures, WAYS);
    if (!found.length) return null;
    const way = filled.way % found.length;
    const { slice } = found[way]!;
    let { boxes } = found[way]!;
    let below = filled.pictures.map((picture) => picture.below);
    for (let turn = 0; turn < 3; turn++) {
      const next = filled.pictures.map(({ id }, i) => {
        const said = of.captions.get(id);
        return said ? belowOf(linesOf(said, 'caption', boxes[i]!.w, measure, CAPTION_MOST).length) : 0;
      });
      if (next.every((one, i) => one === below[i])) break;
      // Room once given stays given: else lines would come and go for ever.
      below = turn ? next.map((one, i) => Math.max(one, below[i]!)) : next;
      boxes =
        slicedInto(
          room,
          slice,
          filled.pictures.map(({ ratio }, i) => ({ ratio, below: below[i]! })),
          GAP,
        ) ?? boxes;
    }
    const pictures: PlacedPicture[] = [];
    const texts: PlacedText[] = [];
    let map: PaperBox | null = null;
    for (const [i, picture] of filled.pictures.entries()) {
      const box = boxes[i]!;
      if (picture.id === MAP) {
        map = box;
        continue;
      }
      pictures.push({ id: picture.id, box, part: null, ppi: ppiOf(picture.pixels, box.w), cameo: false });
      const most = Math.round((below[i]! - CAPTION_ROOM) / lineHeight('caption'));
      if (most > 0)
        text(
          texts,
          'caption',
          of.captions.get(picture.id) ?? null,
          { x: box.x, y: box.y + box.h + CAPTION_ROOM, w: box.w },
          { most },
        );
    }
    return { pictures, texts, map, way, ways: found.length };
  };

  push({ ...plain, kind: 'title', texts: titleOf() });
  function titleOf(): PlacedText[] {
    const texts: PlacedText[] = [];
    const box = area();
    const y = text(
      texts,
      'book',
      of.title,
      { x: box.x, y: height * 0.36, w: box.w },
      { align: 'center', most: 4, gap: 4 },
    );
    text(texts, 'under', of.subtitle, { x: box.x, y, w: box.w }, { align: 'center', most: 3 });
    return texts;
  }

  const everywhere = new Map(
    of.chapters.flatMap(({ pictures }) => pictures.map((one) => [one.id, roomed(one)] as const)),
  );
  // Each picture stays on the first page it was kept on.
  const stays = new Set<number>();
  const keptPages = edits.kept.flatMap(({ ids, way, full }) => {
    const mine = ids.filter((id) => everywhere.has(id) && !stays.has(id));
    for (const id of mine) stays.add(id);
    const pictures = mine.map((id) => everywhere.get(id)!);
    return pictures.length ? [{ pictures, way, full: full && pictures.length === 1, kept: true }] : [];
  });

  for (const chapter of of.chapters) {
    const at = new Map(chapter.pictures.map(({ id }, i) => [id, i]));
    const mine = keptPages
      .filter(({ pictures }) => at.has(pictures[0]!.id))
      .map((page) => ({ page, at: at.get(page.pictures[0]!.id)! }))
      .sort((a, b) => a.at - b.at);
    const free = chapter.pictures.filter(({ id }) => !stays.has(id)).map(({ id }) => everywhere.get(id)!);
    if (!mine.length && !free.length) continue;
    // What stands above the first page's pictures.
    const opening: PlacedText[] = [];
    const box = area();
    let below = box.y;
    if (chapter.title) {
      below = text(opening, 'chapter', chapter.title, { x: box.x, y: below, w: box.w }, { most: 3, gap: 1.5 });
      below = text(opening, 'days', chapter.days, { x: box.x, y: below, w: box.w }, { most: 2, gap: 2 });
      below = text(
        opening,
        'words',
        chapter.words,
        { x: box.x, y: below + (chapter.words ? 1 : 0), w: box.w * 0.86 },
        { most: WORDS_MOST, gap: 1 },
      );
      below += 3;
    }
    const rest = areaOf(paper, 2);
    const first: PaperBox = { ...rest, y: below, h: rest.y + rest.h - below };
    const opens = first.h >= WORTH;
    const map: BookPicture[] = chapter.map
      ? [
          {
            id: MAP,
            ratio: chapter.map,
            pixels: 10_000,
            rows: 10_000,
            good: 0.4,
            below: 0,
            faces: [],
            day: free[0]?.day ?? null,
          },
        ]
      : [];
    const filled: Filled[] = [];
    let from = 0;
    const flow = (to: number) => {
      if (to <= from) return;
      const some = [...(filled.length === 0 && from === 0 ? map : []), ...free.slice(from, to)];
      const areas = { first: filled.length === 0 && opens ? first : rest, rest };
      for (const page of paged(some, areas, fill, fullOnes(some, paper)))
        filled.push({ pictures: some.slice(page.from, page.to), full: page.full, way: 0, kept: false });
      from = to;
    };
    for (const { page, at: before } of mine) {
      const to = free.findIndex(({ id }) => at.get(id)! > before);
      flow(to < 0 ? free.length : to);
      filled.push(
        filled.length === 0 && map.length && !page.full && page.pictures.length < 9
          ? { ...page, pictures: [...map, ...page.pictures] }
          : page,
      );
    }
    flow(free.length);
    // A first page that is full, or has no room beside the words, comes after these.
    if (opening.length && (!opens || filled[0]!.full)) {
      const drawn = opens && map.length && !filled.some(({ pictures }) => pictures[0]!.id === MAP);
      const [box] = drawn ? slicedInto({ ...first, x: area().x }, 0, map, GAP)! : [null];
      push({
        ...plain,
        kind: 'pictures',
        chapter: chapter.key,
        opens: true,
        texts: [...opening, ...foot(null)],
        map: box!,
      });
    }
    for (const [i, page] of filled.entries()) {
      const about = chapter.title;
      const heads = i === 0 && opening.length > 0 && opens && !page.full;
      const mark = {
        ...plain,
        chapter: chapter.key,
        opens: i === 0 && (heads || !opening.length),
        kept: page.kept,
        way: page.way,
      };
      const only = page.pictures[0]!;
      const part = page.full ? fullPage(only, paper) : null;
      if (part) {
        const sheet: PaperBox = { x: -BLEED, y: -BLEED, w: width + 2 * BLEED, h: height + 2 * BLEED };
        push({
          ...mark,
          kind: 'full',
          pictures: [{ id: only.id, box: sheet, part, ppi: ppiOf(only.pixels * part.w, sheet.w), cameo: false }],
        });
        continue;
      }
      const all = area();
      const room = heads ? { ...first, x: all.x } : all;
      const placed = place(room, page);
      // More than a page can bear, kept by hand and with many words: each picture has a page of its own rather than none.
      if (!placed) {
        for (const picture of page.pictures) {
          const alone = place(area(), { ...page, pictures: [picture], way: 0 });
          if (alone) push({ ...mark, ...alone, kind: 'pictures', texts: [...alone.texts, ...foot(about)] });
        }
        continue;
      }
      push({
        ...mark,
        ...placed,
        kind: 'pictures',
        texts: [
          ...(heads ? opening.map((one) => ({ ...one, x: one.x - box.x + all.x })) : []),
          ...placed.texts,
          ...foot(about),
        ],
      });
    }
  }

  if (settings.people && of.people.length) peoplePages();
  function peoplePages(): void {
    const oval = { w: 26, h: 33 };
    const step = lineHeight('name') + 2 + oval.h + 1 + lineHeight('year') + 7;
    let waiting = [...of.people];
    for (let begun = true; waiting.length; begun = false) {
      const box = area();
      const texts: PlacedText[] = [];
      const pictures: PlacedPicture[] = [];
      let y = begun ? text(texts, 'heading', of.says.people, box, { most: 2, gap: 5 }) : box.y;
      const beside = Math.max(1, Math.floor((box.w + 5) / (oval.w + 5)));
      const rows = Math.max(1, Math.floor((box.y + box.h - y + 7) / step));
      const some = waiting.slice(0, rows);
      waiting = waiting.slice(rows);
      for (const person of some) {
        const top = text(texts, 'name', person.name, { x: box.x, y, w: box.w }, { most: 1, gap: 2 });
        for (const [i, { label, picture, part }] of evenly(person.years, beside).entries()) {
          const x = box.x + i * (oval.w + 5);
          const known = everywhere.get(picture);
          pictures.push({
            id: picture,
            box: { x, y: top, ...oval },
            part,
            ppi: known ? ppiOf(known.pixels * part.w, oval.w) : 300,
            cameo: true,
          });
          text(texts, 'year', label, { x, y: top + oval.h + 1, w: oval.w }, { align: 'center', most: 1 });
        }
        y += step;
      }
      push({ ...plain, kind: 'people', opens: begun, texts: [...texts, ...foot(null)], pictures });
    }
  }

  if (settings.index) indexPages();
  function indexPages(): void {
    const where = new Map<string, number[]>();
    for (const page of pages)
      if (page.kind === 'pictures' || page.kind === 'full')
        for (const name of new Set(page.pictures.flatMap(({ id }) => of.names.get(id) ?? [])))
          where.set(name, [...(where.get(name) ?? []), page.number]);
    let waiting = [...where].sort(([a], [b]) => a.localeCompare(b));
    for (let begun = true; waiting.length; begun = false) {
      const box = area();
      const texts: PlacedText[] = [];
      const top = begun ? text(texts, 'heading', of.says.index, box, { most: 2, gap: 5 }) : box.y;
      const column = (box.w - 8) / 2;
      for (let i = 0; i < 2 && waiting.length; i++) {
        let y = top;
        while (waiting.length) {
          const [name, numbers] = waiting[0]!;
          const lines = linesOf(`${name}  ${spans(numbers)}`, 'entry', column, measure, 4);
          if (y > top && y + lines.length * lineHeight('entry') > box.y + box.h) break;
          texts.push({ role: 'entry', x: box.x + i * (column + 8), y, w: column, align: 'left', lines });
          y += lines.length * lineHeight('entry');
          waiting = waiting.slice(1);
        }
      }
      push({ ...plain, kind: 'index', opens: begun, texts: [...texts, ...foot(null)] });
    }
  }
  // Leaves have two sides, and printing shops fold them in twos.
  while (pages.length % 4 !== 0) push({ ...plain, kind: 'blank' });
  return { pages, cover: coverOf() };

  function coverOf(): BookCover {
    const spine = spineOf(pages.length);
    const texts: PlacedText[] = [];
    const front = width + spine;
    const edge = Math.round(width * 0.1);
    const wished = edits.cover === null ? undefined : everywhere.get(edits.cover);
    const best = wished ?? [...everywhere.values()].sort((a, b) => b.good - a.good || a.id - b.id)[0];
    const y = text(texts, 'book', of.title, { x: front + edge, y: edge, w: width - 2 * edge }, { most: 3, gap: 2 });
    const under = text(texts, 'under', of.subtitle, { x: front + edge, y, w: width - 2 * edge }, { most: 2, gap: 0 });
    let picture: PlacedPicture | null = null;
    if (best) {
      const room: PaperBox = { x: front + edge, y: under + 6, w: width - 2 * edge, h: height - under - 6 - edge };
      const w = Math.min(room.w, room.h * best.ratio);
      const h = w / best.ratio;
      const box: PaperBox = { x: room.x + (room.w - w) / 2, y: room.y + (room.h - h) / 2, w, h };
      picture = { id: best.id, box, part: null, ppi: ppiOf(best.pixels, w), cameo: false };
    }
    return { width: 2 * width + spine, height, spine, picture, texts, along: spine >= SPINE_WORDS ? of.title : null };
  }
}

/** At most so many of a list, spread over it, with its first and its last. */
function evenly<T>(list: readonly T[], most: number): readonly T[] {
  if (list.length <= most) return list;
  if (most === 1) return list.slice(-1);
  return Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]!);
}

/** Numbers of pages, those that follow each other as a span. */
export function spans(numbers: readonly number[]): string {
  const out: string[] = [];
  for (let i = 0; i < numbers.length;) {
    let j = i;
    while (numbers[j + 1] === numbers[j]! + 1) j++;
    out.push(j > i + 1 ? `${numbers[i]}–${numbers[j]}` : numbers.slice(i, j + 1).join(', '));
    i = j + 1;
  }
  return out.join(', ');
}
