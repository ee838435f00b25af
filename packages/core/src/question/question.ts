import { z } from 'zod';
import { Observed } from '../observe/kinds';

/** A calendar day as `YYYY-MM-DD`. */
export const Day = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, 'a day is written YYYY-MM-DD');
export type Day = z.infer<typeof Day>;

const Id = z.number().int().positive();

/**
 * When a picture was taken: fixed days (both ends belong to it), the last n days, a month of any year, or only those of
 * which no more is known than the year or the month ("this level only").
 */
export const Span = z.union([
  z.strictObject({ from: Day.optional(), to: Day.optional() }).refine((s) => s.from || s.to, 'a span needs an end'),
  z.strictObject({ lastDays: z.number().int().min(1).max(36_600) }),
  z.strictObject({ month: z.number().int().min(1).max(12), day: z.number().int().min(1).max(31).optional() }),
  z.strictObject({ only: z.string().regex(/^\d{4}(-(0[1-9]|1[0-2]))?$/, 'a year or a month') }),
]);
export type Span = z.infer<typeof Span>;

/**
 * What a picture may have or lack. `names` is about its faces: lacking names means at least one waits
 * for its name. `double` is an earlier picture that nearly shows the same.
 */
export const Thing = z.enum([
  'place',
  'date',
  'day',
  'title',
  'caption',
  'comment',
  'names',
  'tags',
  'mark',
  'event',
  'double',
]);
export type Thing = z.infer<typeof Thing>;

const Lat = z.number().min(-90).max(90);
const Lon = z.number().min(-180).max(180);

/**
 * Where a picture was taken: by the names of places, in a place of the household's own with its number, in a box (west,
 * south, east, north in degrees; one over the date line has its west east of its east), or within some kilometres.
 */
export const Where = z.union([
  z.strictObject({
    country: z.string().regex(/^[A-Z]{2}$/),
    region: z.string().max(120).optional(),
    place: z.string().max(120).optional(),
  }),
  z.strictObject({ own: Id }),
  z.strictObject({ box: z.tuple([Lon, Lat, Lon, Lat]) }),
  z.strictObject({ circle: z.strictObject({ lat: Lat, lon: Lon, km: z.number().min(0.01).max(20_000) }) }),
]);
export type Where = z.infer<typeof Where>;

/**
 * The shape of a picture as it is shown: one side more than 2.2 times the other is a panorama, sides within 3 per cent of each
 * other are a square.
 */
export const Shape = z.enum(['landscape', 'portrait', 'square', 'panorama']);
export type Shape = z.infer<typeof Shape>;

const Megapixels = z.number().min(0).max(10_000);
/** Sizes that pictures are told apart by, in millions of pixels: a small screen's, a phone's of then and of now, and beyond. */
export const SIZES = [{ max: 2 }, { min: 2, max: 8 }, { min: 8, max: 24 }, { min: 24 }] as const;

const Moment = z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d$/, 'a moment is written YYYY-MM-DDTHH:MM:SS');
const LastDays = z.strictObject({ lastDays: z.number().int().min(1).max(36_600) });

/**
 * One condition. Of `who`, `all` means that all of these are there, `any` at least one, `among` at least one and nobody but
 * these, `only` all of these and nobody else; passers-by are nobody.
 */
export const Condition = z.union([
  z.strictObject({
    who: z.strictObject({ people: z.array(Id).min(1).max(100), mode: z.enum(['all', 'any', 'among', 'only']) }),
  }),
  z.strictObject({ faces: z.strictObject({ min: z.number().int().min(1).max(500) }) }),
  z.strictObject({ tag: Id }),
  z.strictObject({ taken: Span }),
  z.strictObject({ where: Where }),
  z.strictObject({ folder: z.strictObject({ id: Id, only: z.boolean().optional() }) }),
  z.strictObject({ event: Id }),
  z.strictObject({ album: Id }),
  z.strictObject({ batch: Id }),
  z.strictObject({ device: Id }),
  z.strictObject({ added: LastDays }),
  z.strictObject({ kind: z.enum(['photo', 'video']) }),
  z.strictObject({
    rating: z
      .strictObject({ min: z.number().int().min(0).max(5).optional(), max: z.number().int().min(0).max(5).optional() })
      .refine((r) => r.min !== undefined || r.max !== undefined, 'a rating needs an end'),
  }),
  z.strictObject({ favourite: z.boolean() }),
  z.strictObject({ mark: Id }),
  z.strictObject({ observed: Observed }),
  z.strictObject({ camera: z.string().min(1).max(200) }),
  z.strictObject({ lens: z.string().min(1).max(200) }),
  z.strictObject({ format: z.string().regex(/^[a-z0-9]{1,16}$/) }),
  z.strictObject({ shape: Shape }),
  /** In millions of pixels. */
  z.strictObject({
    size: z
      .strictObject({ min: Megapixels.optional(), max: Megapixels.optional() })
      .refine((r) => r.min !== undefined || r.max !== undefined, 'a size needs an end'),
  }),
  /** Taken within some minutes of a time by the clock on the wall. */
  z.strictObject({ near: z.strictObject({ at: Moment, minutes: z.number().int().min(1).max(10_080) }) }),
  /** That look like a picture, itself among them. */
  z.strictObject({ like: Id }),
  /** Of which a member has said something, or done something with. */
  z.strictObject({ saidBy: Id }),
  /** Of which anybody has, lately. */
  z.strictObject({ changed: LastDays }),
  z.strictObject({ text: z.string().trim().min(1).max(200) }),
  z.strictObject({ inNoAlbum: z.literal(true) }),
  z.strictObject({ has: Thing }),
  z.strictObject({ lacks: Thing }),
]);
export type Condition = z.infer<typeof Condition>;

/** A question: conditions joined by all, any and not. `{all: []}` asks for every picture, `{any: []}` for none. */
export type Question = { all: Question[] } | { any: Question[] } | { not: Question } | Condition;

/** How deep and how wide a question may be, so that its SQL stays within what the database takes gladly. */
export const QUESTION_LIMITS = { depth: 8, nodes: 200 } as const;

const Tree: z.ZodType<Question> = z.lazy(() =>
  z.union([
    z.strictObject({ all: z.array(Tree).max(QUESTION_LIMITS.nodes) }),
    z.strictObject({ any: z.array(Tree).max(QUESTION_LIMITS.nodes) }),
    z.strictObject({ not: Tree }),
    Condition,
  ]),
);

function depthOf(value: unknown): number {
  if (typeof value !== 'object' || value === null) return 0;
  let deepest = 0;
  const waiting: [object, number][] = [[value, 1]];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [node, depth] = next;
    if (depth > deepest) deepest = depth;
    if (depth > 64) return depth;
    for (const child of Object.values(node)) if (typeof child === 'object' && child) waiting.push([child, depth + 1]);
  }
  return deepest;
}

/** Every node of a question, the question itself first. */
export function* nodes(question: Question): Generator<Question> {
  yield question;
  if ('all' in question) for (const child of question.all) yield* nodes(child);
  else if ('any' in question) for (const child of question.any) yield* nodes(child);
  else if ('not' in question) yield* nodes(question.not);
}

/** The schema of a question that comes from outside: strict, and bounded in depth and size before it is walked. */
export const Question: z.ZodType<Question> = z
  .unknown()
  .refine((value) => depthOf(value) <= 2 * QUESTION_LIMITS.depth + 4, 'this question is nested too deeply')
  .pipe(Tree)
  .refine((question) => [...nodes(question)].length <= QUESTION_LIMITS.nodes, 'this question has too many parts')
  .meta({ id: 'Question', description: 'A question about pictures; see docs/questions.md' });

/** A question as it is stored, with the version of the language it was written in. */
export const SavedQuestion = z.strictObject({ v: z.literal(1), question: Question });
export type SavedQuestion = z.infer<typeof SavedQuestion>;

/** The question that asks for every picture. */
export const EVERYTHING: Question = { all: [] };

/** Whether a question, as {@link normalise} leaves it, asks for every picture. */
export const isEverything = (question: Question): boolean => 'all' in question && question.all.length === 0;
