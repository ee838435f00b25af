import { readConfig } from '../src/config';
import { makeApp } from '../src/context';
import { addressOf } from '../src/db/mariadb';
import { openDb } from '../src/db/open';
import { recover } from '../src/intake/recover';
import { makeRunner } from '../src/jobs/all';
import { replayMoves } from '../src/vault/moves';
import path from 'node:path';

/** A process that does nothing but take in, as the server does: the kill test ends it at any moment. */
async function main(): Promise<void> {
  const config = readConfig();
  const db = openDb(addressOf(path.join(config.data, 'db'), config.secrets.db));
  const app = makeApp(config, db, process.argv[2]!);
  await replayMoves(app, 1);
  await recover(app);
  await makeRunner(app).start();
  console.log('taking');
}
void main();
