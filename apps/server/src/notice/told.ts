import type { Answer, Api, Digest } from '@gemmel/contract';
import type { Session } from '../account/accounts';
import type { App } from '../context';
import { mailOf } from '../mail/mailer';
import { keysOf } from './push';

/** How somebody is told what is new. */
export async function toldOf(app: App, { member }: Session): Promise<Answer<Api['told']>> {
  const { db } = app.whole ?? app;
  const row = (await db('members').where('id', member).first('digest'))!;
  const [{ n }] = (await db('push_places').where('member_id', member).count('* as n')) as unknown as [{ n: number }];
  return { digest: row.digest, mail: mailOf(app) !== null, key: keysOf(app).publicKey, places: Number(n) };
}

/** Chooses how often a letter tells what is new; what happened before is not told. */
export async function setDigest(app: App, { member }: Session, digest: Digest): Promise<void> {
  const { db } = app.whole ?? app;
  await db('members')
    .where('id', member)
    .whereNot('digest', digest)
    .update({ digest, digest_at: digest === 'never' ? null : db.raw('UTC_TIMESTAMP(3)') });
}
