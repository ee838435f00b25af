import { type ActKind, ACTS, type ActWords } from '@gemmel/contract';
import { LANGUAGES, regionOf, type Language } from '@gemmel/core';
import { i18n, type Messages } from '@lingui/core';
import fc from 'fast-check';
import { messages as de } from '@/words/de/messages.po';
import { messages as en } from '@/words/en/messages.po';
import { messages as sv } from '@/words/sv/messages.po';
import { actWords } from './actWords';

const say = (kind: ActKind, words: ActWords = {}, pictures = 1) => actWords({ kind, words, pictures });

describe('what was done, in words', () => {
  test.each<[string, ActKind, ActWords, number]>([
    ['Gave ★★★★ to 12 pictures', 'say', { rating: 4 }, 12],
    ['Removed the stars of 1 picture', 'say', { rating: 0 }, 1],
    ['Gave 2 pictures a heart', 'say', { favourite: true }, 2],
    [
      'Gave ★ to 1 picture · Changed title and caption of 1 picture',
      'say',
      { rating: 1, what: ['title', 'caption'] },
      1,
    ],
    ['Tagged 3 pictures “lake”', 'tag', { what: ['lake'] }, 3],
    ['Removed the tag “lake” from 3 pictures', 'untag', { what: ['lake'] }, 3],
    ['Dated 2 pictures “summer 1988”', 'date', { what: ['set'], to: 'summer 1988' }, 2],
    ['Corrected the dates of 5 pictures', 'date', { what: ['shift'] }, 5],
    ['Put 2 pictures at Visby', 'place', { to: 'Visby', what: ['hand'] }, 2],
    ['Removed the places of 2 pictures', 'place', { to: null, what: ['none'] }, 2],
    ['Named the event on 16 May 2026 “Kite day”', 'name event', { day: '2026-05-16', to: 'Kite day' }, 0],
    ['Removed the name of “Kite day”', 'name event', { name: 'Kite day', to: null }, 0],
    ['Took 3 pictures out of their event', 'move to event', { to: null, n: 3 }, 3],
    ['Named 2 faces Tove', 'answer faces', { to: 'Tove', n: 2 }, 2],
    ['Marked 1 face as a passer-by', 'answer faces', { what: ['passer-by'], n: 1 }, 1],
    ['Said 2 faces are somebody else', 'answer faces', { what: ['not them'], n: 2 }, 2],
    ['Renamed Tove to Tove Hallorin', 'change person', { name: 'Tove', to: 'Tove Hallorin', what: ['name'] }, 3],
    ['Made Tove a favourite', 'change person', { name: 'Tove', what: ['favourite'], favourite: true }, 0],
    ['Added 2 pictures to “Gotland”', 'fill album', { name: 'Gotland', n: 2 }, 2],
    ['Made 3 albums, one for each folder of “Boxes”', 'make albums', { name: 'Boxes', n: 3 }, 9],
    ['Corrected the clock of Camera in 28 pictures', 'mend clock', { name: 'Camera' }, 28],
    ['Gave 1 picture a heart · Changed mark of 1 picture', 'say', { favourite: true, what: ['mark'] }, 1],
    [
      'Marked 3 pictures “To print” · Changed title of 3 pictures',
      'say',
      { to: 'To print', what: ['title', 'mark'] },
      3,
    ],
    ['Described 2 pictures', 'say', {}, 2],
    ['Tagged 1 picture “lake” and “boat”', 'tag', { what: ['lake', 'boat'] }, 1],
    ['Moved the tag “pike” below “fish”', 'change tag', { name: 'pike', to: 'fish', what: ['parent'] }, 0],
    ['Moved the tag “pike” to the top', 'change tag', { name: 'pike', to: null, what: ['parent'] }, 0],
    ['Renamed the tag “pike” to “pikes”', 'change tag', { name: 'pike', to: 'pikes', what: ['name'] }, 0],
    ['Changed the spellings of “pike”', 'change tag', { name: 'pike', what: ['spellings'] }, 0],
    ['Joined “A” with the event on 2 May 2026', 'join events', { name: 'A', toDay: '2026-05-02' }, 4],
    ['Moved 1 picture to the event on 2 May 2026', 'move to event', { toDay: '2026-05-02', n: 1 }, 1],
    ['Split an event: 2 pictures became their own event', 'split event', { n: 2 }, 2],
    ['Made an event of 4 pictures', 'make event', {}, 4],
    ['Changed “Kite day”: days and cover', 'change event', { name: 'Kite day', what: ['span', 'cover'] }, 0],
    ['Put 1 face off until later', 'answer faces', { what: ['later'], n: 1 }, 0],
    ['Said 2 marks aren’t faces', 'answer faces', { what: ['not a face'], n: 2 }, 0],
    ['Marked a face', 'draw face', {}, 1],
    ['Chose a portrait of Tove', 'change person', { name: 'Tove', what: ['portrait'] }, 0],
    ['Changed the details of Tove', 'change person', { name: 'Tove', what: ['born', 'portrait'] }, 0],
    ['Removed Tove from the favourites', 'change person', { name: 'Tove', what: ['favourite'], favourite: false }, 0],
    ['Froze “Lakes” as the album “Lakes 2026”', 'make album', { name: 'Lakes 2026', to: 'Lakes', what: ['frozen'] }, 0],
    ['Made “B”, an album like “A”', 'make album', { name: 'B', to: 'A', what: ['copy'] }, 0],
    ['Made the smart album “B”', 'make album', { name: 'B', what: ['smart'] }, 0],
    ['Put “Lakes” on no shelf', 'put on shelf', { name: 'Lakes', to: null }, 0],
    ['Removed the shelf “Old” with 2 albums', 'remove shelf', { name: 'Old', what: ['go'], n: 2 }, 0],
    ['Removed the shelf “Old”', 'remove shelf', { name: 'Old', what: ['stay'], n: 2 }, 0],
    ['Put The phone off', 'change source', { name: 'The phone', what: ['putOff'] }, 0],
    ['Removed The phone from the list', 'change source', { name: 'The phone', what: ['removed'] }, 0],
    ['No longer set who 2 pictures are for', 'say audience', { what: ['pictures'] }, 2],
    ['No longer set who Lakes is for', 'say audience', { name: 'Lakes', what: ['album'] }, 0],
    ['Left caption of 1 picture as it was', 'settle', { to: 'kept', what: ['caption'] }, 1],
    ['Took over title of 2 pictures from elsewhere', 'settle', { to: 'taken', what: ['title'] }, 2],
    ['Named 3 faces automatically · Left 1 face to be named by hand', 'file', { n: 3, less: 1 }, 0],
    ['Kept 1 shot of a run, moved 4 to the bin', 'choose', { n: 1, less: 4 }, 5],
    ['Kept all 3 shots of a run', 'choose', { n: 3 }, 3],
    ['Kept one of two doubles and moved the other to the bin', 'merge doubles', { n: 1 }, 2],
    ['Cut 1 print out of a scan', 'take apart', { n: 1 }, 1],
    ['Showed 1 picture as it was taken', 'touch up', { what: [] }, 1],
    ['Set every earlier look to be kept', 'looks kept', { n: 0 }, 0],
    ['Set the bin to keep everything until it is emptied', 'bin days', { n: 0 }, 0],
    ['Removed 2 pictures for good: 3.1\u00a0MB freed', 'empty bin', { n: 2, bytes: 3_100_000 }, 2],
    ['Took the address for guests away', 'address', { to: null }, 0],
    ['Stopped recognising Tove', 'recognise person', { name: 'Tove', favourite: false }, 0],
    ['No longer shown on its day in other years: Kite day', 'not again', { name: 'Kite day', what: ['events'] }, 0],
    ['A picture is no longer shown on its day in other years', 'not again', { what: ['pictures'] }, 1],
  ])('%s', (sentence, kind, words, pictures) => expect(say(kind, words, pictures)).toBe(sentence));

  test('every kind has a sentence, also when nothing more is known of it', () => {
    for (const kind of Object.keys(ACTS) as ActKind[]) {
      const sentence = say(kind, { name: 'x', to: 'y', n: 2, what: ['title'] }, 2);
      expect([kind, sentence]).toEqual([kind, expect.stringMatching(/^[A-Z].{8,}[^.]$/)]);
      expect(sentence).not.toMatch(/undefined|null|NaN/);
    }
  });

  describe('in each language', () => {
    const catalogues: Record<Language, Messages> = { en, de, sv };
    const speak = (language: Language) =>
      i18n.loadAndActivate({
        locale: language,
        locales: [regionOf(language, [])],
        messages: catalogues[language],
      });
    afterAll(() => i18n.loadAndActivate({ locale: 'en', locales: ['en-GB'], messages: {} }));

    const name = fc.constantFrom('Tove', 'Sommer am See', '{n}', '# 1', 'O’Malley', '<b>', '');
    const words = fc.record(
      {
        name,
        to: fc.option(name),
        day: fc.constant('2026-05-16'),
        toDay: fc.constant('2026-05-17'),
        n: fc.constantFrom(0, 1, 2, 1000),
        rating: fc.integer({ min: 0, max: 5 }),
        favourite: fc.boolean(),
        less: fc.constantFrom(0, 1, 3),
        bytes: fc.constantFrom(0, 1, 4_200_000_000),
        what: fc.subarray(['title', 'mark', 'parent', 'later', 'smart', 'none', 'pictures', 'household', 'removed']),
      },
      { requiredKeys: [] },
    );

    test('whatever is known of an act, its sentence is whole, and names stand in it as they were given', () => {
      for (const language of Object.keys(catalogues) as Language[]) {
        speak(language);
        fc.assert(
          fc.property(
            fc.constantFrom(...(Object.keys(ACTS) as ActKind[])),
            words,
            fc.constantFrom(0, 1, 2, 1234),
            (kind, said, pictures) => {
              const sentence = say(kind, said, pictures);
              expect(sentence).not.toMatch(/undefined|null|NaN|\[object/);
              // A machine that named nothing and gave nothing up has nothing to say.
              if (kind !== 'file' || said.n || said.less) expect(sentence).not.toBe('');
              // What names bring along is theirs; nothing of a sentence stays unfilled.
              const theirs = [said.name, said.to].some((one) => one && /[{#]/.test(one));
              if (!theirs) expect(sentence).not.toMatch(/[{}#]/);
            },
          ),
          { numRuns: 1500 },
        );
      }
    });

    test('every kind says something of its own in each, and one and many differ where they are counted', () => {
      const inEach = Object.fromEntries(
        (Object.keys(catalogues) as Language[]).map((language) => {
          speak(language);
          const of = (n: number) =>
            Object.fromEntries(
              (Object.keys(ACTS) as ActKind[]).map((kind) => [
                kind,
                say(kind, { name: 'x', to: 'y', n, what: ['title'], favourite: true }, n),
              ]),
            );
          return [language, { one: of(1), many: of(2) }];
        }),
      );
      expect(Object.keys(inEach).sort()).toEqual([...LANGUAGES].sort());
      const same: string[] = [];
      for (const kind of Object.keys(ACTS) as ActKind[]) {
        const [english, german, swedish] = [inEach['en']!, inEach['de']!, inEach['sv']!];
        if (new Set([english.many[kind], german.many[kind], swedish.many[kind]]).size < 3) same.push(kind);
        if (english.one[kind] !== english.many[kind])
          for (const other of [german, swedish]) expect([kind, other.one[kind]]).not.toEqual([kind, other.many[kind]]);
      }
      expect(same).toEqual([]);
    });
  });
});
