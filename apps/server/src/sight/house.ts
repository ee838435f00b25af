import { createHash } from 'node:crypto';
import type { App } from '../context';
import { newsOf } from '../question/news';
import { atLeast } from './audience';
import { saidIn } from './said';
import { appThrough } from './through';

/**
 * The application as the whole house sees it: without what somebody keeps to themselves, and without what a guest has added and nobody has said
 * yes to. What is made for everybody of the house, or leaves it, is made of this, whoever asked for it.
 */
export async function throughHouse(app: App, library: number): Promise<App> {
  const whole = app.whole ?? app;
  const { db } = whole;
  const { said, usual } = await saidIn(db, library);
  const alone =
    usual === 'me' ||
    said.some(({ audience }) => audience === 'me') ||
    (await db('pictures').where({ library_id: library, audience: 'me' }).first('id')) ||
    (await db('batches').where({ library_id: library, held: true }).first('id'));
  if (!alone) return whole;
  const meant = atLeast('house', { library, member: null, said, usual });
  const sql = `(${meant.sql}) AND NOT COALESCE(p.batch_id IN (SELECT b.id FROM batches b WHERE b.library_id = ? AND b.held), FALSE)`;
  const values = [...meant.values, library];
  const news = JSON.stringify([...(await newsOf(db, library))]);
  const hash = createHash('sha256')
    .update(JSON.stringify([sql, values]))
    .update(news)
    .digest('base64url');
  return appThrough(whole, { sql, values, library, member: 0, names: false, key: `house ${hash}` });
}
