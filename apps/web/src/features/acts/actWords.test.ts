import { type ActKind, ACTS, type ActWords } from '@gemmel/contract';
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
  ])('%s', (sentence, kind, words, pictures) => expect(say(kind, words, pictures)).toBe(sentence));

  test('every kind has a sentence, also when nothing more is known of it', () => {
    for (const kind of Object.keys(ACTS) as ActKind[]) {
      const sentence = say(kind, { name: 'x', to: 'y', n: 2, what: ['title'] }, 2);
      expect([kind, sentence]).toEqual([kind, expect.stringMatching(/^[A-Z].{8,}[^.]$/)]);
      expect(sentence).not.toMatch(/undefined|null|NaN/);
    }
  });
});
