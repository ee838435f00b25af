import { perform, type By } from '../act/perform';
import { binPictures } from '../bin/bin';
import type { App } from '../context';
import { notFound } from '../problem';

/**
 * Keeps some shots of a run and moves the others to the bin; when all are kept, none goes. Those that stay are no longer asked about,
 * until another shot joins them. Refused when one of them is no longer in the run: then somebody else has chosen meanwhile.
 */
export const chooseInRun = (
  app: App,
  by: By,
  run: number,
  keep: readonly number[],
): Promise<{ kept: number; binned: number; act: number | null }> =>
  perform(app, by, 'choose', async (act) => {
    const { trx, library, hold, words } = act;
    const rows = await trx('pictures')
      .where({ library_id: library, run_id: run })
      .orderBy('id')
      .forUpdate()
      .select('id');
    const there = new Set(rows.map((row) => row.id));
    const kept = [...new Set(keep)];
    if (!kept.every((id) => there.has(id))) throw notFound('pictures');
    await hold('pictures', kept);
    await trx('pictures').whereIn('id', kept).update({ chosen: true });
    const going = [...there].filter((id) => !kept.includes(id));
    const binned = await binPictures(act, going);
    words({ n: kept.length, less: binned.length });
    return { kept: kept.length, binned: binned.length };
  });
