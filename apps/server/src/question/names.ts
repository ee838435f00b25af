import type { AskedNames } from '@gemmel/contract';
import { nodes, type Question } from '@gemmel/core';
import { chunks } from '../context';
import type { Db } from '../db/open';

type Kind = keyof AskedNames;

/** Where the names of each kind of thing are kept, and in which column. */
const TABLES = {
  person: ['people', 'name'],
  tag: ['tags', 'name'],
  event: ['events', 'title'],
  album: ['albums', 'name'],
  batch: ['batches', 'name'],
  device: ['devices', 'name'],
  folder: ['folders', 'name'],
  ownPlace: ['own_places', 'name'],
  mark: ['marks', 'meaning'],
  member: ['members', 'name'],
} as const satisfies Record<Kind, readonly [string, string]>;
const KINDS = Object.keys(TABLES) as Kind[];

/** What a question speaks of, by kind. */
function spokenOf(question: Question): Record<Kind, number[]> {
  const found = Object.fromEntries(KINDS.map((kind) => [kind, [] as number[]])) as Record<Kind, number[]>;
  for (const q of nodes(question)) {
    if ('who' in q) found.person.push(...q.who.people);
    else if ('tag' in q) found.tag.push(q.tag);
    else if ('event' in q) found.event.push(q.event);
    else if ('album' in q) found.album.push(q.album);
    else if ('batch' in q) found.batch.push(q.batch);
    else if ('device' in q) found.device.push(q.device);
    else if ('mark' in q) found.mark.push(q.mark);
    else if ('saidBy' in q) found.member.push(q.saidBy);
    else if ('folder' in q) found.folder.push(q.folder.id);
    else if ('where' in q && 'own' in q.where) found.ownPlace.push(q.where.own);
  }
  return found;
}

/** The names of what some questions speak of, read once for all of them; answers for one of them. */
export async function namesAsked(
  db: Db,
  library: number,
  questions: readonly Question[],
): Promise<(question: Question) => AskedNames> {
  const all = questions.map(spokenOf);
  const known = new Map<string, string | NonNullable<AskedNames['batch']>[string]>();
  for (const kind of KINDS) {
    const [table, column] = TABLES[kind];
    for (const ids of chunks([...new Set(all.flatMap((one) => one[kind]))], 2000)) {
      const more = kind === 'batch' ? ['named', 'created_at'] : [];
      const rows = (await db(table)
        .where('library_id', library)
        .whereIn('id', ids)
        .select('id', `${column} as name`, ...more)) as {
        id: number;
        name: string | null;
        named?: 'given' | 'source' | 'loose';
        created_at?: string;
      }[];
      for (const { id, name, named, created_at } of rows)
        if (named && created_at)
          known.set(`${kind} ${id}`, { id, name: name ?? '', named, createdAt: `${created_at.replace(' ', 'T')}Z` });
        else if (name !== null) known.set(`${kind} ${id}`, name);
    }
  }
  return (question) =>
    Object.fromEntries(
      Object.entries(spokenOf(question)).flatMap(([kind, ids]) => {
        const named = ids.flatMap((id) => {
          const name = known.get(`${kind} ${id}`);
          return name === undefined ? [] : [[id, name] as const];
        });
        return named.length ? [[kind, Object.fromEntries(named)]] : [];
      }),
    ) as AskedNames;
}
