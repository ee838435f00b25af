import { EN } from '../words/en';
import { DE } from '../words/de';
import { SV } from '../words/sv';
import { eventNames, type EventFacts } from './names';

const facts = (more: Partial<EventFacts>): EventFacts => ({
  pictures: 30,
  from: '2026-07-04',
  to: '2026-07-04',
  places: [],
  away: false,
  holiday: null,
  tags: [],
  people: [],
  ...more,
});

describe('names for an event', () => {
  it('come from place and circle', () => {
    const people = [
      { name: 'Tove', circle: 'Children', pictures: 20 },
      { name: 'Noor', circle: 'Children', pictures: 14 },
      { name: 'Gran', circle: 'Grandparents', pictures: 2 },
    ];
    const places = [{ name: 'Lake Fysingen', pictures: 25, own: true }];
    expect(eventNames(facts({ people, places }), EN)[0]).toBe('Lake Fysingen with the children');
  });
  it('come from a holiday, a tag and the length of a journey', () => {
    const porto = { places: [{ name: 'Porto', pictures: 25, own: false }], away: true };
    expect(eventNames(facts({ ...porto, holiday: 'Midsummer' }), EN)[0]).toBe('Midsummer in Porto');
    expect(eventNames(facts({ ...porto, to: '2026-07-10' }), EN)).toEqual(['A week in Porto', 'Porto']);
    expect(eventNames(facts({ tags: [{ name: 'kites', pictures: 12 }] }), EN)).toEqual(['Kites']);
    expect(eventNames(facts({ tags: [{ name: 'kites', pictures: 5 }] }), EN)).toEqual([]);
  });
  it('are made in the language of the library', () => {
    const porto = { places: [{ name: 'Porto', pictures: 25, own: false }], away: true, to: '2026-07-10' };
    const tove = [{ name: 'Tove', circle: null, pictures: 20 }];
    expect(eventNames(facts({ ...porto, people: tove }), DE)).toEqual([
      'Eine Woche in Porto',
      'Porto mit Tove',
      'Porto',
    ]);
    expect(eventNames(facts({ ...porto, people: tove }), SV)).toEqual(['En vecka i Porto', 'Porto med Tove', 'Porto']);
  });
  it('name up to three people, and are never more than four', () => {
    const people = ['Tove', 'Noor', 'Edda', 'Ivar'].map((name) => ({ name, circle: null, pictures: 29 }));
    expect(eventNames(facts({ people: people.slice(0, 2) }), EN)).toEqual(['With Tove and Noor']);
    expect(eventNames(facts({ people }), EN)).toEqual([]);
    const all = facts({
      people: people.slice(0, 1),
      places: [{ name: 'Visby', pictures: 30, own: false }],
      away: true,
      to: '2026-07-09',
      holiday: 'Midsummer',
      tags: [{ name: 'sea', pictures: 30 }],
    });
    expect(eventNames(all, EN)).toHaveLength(4);
  });
});
