import type { MessageDescriptor } from '@lingui/core';
import { msg } from '@lingui/core/macro';
import type { Question } from '@gemmel/core';

/** Questions keepers ask every week. */
export const READY_MADE: { id: string; name: MessageDescriptor; question: Question }[] = [
  { id: 'week', name: msg`The last 7 days`, question: { taken: { lastDays: 7 } } },
  { id: 'added', name: msg`Recently added`, question: { added: { lastDays: 7 } } },
  { id: 'doubles', name: msg`Near doubles`, question: { has: 'double' } },
  { id: 'no-album', name: msg`In no album`, question: { inNoAlbum: true } },
  { id: 'faces', name: msg`Faces without names`, question: { lacks: 'names' } },
  { id: 'no-place', name: msg`Without a place`, question: { lacks: 'place' } },
  { id: 'no-date', name: msg`Without a date`, question: { lacks: 'date' } },
  { id: 'hearts', name: msg`Hearts`, question: { favourite: true } },
];
