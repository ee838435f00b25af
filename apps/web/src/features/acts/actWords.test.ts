import { ACTS, type ActKind, type ActWords } from '@gemmel/contract';
import { actWords } from './actWords';

const say = (kind: ActKind, words: ActWords = {}, pictures = 1) => actWords({ kind, words, pictures });

describe('what was done, in words', () => {
  test.each<[string, ActKind, ActWords, number]>([
    ['gave 4 stars to 12 pictures', 'say', { rating: 4 }, 12],
    ['took the stars off 1 picture', 'say', { rating: 0 }, 1],
    ['gave 2 pictures a heart', 'say', { favourite: true }, 2],
    [
      'gave 1 star to 1 picture and changed the title and caption of 1 picture',
      'say',
      { rating: 1, what: ['title', 'caption'] },
      1,
    ],
    ['tagged 3 pictures “lake”', 'tag', { what: ['lake'] }, 3],
    ['took the tag “lake” off 3 pictures', 'untag', { what: ['lake'] }, 3],
    ['dated 2 pictures “summer 1988”', 'date', { what: ['set'], to: 'summer 1988' }, 2],
    ['mended the dates of 5 pictures', 'date', { what: ['shift'] }, 5],
    ['put 2 pictures in Visby', 'place', { to: 'Visby', what: ['hand'] }, 2],
    ['took the place off 2 pictures', 'place', { to: null, what: ['none'] }, 2],
    ['called the event of 16 May 2026 “Kite day”', 'name event', { name: '2026-05-16', to: 'Kite day' }, 0],
    ['took the name off “Kite day”', 'name event', { name: 'Kite day', to: null }, 0],
    ['took 3 pictures out of their event', 'move to event', { to: null, n: 3 }, 3],
    ['filed 2 faces under Tove', 'answer faces', { to: 'Tove', n: 2 }, 2],
    ['left 1 face as a passer-by', 'answer faces', { to: 'passer-by', n: 1 }, 1],
    ['said that 2 faces are somebody else', 'answer faces', { to: 'not them', n: 2 }, 2],
    ['renamed Tove to Tove Hallorin', 'change person', { name: 'Tove', to: 'Tove Hallorin', what: ['name'] }, 3],
    ['made Tove a favourite', 'change person', { name: 'Tove', what: ['favourite'], favourite: true }, 0],
    ['put 2 pictures into “Gotland”', 'fill album', { name: 'Gotland', n: 2 }, 2],
    ['made 3 albums, one for each folder of “Boxes”', 'make albums', { name: 'Boxes', n: 3 }, 9],
    ['put the clock of Camera right in 28 pictures', 'mend clock', { name: 'Camera' }, 28],
  ])('%s', (sentence, kind, words, pictures) => expect(say(kind, words, pictures)).toBe(sentence));

  test('every kind has a sentence, also when nothing more is known of it', () => {
    for (const kind of Object.keys(ACTS) as ActKind[]) {
      const sentence = say(kind, { name: 'x', to: 'y', n: 2, what: ['title'] }, 2);
      expect([kind, sentence]).toEqual([kind, expect.stringMatching(/^[a-z].{8,}[^.]$/)]);
      expect(sentence).not.toMatch(/undefined|null|NaN/);
    }
  });
});
