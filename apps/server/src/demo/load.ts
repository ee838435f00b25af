import type { Question } from '@gemmel/core';
import { existsSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { DEMO_ACCOUNT, makeKeeper } from '../account/accounts';
import { makePlainAlbum, makeSmartAlbum } from '../album/albums';
import type { App } from '../context';
import { nameEvent } from '../event/shape';
import { meetDevice } from '../gather/devices';
import { nameDevice } from '../gather/ledger';
import { answerFaces } from '../faces/answers';
import { makeCircle } from '../person/circles';
import { openBatch, walk } from '../intake/announce';
import { ask } from '../jobs/jobs';
import type { Runner } from '../jobs/runner';
import { changePerson } from '../person/people';
import { changePictures } from '../picture/change';
import { Refused } from '../problem';

interface Household {
  people: { id: string; name: string; nickname: string; born: string; circle: string }[];
  devices: { folder: string; make: string; model: string }[];
  eventTitles: { key: string; title: string; days: string[] }[];
  said: {
    names: { file: string; box: [number, number, number, number]; person: string }[];
    stars: { file: string; stars: number }[];
    favourites: string[];
    tags: { file: string; tags: string[] }[];
    captions: { file: string; caption: string }[];
    titles: { file: string; title: string }[];
    albums: { name: string; files: string[] }[];
    eventNames: { event: string; title: string }[];
  };
}

/** What comes in, device by device, under the names the household uses. */
const BATCHES = [
  ['ilses-phone', 'Ilse’s phone'],
  ['martens-phone', 'Marten’s phone'],
  ['good-camera', 'The good camera'],
  ['grans-tablet', 'Gran’s tablet'],
  ['box-of-scans', 'Box of scans'],
  ['old-laptop', 'Old laptop'],
  ['stick', 'USB stick'],
] as const;

interface Progress {
  batches: Record<string, number>;
  said: boolean;
}

/**
 * Loads the demo household through the same intake as any other pictures, then says what its people have said so far.
 * Goes on where it stopped; answers false when everything was there already.
 */
export async function loadDemo(app: App, runner: Runner): Promise<boolean> {
  const demo = app.config.demo!;
  const note = path.join(app.config.data, 'demo.json');
  const progress = await readFile(note, 'utf8').then(
    (text) => JSON.parse(text) as Progress,
    (): Progress => ({ batches: {}, said: false }),
  );
  if (progress.said) return false;
  if (!(await app.db('members').first('id'))) await makeKeeper(app, DEMO_ACCOUNT);
  const sources = new Map<string, string>();
  for (const [folder, name] of BATCHES) {
    if (!existsSync(path.join(demo, folder))) continue;
    const files = await walk(path.join(demo, folder));
    for (const file of files) sources.set(file.path, path.relative(demo, file.source!));
    progress.batches[folder] ??= (await openBatch(app, 1, name, files)).id;
    await writeFile(note, JSON.stringify(progress));
  }
  runner.nudge();
  const ids = Object.values(progress.batches);
  const until = async (table: string, where: (q: ReturnType<App['db']>) => unknown) => {
    while (await (where(app.db(table)) as Promise<unknown>)) await new Promise((resolve) => setTimeout(resolve, 300));
  };
  await until('batches', (q) => q.whereIn('id', ids).where('state', 'coming').first('id'));
  await until('jobs', (q) => q.where({ kind: 'events' }).whereNot('state', 'failed').first('id'));
  const household = JSON.parse(await readFile(path.join(demo, 'household.json'), 'utf8')) as Household;
  await say(app, household, await picturesByFile(app, ids));
  progress.said = true;
  await writeFile(note, JSON.stringify(progress));
  return true;
}

/** Picture ids by their path below the demo folder. */
async function picturesByFile(
  app: App,
  batches: readonly number[],
): Promise<Map<string, { id: number; width: number; height: number }>> {
  const rows = (await app
    .db('batch_items as i')
    .join('pictures as p', 'p.id', 'i.picture_id')
    .whereIn('i.batch_id', batches)
    .select('i.source', 'p.id', 'p.width', 'p.height')) as {
    source: string;
    id: number;
    width: number;
    height: number;
  }[];
  return new Map(rows.map(({ source, ...picture }) => [path.relative(app.config.demo!, source), picture]));
}

async function say(
  app: App,
  { people, devices, eventTitles, said }: Household,
  pictures: Map<string, { id: number; width: number; height: number }>,
): Promise<void> {
  const { db } = app;
  const keeper = await db('members').where('library_id', 1).orderBy('id').first('id');
  const by = { library: 1, member: keeper?.id ?? null };
  const idsOf = (files: readonly string[]) =>
    files.map((f) => pictures.get(f)?.id).filter((id): id is number => id !== undefined);
  const called = new Map<string, string>([...BATCHES, ['later/noors-phone', 'Noor’s phone']]);
  for (const { folder, make, model } of devices) {
    const name = called.get(folder);
    if (name) await nameDevice(app, by, await meetDevice(db, 1, make, model), name);
  }
  const personId = new Map<string, number>();
  const circleId = new Map<string, number>();
  for (const person of people) {
    const faces: number[] = [];
    for (const one of said.names.filter((n) => n.person === person.id)) {
      const picture = pictures.get(one.file);
      if (!picture) continue;
      const x = (one.box[0] + one.box[2] / 2) / picture.width;
      const y = (one.box[1] + one.box[3] / 2) / picture.height;
      const face = await db('faces')
        .where('picture_id', picture.id)
        .whereRaw('? BETWEEN x AND x + w AND ? BETWEEN y AND y + h', [x, y])
        .orderByRaw('w * h')
        .first('id');
      if (face) faces.push(face.id);
    }
    if (faces.length === 0) continue;
    try {
      await answerFaces(app, by, { faces, odd: [], is: { newPerson: person.name } });
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      console.error(`${person.name}: ${error.message}`);
    }
    const row = await db('people').where({ library_id: 1, name: person.name }).first('id');
    if (!row) continue;
    personId.set(person.id, row.id);
    const circle = person.circle[0]!.toUpperCase() + person.circle.slice(1);
    if (!circleId.has(circle)) circleId.set(circle, (await makeCircle(app, by, { name: circle })).id);
    await changePerson(app, by, row.id, {
      nickname: person.nickname,
      born: person.born,
      circles: [circleId.get(circle)!],
    });
  }
  const alike = <T>(list: readonly T[], what: (one: T) => string): T[][] => {
    const groups = new Map<string, T[]>();
    for (const one of list) groups.set(what(one), [...(groups.get(what(one)) ?? []), one]);
    return [...groups.values()];
  };
  for (const some of alike(said.stars, ({ stars }) => String(stars)))
    await changePictures(app, by, idsOf(some.map((one) => one.file)), { rating: some[0]!.stars });
  const hearts = idsOf(said.favourites);
  if (hearts.length) await changePictures(app, by, hearts, { favourite: true });
  for (const some of alike(said.tags, ({ tags }) => JSON.stringify(tags)))
    await changePictures(app, by, idsOf(some.map((one) => one.file)), { addTags: some[0]!.tags });
  for (const { file, caption } of said.captions)
    for (const id of idsOf([file])) await changePictures(app, by, [id], { caption });
  for (const { file, title } of said.titles)
    for (const id of idsOf([file])) await changePictures(app, by, [id], { title });
  for (const { name, files } of said.albums) if (idsOf(files).length) await makePlainAlbum(app, by, name, idsOf(files));
  for (const { event, title } of said.eventNames) {
    const days = eventTitles.find((e) => e.key === event)?.days ?? [];
    const row = (await db('pictures')
      .where('library_id', 1)
      .whereIn('day', days)
      .whereNotNull('event_id')
      .groupBy('event_id')
      .orderByRaw('COUNT(*) DESC')
      .first('event_id')) as { event_id: number } | undefined;
    if (row) await nameEvent(app, by, row.event_id, title);
  }
  const who = (...ids: string[]) => ids.map((id) => personId.get(id)).filter((id): id is number => id !== undefined);
  const tag = async (...names: string[]) =>
    (await db('tags').where('library_id', 1).whereIn('folded', names).select('id')).map(
      ({ id }): Question => ({ tag: id }),
    );
  if (who('tove', 'emil').length === 2) {
    const summer: Question = { any: [6, 7, 8].map((month): Question => ({ taken: { month } })) };
    const shores: Question[] = [
      ['PT', 'Mosteiros'],
      ['SE', 'Rosersberg'],
      ['SE', 'Visby'],
    ].map(([country, place]) => ({ where: { country: country!, place: place! } }));
    await makeSmartAlbum(app, by, 'Tove and Emil by the water', {
      all: [
        { who: { people: who('tove', 'emil'), mode: 'all' } },
        summer,
        { any: [...(await tag('lake')), ...shores] },
      ],
    });
  }
  if (who('ruben', 'agathe').length)
    await makeSmartAlbum(app, by, 'Grandparents, three stars and up', {
      all: [{ who: { people: who('ruben', 'agathe'), mode: 'any' } }, { rating: { min: 3 } }],
    });
  await ask(db, 1, 'faces');
}
