import { plural, t } from '@lingui/core/macro';
import { i18n } from '@lingui/core';
import { userInfo } from 'node:os';
import path from 'node:path';
import { rm, stat } from 'node:fs/promises';
import { addressAsKept } from './account/accounts';
import { resetAddress } from './account/resets';
import { endSecond } from './account/second';
import { CannotStart } from './cannotStart';
import { dataFolder, readConfig } from './config';
import { endApp, makeApp, type App } from './context';
import { addressOf, startMariadb } from './db/mariadb';
import { openDb } from './db/open';
import { bringIn, rehearse, sayMegabytes, sayReport, type Importing } from './importing';
import { exportLibrary } from './keep/exportLibrary';
import { openLibrary } from './keep/open';
import { houseLibrary } from './safe/places';
import { stateFolder } from './keep/fromState';
import { picturesKnown, rebuild, sayRebuilt } from './keep/rebuild';
import { figures, libraryState, listTroubles } from './library/library';
import { bringLibrary, bringWords, restoreAll, type RestoringPart } from './safe/restore';
import { undoUpgrade } from './safe/upgrade';
import { StandInFrame } from './standin/frame';
import { ejectCard, insertCard, plugDisk, pullDisk, syncPhone } from './standin/standins';
import { disableService, enableService } from './service';
import { runningOn } from './running';
import { sayWork, speakAsShell } from './words/speech';
import { keepToOurselves, sentenceFor, startEngine, WORKER } from './start';

/** Runs something on the library: beside a running Gemmel if there is one, else on an engine of its own. */
async function withApp<T>(act: (app: App) => Promise<T>): Promise<T> {
  const config = readConfig();
  if (await runningOn(config.data)) {
    const app = makeApp(config, openDb(addressOf(path.join(config.data, 'db'), config.secrets.db)), WORKER);
    try {
      return await act(app);
    } finally {
      await endApp(app);
      await app.db.destroy();
    }
  }
  const engine = await startEngine(config);
  process.on('SIGINT', () => void engine.stop().then(() => process.exit(130)));
  try {
    return await act(engine.app);
  } finally {
    await engine.stop();
  }
}

async function libraryId(app: App, wanted: string | undefined): Promise<number> {
  if (!wanted) {
    await app.db.raw("INSERT IGNORE INTO libraries (id, slug, name) VALUES (1, 'home', 'Home library')");
    return 1;
  }
  const row = await app.db('libraries').where('slug', wanted).orWhere('name', wanted).first('id');
  if (row) return row.id;
  const all = (await app.db('libraries').select('name')).map((l) => l.name);
  throw new CannotStart(
    all.length
      ? t`There is no library called “${wanted}”. There is: ${all.join(', ')}.`
      : t`There is no library called “${wanted}”, nor any other yet.`,
  );
}

async function importFrom(from: string, library: string | undefined, how: Importing): Promise<void> {
  if (!(await stat(from).catch(() => null))) throw new CannotStart(t`There is no folder ${from}.`);
  await withApp(async (app) => {
    const id = await libraryId(app, library);
    const report = how.dryRun ? await rehearse(app, id, from, how) : await bringIn(app, id, from, how);
    if (how.json) console.log(JSON.stringify(report, null, 2));
    else for (const line of sayReport(report)) console.log(line);
  });
}

/** Made-up cards and phones, to see what happens when one comes. */
async function standin(words: readonly string[]): Promise<void> {
  const { data } = readConfig();
  const root = process.env['GEMMEL_ROOT'] ?? process.cwd();
  const [what, first, second] = words;
  if (what === 'card' && first === 'insert' && second)
    console.log(t`Card ${second} inserted: ${await insertCard(root, data, second)}`);
  else if (what === 'card' && first === 'eject' && second) {
    await ejectCard(root, data, second);
    console.log(t`Card ${second} removed.`);
  } else if (what === 'disk' && first === 'insert' && second)
    console.log(t`Disk plugged in: ${await plugDisk(data, second)}`);
  else if (what === 'disk' && first === 'eject' && second) {
    await pullDisk(data, second);
    console.log(t`Disk ${second} pulled out.`);
  } else if (what === 'frame' && first) {
    const frame = await StandInFrame.open(first).catch(() => {
      throw new CannotStart(t`There is no frame at ${first}. Its address is under Sharing.`);
    });
    console.log(t`The made-up frame hangs at ${frame.address} until you press Ctrl+C.`);
    await new Promise((resolve) => process.once('SIGINT', resolve));
    await frame.close();
  } else if (what === 'phone' && first && second === 'sync') {
    const running = await runningOn(data);
    if (!running) throw new CannotStart(t`Gemmel isn’t running, so no phone can reach it. Start it first.`);
    await withApp(async (app) => {
      const { sent, there } = await syncPhone(
        app,
        await libraryId(app, undefined),
        root,
        `http://127.0.0.1:${running.port}`,
        first,
      );
      console.log(
        t`Phone ${first}: ${plural(sent, { one: '# file sent', other: '# files sent' })}, ${plural(there, { one: '# sent before', other: '# sent before' })}.`,
      );
    });
  } else
    throw new CannotStart(
      t`Use: ./gemmel standin card|disk insert|eject NAME, ./gemmel standin phone NAME sync, or ./gemmel standin frame ADDRESS`,
    );
}

async function status(json: boolean): Promise<void> {
  const config = readConfig();
  const running = await runningOn(config.data);
  if (!running) {
    if (json) console.log(JSON.stringify({ running: false }));
    else console.log(t`Gemmel isn’t running.`);
    return;
  }
  await withApp(async (app) => {
    const libraries = await app.db('libraries').select('id', 'slug');
    const states = await Promise.all(
      libraries.map(async ({ id, slug }) => ({
        library: slug,
        ...(await libraryState(app, id, await figures(app.db, id))),
        failed: await listTroubles(app, id),
      })),
    );
    if (json)
      console.log(
        JSON.stringify({ running: true, address: `http://127.0.0.1:${running.port}`, libraries: states }, null, 2),
      );
    else {
      console.log(t`Gemmel is running at ${`http://127.0.0.1:${running.port}`}`);
      for (const s of states) {
        console.log(
          [
            `${s.name}: ${plural(s.pictures, { one: '# picture', other: '# pictures' })}`,
            sayMegabytes(s.bytes),
            plural(s.arriving, { one: '# coming in', other: '# coming in' }),
            plural(s.troubles, { one: '# failed', other: '# failed' }),
          ].join(', '),
        );
        for (const { kind, done, of } of s.running) console.log(t`  ${sayWork(i18n, kind)}: ${done} of ${of}`);
      }
    }
  });
}

/** A link by which somebody sets their password anew, for whoever runs the machine. */
async function password(email: string | undefined, secondOff: boolean): Promise<void> {
  if (!email) throw new CannotStart(t`Use: ./gemmel password E-MAIL`);
  const { data, port } = readConfig();
  const running = await runningOn(data);
  await withApp(async (app) => {
    const link = await resetAddress(app, email);
    if (!link) throw new CannotStart(t`Nobody here has the address ${email}.`);
    if (secondOff) {
      const account = await app.db('accounts').where('email', addressAsKept(email)).first('id');
      if (account) await endSecond(app, account.id, null);
      console.log(t`No one-time code is asked for any longer.`);
    }
    console.log(t`Whoever opens this link within a day sets a new password for ${email}, once:`);
    console.log(`http://127.0.0.1:${running?.port ?? port}${link}`);
    if (!running) console.log(t`Start Gemmel first: ./gemmel start`);
  });
}

/** Puts the database back as it was before the last upgrade. It is started without bringing its tables up to date. */
async function undoLast(yes: boolean): Promise<void> {
  const config = readConfig();
  const { data } = config;
  if (await runningOn(data)) throw new CannotStart(t`Gemmel is running on ${data}. Stop it first: ./gemmel stop`);
  const base = path.join(data, 'db');
  const mariadb = await startMariadb(base, config.secrets.db);
  const db = openDb(addressOf(base, config.secrets.db), 2);
  try {
    await undoUpgrade(data, db, yes, (line) => console.log(line));
  } finally {
    await db.destroy();
    await mariadb.stop();
  }
}

/** Brings one library back from a place, as a further one beside what is here. */
async function restoreOne(what: RestoringPart, wanted: string): Promise<void> {
  await withApp(async (app) => {
    const row = await app.db('libraries').where('slug', wanted).orWhere('name', wanted).first('slug');
    const folder = stateFolder(app, process.pid + 2 ** 31);
    try {
      await bringLibrary(what, row?.slug ?? wanted, folder);
      await openAs(app, folder, true);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
}

/** Puts what people said back as it was, without touching an original. */
async function restoreWords(what: RestoringPart, over: boolean): Promise<void> {
  const config = readConfig();
  if (await runningOn(config.data))
    throw new CannotStart(t`Gemmel is running on ${config.data}. Stop it first: ./gemmel stop`);
  const known = await picturesKnown(config);
  if (known && !over)
    throw new CannotStart(
      plural(known, {
        one: 'The database here knows # picture. What was said since that day would no longer be known; the database is put aside, and originals stay as they are. To go on, add --over.',
        other:
          'The database here knows # pictures. What was said since that day would no longer be known; the database is put aside, and originals stay as they are. To go on, add --over.',
      }),
    );
  await bringWords(what);
  for (const line of sayRebuilt(await rebuild(config, true, (said) => console.log(said), { asToldThen: true })))
    console.log(line);
}

/** Brings everything back from a place of safekeeping. */
async function restore(
  words: readonly string[],
  state: string | undefined,
  library: string | undefined,
): Promise<void> {
  const from = words.find(
    (word, i) => !word.startsWith('--') && !['--state', '--library'].includes(words[i - 1] ?? ''),
  );
  if (!from)
    throw new CannotStart(t`Use: ./gemmel restore PLACE [--state DAY] [--library NAME | --words] [--over] [--dry-run]`);
  if (library) return restoreOne({ from, data: dataFolder(), state }, library);
  if (words.includes('--words')) return restoreWords({ from, data: dataFolder(), state }, words.includes('--over'));
  await restoreAll({
    from,
    data: dataFolder(),
    state,
    over: words.includes('--over'),
    dryRun: words.includes('--dry-run'),
  });
}

/** Copies a library into a folder of its own. */
async function exportTo(to: string | undefined, library: string | undefined): Promise<void> {
  if (!to) throw new CannotStart(t`Use: ./gemmel export FOLDER [--library NAME]`);
  await withApp(async (app) => {
    const stop = new AbortController();
    const { files, damaged } = await exportLibrary(
      app,
      { library: await libraryId(app, library), signal: stop.signal, report: tellPercent() },
      path.resolve(to),
    );
    const folder = path.resolve(to);
    console.log(
      plural(files, {
        one: `# file is in ${folder}. Open it again, here or elsewhere, with: ./gemmel open ${folder}`,
        other: `# files are in ${folder}. Open it again, here or elsewhere, with: ./gemmel open ${folder}`,
      }),
    );
    if (damaged)
      console.log(
        plural(damaged, {
          one: '# file is damaged here and was left out.',
          other: '# files are damaged here and were left out.',
        }),
      );
  });
}

/** Opens a library that was exported, as a further one, for the first keeper of the house. */
async function openFrom(from: string | undefined): Promise<void> {
  if (!from) throw new CannotStart(t`Use: ./gemmel open FOLDER`);
  await withApp((app) => openAs(app, path.resolve(from), false));
}

/** Opens a folder as a further library. */
async function openAs(app: App, from: string, taken: boolean): Promise<void> {
  const keeper = await app
    .db('members')
    .where({ library_id: await houseLibrary(app), part: 'keeper' })
    .whereNotNull('account_id')
    .whereNull('left_at')
    .orderBy('id')
    .first('account_id');
  if (!keeper) throw new CannotStart(t`Nobody is keeper here yet. Start Gemmel and set it up first.`);
  const stop = new AbortController();
  const opened = await openLibrary(
    app,
    // A number no piece of work has.
    { id: process.pid + 2 ** 31, signal: stop.signal, report: tellPercent() },
    { from, account: keeper.account_id! },
    { taken },
  );
  const { name } = opened;
  console.log(
    plural(opened.pictures, {
      one: `“${name}” is here, with # picture.`,
      other: `“${name}” is here, with # pictures.`,
    }),
  );
  if (opened.missing)
    console.log(
      plural(opened.missing, {
        one: '# file was damaged or missing in that folder.',
        other: '# files were damaged or missing in that folder.',
      }),
    );
}

/** Says how far something is, now and then. */
function tellPercent(): (done: number, of: number) => void {
  let told = -1;
  return (done, of) => {
    const percent = Math.floor((done / Math.max(1, of)) * 100);
    if (percent < told + 10) return;
    told = percent;
    console.log(`${percent} %`);
  };
}

/** Has Gemmel start with the computer, or no longer. */
function service(words: readonly string[]): void {
  const system = words.includes('--system');
  const say = (line: string) => console.log(line);
  if (words.includes('--off')) return disableService(system, say);
  const { data, port, host } = readConfig();
  const root = process.env['GEMMEL_ROOT'] ?? process.cwd();
  const user = process.env['SUDO_USER'] ?? userInfo().username;
  enableService({ root, data, port, host, system, user }, say);
}

/** Makes the database anew from the files alone. */
async function buildAnew(over: boolean): Promise<void> {
  for (const line of sayRebuilt(await rebuild(readConfig(), over, (said) => console.log(said)))) console.log(line);
}

async function main(): Promise<void> {
  const [command, ...rest] = process.argv.slice(2);
  const value = (name: string) => (rest.includes(name) ? rest[rest.indexOf(name) + 1] : undefined);
  if (command === 'import') {
    const folder = rest.find((word, i) => !word.startsWith('--') && rest[i - 1] !== '--library');
    if (!folder)
      throw new CannotStart(
        t`Use: ./gemmel import FOLDER_OR_ZIP [--library NAME] [--album-per-folder] [--dry-run] [--json]`,
      );
    await importFrom(folder, value('--library'), {
      albumPerFolder: rest.includes('--album-per-folder'),
      dryRun: rest.includes('--dry-run'),
      json: rest.includes('--json'),
    });
  } else if (command === 'standin') await standin(rest);
  else if (command === 'password') await password(rest[0], rest.includes('--second-off'));
  else if (command === 'restore') await restore(rest, value('--state'), value('--library'));
  else if (command === 'export')
    await exportTo(
      rest.find((word, i) => !word.startsWith('--') && rest[i - 1] !== '--library'),
      value('--library'),
    );
  else if (command === 'open') await openFrom(rest[0]);
  else if (command === 'service') service(rest);
  else if (command === 'rebuild') await buildAnew(rest.includes('--over'));
  else if (command === 'undo-upgrade') await undoLast(rest.includes('--yes'));
  else if (command === 'status') await status(rest.includes('--json'));
  else throw new CannotStart(t`There is no command “${command ?? ''}”. See ./gemmel help.`);
}

keepToOurselves();
speakAsShell();
main().then(
  () => process.exit(0),
  (error: unknown) => {
    console.error(sentenceFor(error));
    process.exit(1);
  },
);
