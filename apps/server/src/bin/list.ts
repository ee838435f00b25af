import type { Answer, Api, Binned } from '@gemmel/contract';
import type { App } from '../context';

interface Row extends Omit<Binned, 'sha' | 'thumb' | 'at' | 'until'> {
  sha: Buffer;
  thumb: Buffer;
  at: string;
  until: string | null;
}

const iso = (at: string): string => `${at.replace(' ', 'T')}Z`;

/** What is in the bin, latest first, a page at a time: `before` is the last one of the page before. */
export async function listBin(
  { db }: App,
  library: number,
  { before, limit }: { before?: number | undefined; limit: number },
): Promise<Answer<Api['bin']>> {
  const [[all]] = (await db.raw(
    `SELECT l.bin_days AS days, COUNT(IF(b.state = 'in', 1, NULL)) AS pictures, COALESCE(SUM(IF(b.state = 'in', b.bytes, 0)), 0) AS bytes,
       -- An original that others still look at waits without a word.
       COUNT(IF(b.state = 'going' AND NOT EXISTS (SELECT 1 FROM pictures p WHERE p.library_id = b.library_id AND p.of_sha = b.sha256), 1, NULL)) AS going
     FROM libraries l LEFT JOIN binned b ON b.library_id = l.id AND b.state IN ('in', 'going') WHERE l.id = ?`,
    [library],
  )) as [[{ days: number | null; pictures: number; bytes: number; going: number }]];
  const last =
    before === undefined ? undefined : await db('binned').where({ id: before, library_id: library }).first('at');
  const rows = (await db('binned as b')
    .leftJoin('members as m', 'm.id', 'b.member_id')
    .join('libraries as l', 'l.id', 'b.library_id')
    .where({ 'b.library_id': library, 'b.state': 'in' })
    .where((q) => {
      if (last)
        void q.where('b.at', '<', last.at).orWhere((w) => void w.where('b.at', last.at).where('b.id', '<', before!));
    })
    .orderBy('b.at', 'desc')
    .orderBy('b.id', 'desc')
    .limit(limit + 1)
    .select(
      'b.id',
      db.raw('COALESCE(b.view, b.sha256) AS sha'),
      'b.thumb',
      'b.kind',
      'b.name',
      'b.seconds',
      'b.width',
      'b.height',
      'b.bytes',
      'b.at',
      'm.name as by',
      db.raw('b.at + INTERVAL l.bin_days DAY AS until'),
    )) as unknown as Row[];
  const page = rows.slice(0, limit);
  return {
    pictures: Number(all.pictures),
    bytes: Number(all.bytes),
    going: Number(all.going),
    days: all.days,
    binned: page.map(({ sha, thumb, at, until, bytes, ...row }) => ({
      ...row,
      sha: sha.toString('hex'),
      thumb: thumb.toString('base64'),
      bytes: Number(bytes),
      at: iso(at),
      until: until === null ? null : iso(until),
    })),
    before: rows.length > limit ? page[page.length - 1]!.id : null,
  };
}
