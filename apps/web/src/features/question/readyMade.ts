import type { Question } from '@gemmel/core';

/** Questions keepers ask every week. */
export const READY_MADE: { name: string; question: Question }[] = [
  { name: 'Last seven days', question: { taken: { lastDays: 7 } } },
  { name: 'In no album', question: { inNoAlbum: true } },
  { name: 'Faces without names', question: { lacks: 'names' } },
  { name: 'Without a place', question: { lacks: 'place' } },
  { name: 'Without a date', question: { lacks: 'date' } },
  { name: 'Hearts', question: { favourite: true } },
];
