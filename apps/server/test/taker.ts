import { readConfig } from '../src/config';
import { makeApp } from '../src/context';
import { addressOf } from '../src/db/mariadb';
import { openDb } from '../src/db/open';
import { recover } from '../src/intake/recover';
import { makeRunner } from '../src/jobs/all';
import { settleHomes } from '../src/keep/move';
import { replayMoves } from '../src/vault/moves';
import path from 'node:path';

/** A process that does nothing but take in, as the server does: the kill test ends it at any moment. */
async function main(): Promise<void> {
  const config = readConfig();
  const db = openDb(addressOf(path.join(config.data, 'db'), config.secrets.db));
  const app = makeApp(config, db, process.argv[2]!);
  await settleHomes(app);
  for (const { id } of await db('libraries').select('id')) await replayMoves(app, id);
  await recover(app);
  await makeRunner(app).start();
  console.log('taking');
}
void main();
