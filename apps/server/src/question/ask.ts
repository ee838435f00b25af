import { todayIn } from '../time/home';
import type { Offered } from '@gemmel/contract';
import { complete, narrow, nodes, parse, WORDS, type Completion, type Language, type Question } from '@gemmel/core';
import type { App } from '../context';
import { namesOf } from './named';
import { newsOf } from './news';
import { bitsOf, firstOf, sizeOf } from './sets';

/** Most completions that are offered, the words themselves among them. */
const MOST = 8;
/** Pictures of the first page. */
const FIRST = 60;

/** What tells completions of one name apart: the tag a tag lies below, the year of an event. */
async function hintsOf(
  app: App,
  library: number,
  completions: readonly Completion[],
): Promise<Map<Completion, string>> {
  const hints = new Map<Completion, string>();
  const ids = (kind: 'tag' | 'event', of: (q: Question) => number | null) =>
    completions.flatMap((one) => {
      if (one.kind !== kind) return [];
      const id = [...nodes(one.part)].map(of).find((n) => n !== null);
      return id === undefined || id === null ? [] : [{ one, id }];
    });
  const tags = ids('tag', (q) => ('tag' in q ? q.tag : null));
  if (tags.length) {
    const rows = await app
      .db('tags as t')
      .leftJoin('tags as u', 'u.id', 't.parent_id')
      .where('t.library_id', library)
      .whereIn(
        't.id',
        tags.map(({ id }) => id),
      )
      .select('t.id', 't.name', 'u.name as above');
    for (const { one, id } of tags) {
      const row = rows.find((r) => r.id === id) as { name: string; above: string | null } | undefined;
      if (!row) continue;
      // Another spelling says which word it is.
      if (row.name !== one.label && !one.label.includes('›')) hints.set(one, row.name);
      else if (row.above && !one.label.includes('›')) hints.set(one, row.above);
    }
  }
  const events = ids('event', (q) => ('event' in q ? q.event : null));
  if (events.length) {
    const rows = await app
      .db('events')
      .where('library_id', library)
      .whereIn(
        'id',
        events.map(({ id }) => id),
      )
      .select('id', 'start_day');
    for (const { one, id } of events) {
      const row = rows.find((r) => r.id === id);
      if (row) hints.set(one, row.start_day.slice(0, 4));
    }
  }
  return hints;
}

/** What typed words ask for on top of a question, how many pictures that is, and what their end may be. */
export async function askTyped(
  app: App,
  library: number,
  { typed, question: base, language }: { typed: string; question: Question; language: Language },
): Promise<{ question: Question; pictures: number; first: number[]; completions: Offered[] }> {
  const { vocabulary } = await namesOf(app.db, library);
  const words = WORDS[language];
  const parsed = parse(typed, vocabulary, words, await todayIn(app.db, library));
  const question = narrow(base, parsed.question);
  const found = complete(parsed.open, vocabulary, words, MOST).map((one) => ({
    ...one,
    question: narrow(base, one.question),
  }));
  const hints = await hintsOf(app, library, found);
  const news = await newsOf(app.db, library);
  const count = async (q: Question): Promise<number> => sizeOf(await bitsOf(app, library, q, news));
  const [first, pictures, ...each] = await Promise.all([
    firstOf(app, library, question, FIRST),
    count(question),
    ...found.map((one) => count(one.question)),
  ]);
  const completions = found.map((one, i) => ({
    kind: one.kind,
    label: one.label,
    hint: hints.get(one) ?? null,
    part: one.part,
    question: one.question,
    pictures: each[i]!,
  }));
  // A name that would leave nothing is no help, but the words themselves always say what they find.
  return {
    question,
    pictures,
    first,
    completions: completions.filter((one) => one.pictures > 0 || one.kind === 'word'),
  };
}
