import type { Why } from '@gemmel/contract';
import type { Db } from '../db/open';
import { shortName } from '../person/names';

/** What a face is offered, and why. */
export interface SaidOffer {
  face: number;
  person: number;
  name: string;
  certainty: number;
  why: Why;
}

/** When nothing is known that speaks for it. */
export const NO_REASON: Why = {
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

interface Row {
  face: number;
  person: number;
  name: string;
  certainty: number;
  support: number;
  like_from: string | null;
  like_to: string | null;
  minutes: number | null;
  same_clothes: number;
  is_there: number;
  other_age: number;
  beside: string | null;
  rival: string | null;
}

/** How sure a guess is. */
export const closenessOf = (certainty: number): 'very close' | 'close' | 'perhaps' =>
  certainty >= 0.9 ? 'very close' : certainty >= 0.5 ? 'close' : 'perhaps';

/** The offers of some faces, the surest of each first. Those never to be recognised are not offered. */
export async function offersOf(db: Db, library: number, faces: readonly number[], most = 3): Promise<SaidOffer[]> {
  if (faces.length === 0) return [];
  const result: SaidOffer[] = [];
  for (let i = 0; i < faces.length; i += 1000) {
    const rows = (await db('face_offers as o')
      .join('people as n', 'n.id', 'o.person_id')
      .leftJoin('people as b', 'b.id', 'o.beside_id')
      .leftJoin('people as r', 'r.id', 'o.rival_id')
      .where('o.library_id', library)
      .where('o.nth', '<', most)
      .where('n.recognised', true)
      .whereIn('o.face_id', faces.slice(i, i + 1000))
      .orderBy(['o.face_id', 'o.nth'])
      .select(
        'o.face_id as face',
        'o.person_id as person',
        'n.name',
        'o.certainty',
        'o.support',
        'o.like_from',
        'o.like_to',
        'o.minutes',
        'o.same_clothes',
        'o.is_there',
        'o.other_age',
        db.raw(`${shortName('b')} AS beside`),
        db.raw(`${shortName('r')} AS rival`),
      )) as Row[];
    for (const r of rows)
      result.push({
        face: r.face,
        person: r.person,
        name: r.name,
        certainty: r.certainty,
        why: {
          support: r.support,
          from: r.like_from,
          to: r.like_to,
          beside: r.beside,
          minutes: r.minutes,
          sameClothes: Boolean(r.same_clothes),
          there: Boolean(r.is_there),
          otherAge: Boolean(r.other_age),
          rival: r.rival,
        },
      });
  }
  return result;
}
