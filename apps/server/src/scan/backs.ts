import { dateWritten, pairsIn, sayWhenSpan, WORDS } from '@gemmel/core';
import type { Answer, Api } from '@gemmel/contract';
import { perform, type By } from '../act/perform';
import type { App } from '../context';
import { setMany, type Setting } from '../db/setMany';
import type { PicturesRow } from '../db/tables';
import { chunks } from '../lists';
import { notFound } from '../problem';

/** What a picture says that is shown for a side of a print. */
type SideRow = Pick<PicturesRow, 'id' | 'shown' | 'name' | 'width' | 'height'>;
const SIDE = ['id', 'shown', 'name', 'width', 'height'] as const;
const side = ({ id, shown, name, width, height }: SideRow) => ({
  id,
  sha: shown.toString('hex'),
  name,
  shape: width / height,
});

/** Names that may be those of backs, for the database; core's printOf reads them. */
const MAY_BE = '(back|backside|rear|reverse|verso|seite|hinten|baksidan?|[0-9]b)[])]?([.][^.]*)?$';
/** At most so many backs are offered at once. */
const MOST = 500;

/** Pictures that seem to be front and back of one print by their names: they came in one batch and lay in one folder. */
export async function listBacks({ db }: App, library: number): Promise<Answer<Api['backs']>> {
  const backs = await db('pictures')
    .where({ library_id: library, kind: 'photo' })
    .whereNull('pair_id')
    .whereNull('of_sha')
    .where('name', 'REGEXP', MAY_BE)
    .orderBy('id', 'desc')
    .limit(MOST)
    .select('batch_id', 'folder_id');
  const places = new Map(backs.map(({ batch_id, folder_id }) => [`${batch_id} ${folder_id}`, { batch_id, folder_id }]));
  const pairs: Answer<Api['backs']>['pairs'] = [];
  for (const { batch_id, folder_id } of places.values()) {
    const rows = (await db('pictures')
      .where({ library_id: library, kind: 'photo', batch_id, folder_id })
      .whereNull('pair_id')
      .whereNull('of_sha')
      .orderBy('id')
      .limit(20_000)
      .select(...SIDE)) as SideRow[];
    pairs.push(...pairsIn(rows).map(({ front, back }) => ({ front: side(front), back: side(back) })));
  }
  return { total: pairs.length, pairs: pairs.slice(0, 100) };
}

/**
 * Says that pictures are front and back of one print: they are one tile from then on, the front on top. Or that they are not: they are
 * not asked about again. A side that belongs to another print already leaves it.
 */
export const pairSides = (
  app: App,
  by: By,
  pairs: readonly { front: number; back: number }[],
  are: boolean,
): Promise<{ pairs: number; act: number | null }> =>
  perform(app, by, are ? 'pair' : 'unpair', async ({ trx, library, hold, words, then }) => {
    const ids = [...new Set(pairs.flatMap(({ front, back }) => [front, back]))];
    const there = await hold('pictures', ids);
    if (there.length < ids.length || ids.length < 2 * pairs.length) throw notFound('pictures');
    const before = [
      ...new Set(there.map((row) => row['pair_id']).filter((id): id is number => typeof id === 'number' && id > 0)),
    ];
    // Whoever was the other side of one of them stands alone again.
    const others = new Set<number>();
    for (const some of chunks(before, 1000))
      for (const { id } of await trx('pictures').where('library_id', library).whereIn('pair_id', some).select('id'))
        if (!ids.includes(id)) others.add(id);
    await hold('pictures', others);
    const alone: Setting['set'] = { pair_id: null, run_id: null, run_first: false, grouped_at: null };
    const settings: Setting[] = [
      ...[...others].map((id) => ({ id, set: alone })),
      ...pairs.flatMap(({ front, back }): Setting[] =>
        are
          ? [
              { id: front, set: { pair_id: front, run_id: front, run_first: true, grouped_at: null } },
              { id: back, set: { pair_id: front, run_id: front, run_first: false, grouped_at: null } },
            ]
          : [
              { id: front, set: alone },
              { id: back, set: { ...alone, pair_id: 0 } },
            ],
      ),
    ];
    await setMany(trx, library, 'pictures', settings);
    words({ n: pairs.length });
    then('alike', 500);
    return { pairs: pairs.length };
  });

/** The other side of the print a picture is of, with what was read on its back and the date that stands there; null without one. */
export async function otherSide({ db }: App, library: number, row: PicturesRow) {
  if (!row.pair_id) return null;
  const other = await db('pictures')
    .where({ library_id: library, pair_id: row.pair_id })
    .whereNot('id', row.id)
    .first(...SIDE, 'seen_words');
  if (!other) return null;
  const front = row.pair_id === other.id;
  const written = front ? row.seen_words : other.seen_words;
  const when = written ? dateWritten(written, new Date().getFullYear()) : null;
  const { language } = (await db('libraries').where('id', library).first('language'))!;
  return { ...side(other), front, written, dated: when, datedAs: when && sayWhenSpan(when, WORDS[language]) };
}
