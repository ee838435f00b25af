import type { LikeBy } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import type { App } from '../context';
import { notFound } from '../problem';
import { newsOf } from './news';
import { bitsOf, sizeOf } from './sets';

/** Within how many minutes something was the same moment, and how far the same place reaches without a name, in kilometres. */
const MOMENT = 30;
const AROUND = 1;

/** Ways to more pictures like one: each a question, with how many there are besides it. Ways that lead nowhere are left out. */
export async function moreLike(
  app: App,
  library: number,
  id: number,
): Promise<{ by: LikeBy; question: Question; pictures: number }[]> {
  const { db } = app;
  const p = await db('pictures')
    .where({ id, library_id: library })
    .first('taken_local', 'taken_exact', 'lat', 'lon', 'country', 'place', 'own_place_id');
  if (!p) throw notFound('picture');
  const people = (await db('faces').where('picture_id', id).whereNotNull('person_id').distinct('person_id')).map(
    (row) => row.person_id!,
  );
  const ways: [LikeBy, Question | null][] = [
    ['look', { like: id }],
    [
      'moment',
      p.taken_local && !p.taken_exact
        ? { near: { at: p.taken_local.slice(0, 19).replace(' ', 'T'), minutes: MOMENT } }
        : null,
    ],
    [
      'place',
      p.own_place_id
        ? { where: { own: p.own_place_id } }
        : p.country && p.place
          ? { where: { country: p.country, place: p.place } }
          : p.lat !== null && p.lon !== null
            ? { where: { circle: { lat: p.lat, lon: p.lon, km: AROUND } } }
            : null,
    ],
    ['people', people.length ? { who: { people: people.sort((a, b) => a - b), mode: 'all' } } : null],
  ];
  const news = await newsOf(db, library);
  const offers: { by: LikeBy; question: Question; pictures: number }[] = [];
  for (const [by, question] of ways)
    if (question) {
      const pictures = sizeOf(await bitsOf(app, library, question, news)) - 1;
      if (pictures > 0) offers.push({ by, question, pictures });
    }
  return offers;
}
