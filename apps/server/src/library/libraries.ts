import type { LibraryLine } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import type { Db } from '../db/open';
import { ask } from '../jobs/jobs';
import { notFound, refused } from '../problem';
import { houseLibrary } from '../safe/places';
import { sightOf } from '../sight/sight';
import { appThrough } from '../sight/through';
import { figures, type Figures } from './library';

/** How long a removed library may be brought back, in days. */
export const REMOVED_DAYS = 30;

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** Whether an account looks after the whole house: it is a keeper of the library that was there first. */
export async function isHouseKeeper(app: App, account: number): Promise<boolean> {
  const house = await houseLibrary(app);
  return Boolean(
    await app
      .db('members')
      .where({ library_id: house, account_id: account, part: 'keeper' })
      .whereNull('left_at')
      .first('id'),
  );
}

/** Refuses whoever does not look after the whole house. */
export async function houseKeeperOnly(app: App, account: number): Promise<void> {
  if (!(await isHouseKeeper(app, account))) throw refused('not-the-house');
}

/** The libraries an account belongs to, with what they see of each; removed ones only where it may bring them back. */
export async function listLibraries(app: App, account: number): Promise<LibraryLine[]> {
  const house = await houseLibrary(app);
  const [rows] = (await app.db.raw(
    `SELECT l.id, l.slug, l.name, m.id AS member, m.part, l.removed_at,
       (SELECT COUNT(*) FROM jobs j WHERE j.library_id = l.id AND j.state IN ('ready', 'running')) AS working,
       (SELECT COUNT(*) FROM jobs j WHERE j.library_id = l.id AND j.state = 'failed') AS troubles
     FROM libraries l JOIN members m ON m.library_id = l.id AND m.account_id = ? AND m.left_at IS NULL
     WHERE l.erased_at IS NULL AND (l.removed_at IS NULL OR m.part = 'keeper') ORDER BY l.removed_at IS NOT NULL, l.id`,
    [account],
  )) as [
    {
      id: number;
      slug: string;
      name: string;
      member: number;
      part: LibraryLine['part'];
      removed_at: string | null;
      working: number;
      troubles: number;
    }[],
  ];
  const holds = new Map<number, Figures>();
  for (const { id: library, member, part } of rows) {
    const sight = await sightOf(app.db, { library, member, part });
    holds.set(library, await figures(appThrough(app, sight).db, library));
  }
  const who = await app
    .db('members')
    .whereIn(
      'library_id',
      rows.map(({ id }) => id),
    )
    .whereNull('left_at')
    .whereNotNull('account_id')
    .orderBy('id')
    .select('library_id', 'name', 'part');
  return rows.map((row) => ({
    id: row.id,
    slug: row.slug,
    name: row.name,
    part: row.part,
    ...holds.get(row.id)!,
    // What waits and runs is not a relative's.
    working: row.part === 'relative' ? 0 : Number(row.working),
    troubles: row.part === 'relative' ? 0 : Number(row.troubles),
    house: row.id === house,
    // Who else belongs to a library is its keepers' business.
    people:
      row.part === 'keeper'
        ? who.filter((one) => one.library_id === row.id).map(({ name, part }) => ({ name, part }))
        : [],
    removed: row.removed_at
      ? {
          at: iso(row.removed_at),
          until: new Date(Date.parse(iso(row.removed_at)) + REMOVED_DAYS * 86_400_000).toISOString(),
        }
      : null,
  }));
}

/** Calls a library by another name; its folder and its address stay as they are. */
export const nameLibrary = (app: App, by: By, name: string): Promise<{ act: number | null }> =>
  perform(app, by, 'library name', async ({ trx, library, hold, words }) => {
    await hold('libraries', [library]);
    await trx('libraries').where('id', library).update({ name });
    words({ to: name });
  });

/** Puts a library into the bin: nobody reaches it any longer, and for {@link REMOVED_DAYS} days it can be brought back as it was. */
export async function removeLibrary(app: App, library: number): Promise<void> {
  // Who looks after the house would be nobody.
  if ((await houseLibrary(app)) === library) throw refused('house-stays');
  await app
    .db('libraries')
    .where('id', library)
    .whereNull('removed_at')
    .update({ removed_at: app.db.raw('UTC_TIMESTAMP(3)') });
  app.changed(library, 'library', 'members');
}

/** A removed library that an account may bring back. */
async function removedRow(db: Db, account: number, slug: string): Promise<{ id: number }> {
  const row = (await db('libraries as l')
    .join('members as m', 'm.library_id', 'l.id')
    .where({ 'l.slug': slug, 'm.account_id': account, 'm.part': 'keeper' })
    .whereNull('m.left_at')
    .whereNotNull('l.removed_at')
    .whereNull('l.erased_at')
    .first('l.id')) as { id: number } | undefined;
  if (!row) throw notFound('library');
  return row;
}

/** Brings a removed library back as it was. */
export async function bringLibraryBack(app: App, account: number, slug: string): Promise<void> {
  const { id } = await removedRow(app.db, account, slug);
  const back = await app.db('libraries').where('id', id).whereNull('erased_at').update({ removed_at: null });
  if (!back) throw notFound('library');
  app.changed(id, 'library', 'members');
}

/** Has a removed library go for good before its time. */
export async function eraseLibrary(app: App, account: number, slug: string): Promise<void> {
  const { id } = await removedRow(app.db, account, slug);
  await app
    .db('libraries')
    .where('id', id)
    .whereNotNull('removed_at')
    .whereNull('erased_at')
    .update({ erased_at: app.db.raw('UTC_TIMESTAMP(3)') });
  await ask(app.db, id, 'erase');
}
