import type { EventDetail, Sitting as Open } from '@gemmel/contract';

/** Told how a question was answered, with what does it and how many pictures it was about. */
export type OnDone = (what: Done, doing?: Promise<boolean>, n?: number) => void;

export type Done = 'named' | 'placed' | 'dated' | 'skipped';

/** One open question: an event to name, pictures between two at a place, pictures of a folder without a date. */
export type Question =
  | { kind: 'event'; key: string; event: EventDetail }
  | { kind: 'place'; key: string; run: Open['unplaced'][number] }
  | { kind: 'date'; key: string; group: Open['undated'][number] };

/** Everything that is open, in the order it is asked. */
export const questionsOf = (open: Open): Question[] => [
  ...open.events.map((event): Question => ({ kind: 'event', key: `e${event.event.id}`, event })),
  ...open.unplaced.map((run): Question => ({ kind: 'place', key: `p${run.ids[0]}`, run })),
  ...open.undated.map((group): Question => ({ kind: 'date', key: `d${group.ids[0]}`, group })),
];
