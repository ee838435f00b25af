import type { Question } from '@gemmel/core';

/** Questions keepers ask every week. */
export const READY_MADE: { name: string; question: Question }[] = [
  { name: 'Taken in the last seven days', question: { taken: { lastDays: 7 } } },
  { name: 'Lately added', question: { added: { lastDays: 7 } } },
  { name: 'Nearly the same as another', question: { has: 'double' } },
  { name: 'In no album', question: { inNoAlbum: true } },
  { name: 'Faces without names', question: { lacks: 'names' } },
  { name: 'Without a place', question: { lacks: 'place' } },
  { name: 'Without a date', question: { lacks: 'date' } },
  { name: 'Hearts', question: { favourite: true } },
];
