import { DE } from '../words/de';
import { EN } from '../words/en';
import { SV } from '../words/sv';
import { introduce } from './introduce';
import { sayFrom, sayReasons, type Reasons } from './reasons';

const none: Reasons = {
  support: 0,
  from: null,
  to: null,
  beside: null,
  minutes: null,
  sameClothes: false,
  there: false,
  otherAge: false,
  rival: null,
};
const today = '2026-05-20';

describe('why a face may be somebody', () => {
  test.each<[Partial<Reasons>, string]>([
    [{ support: 14, from: '2026-03-02', to: '2026-05-16' }, 'Like 14 named pictures from this spring'],
    [{ support: 1, from: '2024-07-01', to: '2024-07-01' }, 'Like one named picture from summer 2024'],
    [{ support: 3, from: '2019-07-01', to: '2026-05-16' }, 'Like 3 named pictures from 2019 to 2026'],
    [{ support: 2, minutes: 10 }, 'Like 2 named pictures; 10 minutes after a named one'],
    [{ support: 2, minutes: -1 }, 'Like 2 named pictures; a minute before a named one'],
    [{ minutes: 0.2, beside: 'Linnea' }, 'In the same minute as a named one; Linnea is beside them'],
    [
      { support: 5, sameClothes: true, there: true, otherAge: true },
      'Like 5 named pictures; in the same clothes that day; often named at this event',
    ],
    [{ otherAge: true }, 'All named pictures are from another age'],
    [{ support: 4, rival: 'Sam' }, 'Like 4 named pictures. Look twice: easily mistaken for Sam'],
    [{}, 'A faint likeness'],
  ])('%j', (some, said) => expect(sayReasons({ ...none, ...some }, today, EN)).toBe(said));

  test('in other languages', () => {
    const some = { ...none, support: 14, from: '2026-03-02', to: '2026-05-16', rival: 'Sam' };
    expect(sayReasons(some, today, DE)).toBe(
      'Wie 14 benannte Bilder aus diesem Frühling. Genau hinsehen: leicht zu verwechseln mit Sam',
    );
    expect(sayReasons({ ...none, minutes: 1 }, today, SV)).toBe('En minut efter en namngiven');
  });

  test.each([
    ['2026-01-10', '2026-02-01', '2026-02-20', 'this winter'],
    ['2025-12-10', '2026-02-01', '2026-05-20', 'winter 2025'],
    ['2025-03-10', '2025-08-01', '2026-05-20', '2025'],
    [null, null, '2026-05-20', ''],
  ])('from %s to %s is said on %s as %s', (from, to, on, said) => expect(sayFrom(from, to, on, EN)).toBe(said));
});

describe('introductions', () => {
  const face = (id: number, key: number, quality: number, offers: [number, number][] = []) => ({
    id,
    key,
    picture: id,
    quality,
    offers: offers.map(([person, certainty]) => ({ person, certainty })),
  });
  test('large groups first, single faces last, the probably known ones among them before strangers; best faces first', () => {
    const groups = introduce([
      face(1, 1, 0.2),
      face(2, 2, 0.5, [[7, 0.9]]),
      face(3, 3, 0.9),
      face(4, 4, 0.3),
      face(5, 4, 0.8),
      face(6, 4, 0.5),
      face(7, 7, 0.4),
      face(8, 7, 0.5),
    ]);
    expect(groups.map((g) => g.key)).toEqual([4, 7, 2, 3, 1]);
    expect(groups[0]!.faces.map((f) => f.id)).toEqual([5, 6, 4]);
  });
  test('candidates are those the whole group speaks for, not those of one face', () => {
    const [group] = introduce([
      face(1, 1, 1, [
        [5, 0.9],
        [6, 0.05],
      ]),
      face(2, 1, 1, [[5, 0.7]]),
      face(3, 1, 1, [[8, 0.4]]),
      ...Array.from({ length: 7 }, (_, i) => face(4 + i, 1, 1, [[5, 0.8]])),
    ]);
    expect(group!.candidates.map((c) => [c.person, c.faces])).toEqual([[5, 9]]);
    expect(group!.candidates[0]!.certainty).toBeCloseTo(0.72);
  });
});
