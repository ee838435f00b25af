import { times } from '../long.testing';
import fc from 'fast-check';
import { NOTICED } from '../observe/kinds';
import { ALL_WORDS, WORDS } from '../words/all';
import { EN } from '../words/en';
import type { PictureFacts, World } from './facts';
import { daysBefore, matches } from './matches';
import { allBelow } from './tree';
import { narrow, normalise, topParts, widen } from './normalise';
import { complete } from './complete';
import { parse } from './parse';
import { typedOf } from './typedOf';
import type { Vocabulary } from './vocabulary';
import { EVERYTHING, nodes, Question, SavedQuestion } from './question';
import { list, saySpan, toSentence, type Names } from './sentence';
import { monthSpan } from './typed';

const names: Names = {
  person: (id) => ['', 'Tove', 'Emil', 'Gran'][id] ?? 'somebody',
  tag: (id) => ['', 'kites', 'lake'][id] ?? 'a tag',
  event: () => 'Kite day',
  album: () => 'For Gran',
  batch: () => 'Ilse’s phone',
  device: () => 'the good camera',
  folder: () => 'Grandpa’s disk',
  ownPlace: () => 'the allotment',
  mark: () => 'to print',
  member: () => 'Ilse',
};
const words: Vocabulary = {
  people: [
    { id: 1, name: 'Tove Hallorin' },
    { id: 1, name: 'Tove' },
    { id: 2, name: 'Emil Hallorin' },
    { id: 2, name: 'Emil' },
    { id: 3, name: 'Agathe Wend' },
    { id: 3, name: 'Gran' },
  ],
  tags: [
    { id: 1, name: 'kites' },
    { id: 2, name: 'kite building' },
  ],
  own: [{ id: 5, name: 'the allotment' }],
  places: [
    { country: 'SE', place: 'Gamla Stan', name: 'Gamla Stan' },
    { country: 'SE', name: 'Sweden' },
  ],
  events: [
    { id: 4, name: 'Kite day' },
    { id: 6, name: 'Lantern parade' },
  ],
  albums: [{ id: 2, name: 'For Gran' }],
  marks: [{ id: 1, name: 'to print' }],
  observed: ['blurred'],
};
const world: World = {
  today: '2026-11-24',
  tagParent: new Map([
    [1, null],
    [2, 1],
    [3, 2],
  ]),
  folderParent: new Map([
    [7, null],
    [8, 7],
  ]),
};
const picture = (more: Partial<PictureFacts> = {}): PictureFacts => ({
  id: 1,
  kind: 'photo',
  day: '2026-05-16',
  span: null,
  rating: 3,
  favourite: false,
  people: [1, 2],
  faces: 2,
  unnamed: 0,
  tags: [2],
  event: 4,
  albums: [],
  batch: 1,
  device: 1,
  added: '2026-11-20',
  hasDouble: false,
  country: 'SE',
  region: 'Visby',
  place: 'Visby',
  position: { lat: 57.64, lon: 18.29 },
  ownPlace: 5,
  folder: 8,
  title: null,
  caption: null,
  comments: 0,
  mark: null,
  observed: [],
  camera: null,
  lens: null,
  format: 'jpg',
  width: 4000,
  height: 3000,
  moment: '2026-05-16T14:07:00',
  saidBy: [],
  changed: null,
  words: ' kite day \n img 1 jpg ',
  ...more,
});

/** Names that are told apart, and conditions that speak of them. */
const all: Vocabulary = {
  people: [1, 2, 3].map((id) => ({ id, name: ['', 'Tove Hallorin', 'Emil Hallorin', 'Ruben'][id]! })),
  tags: [1, 2].map((id) => ({ id, name: ['', 'outdoors', 'lake'][id]! })),
  own: [{ id: 5, name: 'Kolonin' }],
  places: [{ country: 'SE', place: 'Visby', name: 'Visby' }],
  events: [{ id: 4, name: 'Kite day, on the heath' }],
  albums: [{ id: 2, name: 'Best of (2026)' }],
  marks: [{ id: 1, name: 'Print these' }],
  folders: [{ id: 7, name: 'DCIM 100' }],
  devices: [{ id: 1, name: 'Good camera' }],
  batches: [{ id: 9, name: 'Phone of Ilse' }],
  members: [{ id: 1, name: 'Ilse Hallorin' }],
  cameras: ['Lumiva X100'],
  lenses: ['Lumiva 35mm f/2'],
};
const named: Names = {
  person: (id) => all.people![id - 1]!.name,
  tag: (id) => all.tags![id - 1]!.name,
  event: () => all.events![0]!.name,
  album: () => all.albums![0]!.name,
  batch: () => all.batches![0]!.name,
  device: () => all.devices![0]!.name,
  folder: () => all.folders![0]!.name,
  ownPlace: () => 'Kolonin',
  mark: () => 'Print these',
  member: () => 'Ilse Hallorin',
};
const typable = fc.constantFrom<Question[]>(
  { who: { people: [1], mode: 'all' } },
  { who: { people: [1, 2], mode: 'any' } },
  { who: { people: [1, 3], mode: 'only' } },
  { who: { people: [2, 3], mode: 'among' } },
  { tag: 1 },
  { tag: 2 },
  { where: { own: 5 } },
  { where: { country: 'SE', place: 'Visby' } },
  { event: 4 },
  { album: 2 },
  { mark: 1 },
  { folder: { id: 7 } },
  { folder: { id: 7, only: true } },
  { device: 1 },
  { batch: 9 },
  { saidBy: 1 },
  { camera: 'Lumiva X100' },
  { lens: 'Lumiva 35mm f/2' },
  { text: 'broken kite' },
  { text: 'snow' },
  { taken: { from: '2026-05-16', to: '2026-05-16' } },
  { taken: { from: '2026-01-01', to: '2026-12-31' } },
  { taken: { lastDays: 7 } },
  { added: { lastDays: 7 } },
  { changed: { lastDays: 1 } },
  { changed: { lastDays: 30 } },
  { rating: { min: 3 } },
  { rating: { max: 0 } },
  { favourite: true },
  { kind: 'video' },
  { format: 'heic' },
  { size: { min: 12 } },
  { size: { min: 2, max: 4 } },
  { has: 'comment' },
  { lacks: 'mark' },
  { inNoAlbum: true },
  ...NOTICED.map((observed): Question => ({ observed })),
  { observed: 'dog' },
  { observed: 'teddy bear' },
  ...(['landscape', 'portrait', 'square', 'panorama'] as const).map((shape): Question => ({ shape })),
);

const condition = fc.oneof(
  fc.integer({ min: 0, max: 5 }).map((min) => ({ rating: { min } })),
  fc.boolean().map((favourite) => ({ favourite })),
  fc.constantFrom<Question>({ kind: 'photo' }, { tag: 1 }, { has: 'event' }, { lacks: 'caption' }, { inNoAlbum: true }),
  fc
    .tuple(
      fc.uniqueArray(fc.integer({ min: 1, max: 3 }), { minLength: 1, maxLength: 3 }),
      fc.constantFrom('all' as const, 'any' as const, 'among' as const, 'only' as const),
    )
    .map(([people, mode]) => ({ who: { people, mode } })),
) as fc.Arbitrary<Question>;
const question = fc.letrec<{ q: Question }>((tie) => ({
  q: fc.oneof(
    { depthSize: 'small' },
    condition,
    fc.array(tie('q'), { maxLength: 3 }).map((all) => ({ all })),
    fc.array(tie('q'), { maxLength: 3 }).map((any) => ({ any })),
    tie('q').map((not) => ({ not })),
  ),
})).q;
const facts = fc
  .record({
    rating: fc.integer({ min: 0, max: 5 }),
    favourite: fc.boolean(),
    people: fc.uniqueArray(fc.integer({ min: 1, max: 3 })),
    tags: fc.uniqueArray(fc.integer({ min: 1, max: 3 })),
    event: fc.option(fc.constant(4)),
    unnamed: fc.integer({ min: 0, max: 1 }),
  })
  .map(picture);

describe('normalise', () => {
  test('asks for the same pictures, and doing it twice changes nothing', () => {
    fc.assert(
      fc.property(question, facts, (q, p) => {
        const plain = normalise(q);
        expect(matches(plain, p, world)).toBe(matches(q, p, world));
        expect(normalise(plain)).toEqual(plain);
        expect(Question.safeParse(plain).success).toBe(true);
      }),
      { numRuns: times(400, 5000) },
    );
  });
  test('parts come and go at the top', () => {
    const q = narrow(narrow(EVERYTHING, { favourite: true }), { tag: 1 });
    expect(topParts(q)).toEqual([{ favourite: true }, { tag: 1 }]);
    expect(narrow(q, { tag: 1 })).toEqual(q);
    expect(widen(widen(q, 0), 0)).toEqual({ all: [] });
    expect([...nodes({ all: [{ not: { favourite: true } }, { any: [{ tag: 1 }] }] })]).toHaveLength(5);
  });
});

describe('matches', () => {
  test.each<[string, Question, boolean]>([
    ['a tag above asks for those below', { tag: 1 }, true],
    ['a tag below does not ask for those above', { tag: 3 }, false],
    ['only these two', { who: { people: [1, 2], mode: 'only' } }, true],
    ['only one of them', { who: { people: [1], mode: 'only' } }, false],
    ['nobody but these three', { who: { people: [1, 2, 3], mode: 'among' } }, true],
    ['nobody but one of them', { who: { people: [1], mode: 'among' } }, false],
    ['any', { who: { people: [1, 9], mode: 'any' } }, true],
    ['this month of any year', { taken: { month: 5 } }, true],
    ['this day of any year', { taken: { month: 5, day: 17 } }, false],
    ['both ends belong to a span', { taken: { from: '2026-05-16', to: '2026-05-16' } }, true],
    ['words without accents and case', { text: 'KÏTE day' }, true],
    ['words from title and file name do not run together', { text: 'day img' }, false],
    ['nothing at all', { any: [] }, false],
    ['everything', EVERYTHING, true],
  ])('%s', (_, q, expected) => expect(matches(q, picture(), world)).toBe(expected));

  test('somebody nameless is somebody else; a picture without a day is of no time', () => {
    expect(matches({ who: { people: [1, 2], mode: 'only' } }, picture({ unnamed: 1 }), world)).toBe(false);
    expect(matches({ taken: { from: '1900-01-01' } }, picture({ day: null }), world)).toBe(false);
    expect(matches({ not: { taken: { from: '1900-01-01' } } }, picture({ day: null }), world)).toBe(true);
  });
  test('the last seven days begin six days before today', () => {
    const on = (day: string) => matches({ taken: { lastDays: 7 } }, picture({ day }), world);
    expect([on('2026-11-17'), on('2026-11-18'), on('2026-11-24'), on('2026-11-25')]).toEqual([
      false,
      true,
      true,
      false,
    ]);
    expect(daysBefore('2024-03-01', 1)).toBe('2024-02-29');
  });
  test.each<[string, Question, boolean]>([
    ['the region it is in', { where: { country: 'SE', region: 'Visby' } }, true],
    ['another region', { where: { country: 'SE', region: 'Umeå' } }, false],
    ['a box around it', { where: { box: [18, 57, 19, 58] } }, true],
    ['a box beside it', { where: { box: [19, 57, 20, 58] } }, false],
    ['a box that goes round the world from the east', { where: { box: [170, 57, 19, 58] } }, true],
    ['five kilometres of it', { where: { circle: { lat: 57.6, lon: 18.29, km: 5 } } }, true],
    ['four kilometres of it', { where: { circle: { lat: 57.6, lon: 18.29, km: 4 } } }, false],
    ['the household’s own place', { where: { own: 5 } }, true],
    ['the folder above it', { folder: { id: 7 } }, true],
    ['the folder above it alone', { folder: { id: 7, only: true } }, false],
    ['its own folder alone', { folder: { id: 8, only: true } }, true],
  ])('lies in %s: %p', (_, q, is) => expect(matches(q, picture(), world)).toBe(is));
  test.each<[string, Question, boolean]>([
    ['its season', { taken: { from: '1988-06-01', to: '1988-08-31' } }, true],
    ['its year', { taken: { from: '1988-01-01', to: '1988-12-31' } }, true],
    ['a month in it', { taken: { from: '1988-07-01', to: '1988-07-31' } }, false],
    ['its middle day of any year', { taken: { month: 7, day: 16 } }, false],
    ['no more than the year', { taken: { only: '1988' } }, true],
    ['no more than another year', { taken: { only: '1989' } }, false],
    ['no more than the month', { taken: { only: '1988-07' } }, false],
  ])('a summer is found by %s: %p', (_, q, is) =>
    expect(
      matches(
        q,
        picture({ day: '1988-07-16', span: { exact: 'season', from: '1988-06-01', to: '1988-08-31' } }),
        world,
      ),
    ).toBe(is),
  );
  test('a loop in the tag tree ends', () =>
    expect(
      allBelow(
        1,
        new Map([
          [1, 2],
          [2, 1],
        ]),
      ),
    ).toEqual([1, 2]));
});

describe('sentences', () => {
  test.each<[Question, string]>([
    [
      {
        all: [
          { who: { people: [1], mode: 'all' } },
          { tag: 1 },
          { taken: { from: '2026-04-01', to: '2026-09-30' } },
          { rating: { min: 3 } },
        ],
      },
      'with Tove, tagged kites, taken from April to September 2026, rated 3 or better',
    ],
    [
      { any: [{ who: { people: [1, 2], mode: 'any' } }, { favourite: true }] },
      'either with Tove or Emil or with a heart',
    ],
    [{ not: { tag: 2 } }, 'not tagged lake'],
    [
      { all: [{ album: 1 }, { any: [{ kind: 'video' }, { kind: 'photo' }] }] },
      'in the album For Gran, (that are clips or that are photographs)',
    ],
    [{ lacks: 'names' }, 'with faces without a name'],
    [{ where: { country: 'SE' } }, 'near Sweden'],
    [{ taken: { lastDays: 7 } }, 'taken in the last 7 days'],
    [{ all: [] }, 'every picture'],
    [{ any: [] }, 'no picture'],
  ])('%j', (q, sentence) => expect(toSentence(q, names, EN)).toBe(sentence));

  test.each([
    ['2026-01-01', '2026-12-31', '2026'],
    ['2019-01-01', '2021-12-31', '2019 to 2021'],
    ['2024-02-01', '2024-02-29', 'February 2024'],
    ['2026-05-04', '2026-05-09', '4 to 9 May 2026'],
    ['2025-12-30', '2026-01-02', '30 December 2025 to 2 January 2026'],
    ['2026-05-16', '2026-05-16', '16 May 2026'],
  ])('%s to %s is said as %s', (from, to, said) => expect(saySpan(from, to, EN)).toBe(said));
  test('every question has a sentence', () => {
    fc.assert(
      fc.property(question, (q) => ALL_WORDS.forEach((words) => expect(toSentence(q, names, words)).toMatch(/\S/))),
    );
    expect(list(['a', 'b', 'c'], 'and')).toBe('a, b and c');
  });
});

describe('typed shorthand', () => {
  test.each<[string, Question]>([
    ['@Tove', { who: { people: [1], mode: 'all' } }],
    [
      '@tove hallorin 2026',
      { all: [{ who: { people: [1], mode: 'all' } }, { taken: { from: '2026-01-01', to: '2026-12-31' } }] },
    ],
    ['#kites 4+', { all: [{ tag: 1 }, { rating: { min: 4 } }] }],
    ['-#kites', { not: { tag: 1 } }],
    ['apr-sep 2026', { taken: { from: '2026-04-01', to: '2026-09-30' } }],
    ['nov-feb 2026', { taken: { from: '2025-11-01', to: '2026-02-28' } }],
    ['2019-2021', { taken: { from: '2019-01-01', to: '2021-12-31' } }],
    ['February 2024', { taken: { from: '2024-02-01', to: '2024-02-29' } }],
    ['may', { taken: { month: 5 } }],
    ['gamla stan', { where: { country: 'SE', place: 'Gamla Stan' } }],
    ['the allotment', { where: { own: 5 } }],
    ['-sweden', { not: { where: { country: 'SE' } } }],
    ['“big one” @gran', { all: [{ text: 'big one' }, { who: { people: [3], mode: 'all' } }] }],
    ['maybe', { text: 'maybe' }],
    ['', { all: [] }],
  ])('%s', (typed, q) => expect(parse(typed, words, EN).question).toEqual(q));

  test.each<[string, Question]>([
    ['Tove and Emil', { all: [{ who: { people: [1], mode: 'all' } }, { who: { people: [2], mode: 'all' } }] }],
    ['tove, emil', { all: [{ who: { people: [1], mode: 'all' } }, { who: { people: [2], mode: 'all' } }] }],
    ['agathe', { who: { people: [3], mode: 'all' } }],
    [
      'Tove without Emil',
      { all: [{ who: { people: [1], mode: 'all' } }, { not: { who: { people: [2], mode: 'all' } } }] },
    ],
    ['kites but not Sweden', { all: [{ tag: 1 }, { not: { where: { country: 'SE' } } }] }],
    ['with Tove at the allotment', { all: [{ who: { people: [1], mode: 'all' } }, { where: { own: 5 } }] }],
    ['Tove or Emil', { who: { people: [1, 2], mode: 'any' } }],
    ['3 stars', { rating: { min: 3 } }],
    [
      'kites 4 stars summer 2026',
      { all: [{ tag: 1 }, { rating: { min: 4 } }, { taken: { from: '2026-06-01', to: '2026-08-31' } }] },
    ],
    ['last week', { taken: { lastDays: 7 } }],
    ['yesterday', { taken: { from: '2026-11-23', to: '2026-11-23' } }],
    ['lantern', { text: 'lantern' }],
    ['lantern parade', { event: 6 }],
    ['birthday in the rain', { all: [{ text: 'birthday' }, { text: 'rain' }] }],
    ['not blurred', { not: { text: 'blurred' } }],
    ['marked to print', { mark: 1 }],
    ['to print', { mark: 1 }],
    ['in the album for gran', { album: 2 }],
    ['with nobody but Tove or Emil', { who: { people: [1, 2], mode: 'among' } }],
    ['with only Tove and Emil', { who: { people: [1, 2], mode: 'only' } }],
    ['-(tove, kites)', { not: { all: [{ who: { people: [1], mode: 'all' } }, { tag: 1 }] } }],
    ['the', { text: 'the' }],
  ])('as people say it: %s', (typed, q) =>
    expect(parse(typed, words, EN, '2026-11-24').question).toEqual(normalise(q)),
  );

  test('one first name of several people is any of them; their whole names tell them apart', () => {
    const two = {
      people: [
        { id: 1, name: 'Eva Lind' },
        { id: 2, name: 'Eva Berg' },
      ],
    };
    expect(parse('eva', two, EN).question).toEqual({ who: { people: [1, 2], mode: 'any' } });
    expect(parse('eva berg', two, EN).question).toEqual({ who: { people: [2], mode: 'all' } });
  });

  test('the last words are offered to be finished, by nickname, second name and several words', () => {
    const ends = (typed: string) => complete(parse(typed, words, EN).open, words, EN);
    expect(ends('2026 @gr').map((c) => c.label)).toEqual(['Gran']);
    expect(ends('wend').map((c) => c.label)).toEqual(['Agathe Wend', 'wend']);
    expect(ends('-#ki').map((c) => c.question)).toEqual([{ not: { tag: 1 } }, { not: { tag: 2 } }]);
    expect(ends('tove the allo')[0]).toMatchObject({
      label: 'the allotment',
      question: { all: [{ who: { people: [1], mode: 'all' } }, { where: { own: 5 } }] },
    });
    expect(ends('kite d').map((c) => [c.kind, c.label])[0]).toEqual(['event', 'Kite day']);
    expect(ends('tove without ag')[0]!.question).toEqual({
      all: [{ who: { people: [1], mode: 'all' } }, { not: { who: { people: [3], mode: 'all' } } }],
    });
    expect(ends('blu')[0]).toMatchObject({ kind: 'observed', part: { observed: 'blurred' } });
    expect(ends('@tove ')).toEqual([]);
  });

  test('a question as it can be typed asks the same', () => {
    const some = fc.letrec<{ q: Question }>((tie) => ({
      q: fc.oneof(
        { depthSize: 'small', maxDepth: 3 },
        { weight: 4, arbitrary: typable },
        { weight: 1, arbitrary: fc.array(tie('q'), { minLength: 1, maxLength: 3 }).map((all) => ({ all })) },
        { weight: 1, arbitrary: fc.array(tie('q'), { minLength: 1, maxLength: 3 }).map((any) => ({ any })) },
        { weight: 1, arbitrary: tie('q').map((not) => ({ not })) },
      ),
    })).q;
    for (const language of ALL_WORDS)
      fc.assert(
        fc.property(some, (drawn) => {
          const q = normalise(drawn);
          const typed = typedOf(q, named, language);
          if (typed !== null) expect([typed, parse(typed, all, language).question]).toEqual([typed, q]);
        }),
        { numRuns: times(400, 5000) },
      );
  });
  test('whatever is typed becomes a question', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (typed) =>
        expect(Question.safeParse(parse(typed, words, EN).question).success).toBe(true),
      ),
      { numRuns: times(200, 2000) },
    );
  });
  test('a stored question says its version', () => {
    expect(SavedQuestion.safeParse({ v: 1, question: EVERYTHING }).success).toBe(true);
    expect(SavedQuestion.safeParse({ v: 2, question: EVERYTHING }).success).toBe(false);
  });
});

describe('what is shown can be typed', () => {
  const year = fc.integer({ min: 1850, max: 2099 });
  const month = fc.integer({ min: 1, max: 12 });
  const day = fc.record({ y: year, m: month, d: fc.integer({ min: 1, max: 28 }) }).map(({ y, m, d }) => iso(y, m, d));
  const iso = (y: number, m: number, d: number) => `${y}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`;
  const THINGS = ['place', 'date', 'day', 'caption', 'names', 'tags', 'event', 'double'] as const;
  const stars = fc.integer({ min: 1, max: 5 });
  const simple: fc.Arbitrary<Question> = fc.oneof(
    fc.tuple(day, day).map(([a, b]): Question => ({ taken: a < b ? { from: a, to: b } : { from: b, to: a } })),
    day.map((from): Question => ({ taken: { from } })),
    day.map((to): Question => ({ taken: { to } })),
    fc.tuple(year, year).map(([a, b]): Question => ({ taken: monthSpan(Math.min(a, b), 1, Math.max(a, b), 12) })),
    fc
      .tuple(year, month, month)
      .map(([y, a, b]): Question => ({ taken: monthSpan(y, Math.min(a, b), y, Math.max(a, b)) })),
    fc.tuple(year, month, month).map(([y, a, b]): Question => ({ taken: monthSpan(y, a, y + 1, b) })),
    month.map((m): Question => ({ taken: { month: m } })),
    fc.tuple(month, fc.integer({ min: 1, max: 28 })).map(([m, d]): Question => ({ taken: { month: m, day: d } })),
    year.map((y): Question => ({ taken: { only: `${y}` } })),
    fc.tuple(year, month).map(([y, m]): Question => ({ taken: { only: iso(y, m, 1).slice(0, 7) } })),
    fc.integer({ min: 1, max: 400 }).map((lastDays): Question => ({ taken: { lastDays } })),
    fc.integer({ min: 1, max: 400 }).map((lastDays): Question => ({ added: { lastDays } })),
    fc.constantFrom<Question[]>({ kind: 'photo' }, { kind: 'video' }, { favourite: true }, { favourite: false }),
    fc.constant<Question>({ inNoAlbum: true }),
    fc.constantFrom(...THINGS).chain((thing) => fc.constantFrom<Question[]>({ has: thing }, { lacks: thing })),
    stars.map((min): Question => ({ rating: min === 5 ? { min } : { min } })),
    stars.filter((n) => n < 5).map((max): Question => ({ rating: { max } })),
    fc
      .tuple(stars, stars)
      .filter(([a, b]) => a < b && b < 5)
      .map(([min, max]): Question => ({ rating: { min, max } })),
  );
  const none = { people: [], tags: [], places: [] };
  test.each(ALL_WORDS.map((words) => [words.language, words] as const))('in %s, and English always', (_, words) => {
    fc.assert(
      fc.property(simple, (q) => {
        for (const said of [toSentence(q, names, words), toSentence(q, names, EN)])
          expect([said, parse(said, none, words).question]).toEqual([said, normalise(q)]);
      }),
      { numRuns: times(400, 5000) },
    );
  });
  test.each<[string, Question]>([
    ['16. Mai 2026', { taken: { from: '2026-05-16', to: '2026-05-16' } }],
    ['4. bis 9. mai 2026', { taken: { from: '2026-05-04', to: '2026-05-09' } }],
    ['sommer 1988', { taken: { from: '1988-06-01', to: '1988-08-31' } }],
    ['apr-sep 2026', { taken: { from: '2026-04-01', to: '2026-09-30' } }],
    ['märz', { taken: { month: 3 } }],
    ['der see', { text: 'see' }],
  ])('%s, typed in German', (typed, q) => expect(parse(typed, none, WORDS.de).question).toEqual(q));
});
