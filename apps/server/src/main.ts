import { t } from '@lingui/core/macro';
import type { ServerType } from '@hono/node-server';
import { createServer } from 'node:net';
import path from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { CannotStart } from './cannotStart';
import { readConfig, type Config } from './config';
import { loadDemo } from './demo/load';
import { watchCards } from './gather/cards';
import { takeUpNamed, watchHeld } from './gather/held';
import { watchFolders } from './gather/watched';
import { makeHttp } from './http/app';
import { makeAllReady } from './http/lists';
import { listen } from './http/listen';
import { watchBooks } from './keep/book';
import { standIn } from './keep/lostPage';
import { librariesIn, sayRebuilt } from './keep/rebuild';
import { MOST } from './mail/mailer';
import { watchNews } from './notice/tell';
import { StandInShop } from './standin/shop';
import { StandInMailbox } from './standin/mailbox';
import { watchSafe } from './safe/watch';
import { speakAsShell } from './words/speech';
import { isLost, keepToOurselves, sentenceFor, startEngine, type Engine } from './start';

/** How long after the start what is only made ready begins, in ms. */
const SETTLED = 12_000;

async function portFree(port: number): Promise<void> {
  await new Promise<void>((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new CannotStart(
              t`Port ${port} is used by another program. Choose another, for example --port ${port + 10}.`,
            )
          : error,
      ),
    );
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve()));
  });
}

/** Starts; where the database is lost and originals are there, a page says so until it has been made anew. */
async function startOrRebuild(config: Config): Promise<Engine> {
  try {
    return await startEngine(config);
  } catch (error) {
    if (!isLost(error) || (await librariesIn(config.data)).length === 0) throw error;
    const why = sentenceFor(error);
    console.error(why);
    const there = () =>
      console.error(
        t`This is told at ${`http://127.0.0.1:${config.port}`}, too, with a button that rebuilds it from the files.`,
      );
    for (const line of sayRebuilt(await standIn(config, why, there))) console.log(line);
    return startEngine(config);
  }
}

async function main(): Promise<void> {
  const config = readConfig();
  let engine: Engine | null = null;
  let server: ServerType | null = null;
  const ways: { stop: () => Promise<void> }[] = [];
  let ending = false;
  const end = async () => {
    if (ending) return;
    ending = true;
    console.log(t`Stopping …`);
    server?.close();
    if (server && 'closeAllConnections' in server) server.closeAllConnections();
    try {
      await Promise.allSettled(ways.map((way) => way.stop()));
      await engine?.stop();
      console.log(t`Everything is put away.`);
      process.exit(0);
    } catch (error) {
      console.error(error);
      process.exit(1);
    }
  };
  process.on('SIGINT', () => void end());
  process.on('SIGTERM', () => void end());
  await portFree(config.port);
  engine = await startOrRebuild(config);
  await takeUpNamed(engine.app).catch((error: unknown) => console.error('held files:', error));
  // The demo has no mailbox of its own: what it sends is caught, and can be read.
  if (config.demo && !config.mail) {
    const mailbox = await StandInMailbox.open(path.join(config.data, 'mailbox'));
    config.mail = { smtp: mailbox.smtp, from: 'Gemmel <pictures@hallorin.example>', most: MOST };
    config.standInMail = mailbox.smtp;
    ways.push({ stop: () => mailbox.close() });
  }
  // Nor a print shop: what it orders is kept, and answered with a receipt.
  if (config.demo && !config.shop) {
    const shop = await StandInShop.open(path.join(config.data, 'shop'));
    config.shop = shop.address;
    ways.push({ stop: () => shop.close() });
  }
  server = listen(makeHttp(engine.app).fetch, config.port, config.host, { tls: config.tls });
  await engine.app.db.raw("INSERT IGNORE INTO libraries (id, slug, name) VALUES (1, 'home', 'Home library')");
  // Names of towns are put in order when the start is over, so that the first search need not wait for it.
  const { lookups } = engine.app;
  setTimeout(() => {
    void lookups.run(null, { name: 'readGazetteer' }).catch(() => undefined);
    // The database may be away; then it is worked out when it is asked for.
    if (engine) void makeAllReady(engine.app).catch(() => undefined);
  }, SETTLED).unref();
  ways.push(
    watchCards(engine.app),
    watchFolders(engine.app, 1),
    watchHeld(engine.app),
    watchNews(engine.app),
    watchSafe(engine.app),
    watchBooks(engine.app),
  );
  console.log(t`Gemmel is ready: ${`${config.tls ? 'https' : 'http'}://127.0.0.1:${config.port}`}`);
  if (config.setUpCode && !(await engine.app.db('members').first('id')))
    console.log(t`Other computers are asked for this set-up code on the first page: ${config.setUpCode}`);
  if (config.demo) {
    const began = Date.now();
    const news = await loadDemo(engine.app, engine.runner);
    if (news) console.log(t`The whole demo household is in, after ${Math.round((Date.now() - began) / 1000)} seconds.`);
  }
}

// What answers leave behind is tidied when it has grown by a quarter, not when it has doubled: it would lie in the machine's memory between visits.
setFlagsFromString('--heap-growing-percent=25');
keepToOurselves();
speakAsShell();
main().catch((error: unknown) => {
  console.error(sentenceFor(error));
  if (process.env['GEMMEL_DEBUG']) console.error(error);
  process.exit(1);
});
