import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { emptyBin, intoBin, restore } from '../src/bin/acts';
import type { Recipe } from '@gemmel/core';
import { derivedBase } from '../src/context';
import { secondLook } from '../src/touchup/looks';
import { touchUp } from '../src/touchup/touchUp';
import { undoAct } from '../src/act/undo';
import { ask } from '../src/jobs/jobs';
import { filesBelow, openKillable, type Killable } from './killable';
import { chances, describeLong, times } from './long';
import { jpeg, shaOf } from './pictures';
import { plant } from './planted';
import { pause } from './program';

const random = chances(15);
const PICTURES = times(14, 200);
/** Looks that somebody gives pictures meanwhile. */
const LOOKS: (Recipe | null)[] = [
  null,
  { v: 1, turn: 1 },
  { v: 1, mirror: true, light: { exposure: 20 } },
  { v: 1, crop: [0, 0, 0.5, 1] },
];
const KILLS = times(1, 30);

describeLong('binning, bringing back and touching up, killed again and again', () => {
  let house: Killable;
  beforeAll(async () => (house = await openKillable('bin')));
  afterAll(() => house?.stop());

  test('every original is whole and lies where its row says, in the bin or out of it', async () => {
    const { app, begin, kill } = house;
    const { db } = app;
    const root = path.join(app.paths.vault, 'home');
    const content = await plant(app, root, PICTURES, (i) => jpeg(i));
    const shas = new Map(
      (await db('pictures').select('id', 'sha256')).map((row) => [row.id, row.sha256.toString('hex')]),
    );
    const by = { library: 1, member: null };
    const keeper = { ...by, part: 'keeper' as const };
    const moving = async () => Number(((await db('vault_moves').count('* as n')) as unknown as [{ n: number }])[0].n);
    const some = (all: number[]) => all.filter(() => random() < 0.3);
    let caught = 0;
    let acts = 0;
    /** One thing somebody does while the process moves files. */
    const something = async () => {
      const draw = random();
      const here = (await db('pictures').select('id')).map((row) => row.id);
      const binned = (await db('binned').select('id')).map((row) => row.id);
      acts++;
      if (draw < 0.1) {
        // Looks come and go like pictures: only of some, so that there are never many.
        const from = here[Math.floor(random() * here.length)];
        if (from !== undefined)
          await secondLook(app, by, from, LOOKS[Math.floor(random() * LOOKS.length)]!).catch(() => undefined);
      } else if (draw < 0.25)
        await touchUp(app, by, some(here), LOOKS[Math.floor(random() * LOOKS.length)]!).catch(() => undefined);
      else if (draw < 0.55) await intoBin(app, by, some(here)).catch(() => undefined);
      else if (draw < 0.85) await restore(app, by, { ids: some(binned) });
      else {
        const last = await db('acts').whereNull('undone_by').whereNotNull('changes').orderBy('id', 'desc').first('id');
        if (last) await undoAct(app, keeper, last.id).catch(() => undefined);
      }
    };
    for (let n = 0; n < KILLS; n++) {
      await something();
      await db('jobs').update({ state: 'ready', taken_by: null, run_after: db.raw('UTC_TIMESTAMP(3)') });
      await begin();
      for (const until = Date.now() + 100 + random() * 400; Date.now() < until;) {
        await something();
        await db('jobs')
          .where('state', 'ready')
          .update({ run_after: db.raw('UTC_TIMESTAMP(3)') });
        await pause(random() * 60);
      }
      if (n % 5 === 4) await house.restartDb(random() * 200);
      // Mostly while it moves.
      for (let i = 0; i < 600 && !(await moving()); i++) await pause(5);
      await pause(random() * 20);
      await kill();
      if (await moving()) caught++;
    }
    const settle = async () => {
      await db('jobs').update({ state: 'ready', taken_by: null, run_after: db.raw('UTC_TIMESTAMP(3)') });
      await ask(db, 1, 'refile');
      await ask(db, 1, 'views');
      await begin();
      for (let still = 0; still < 3;) {
        still = (await db('jobs').whereNot('state', 'failed').first('id')) ? 0 : still + 1;
        await pause(200);
      }
      await kill();
      expect(await moving()).toBe(0);
    };
    await settle();
    const here = await db('pictures').select('id', 'vault_path');
    const binned = await db('binned_files').select('picture_id', 'file_id', 'vault_path');
    const beside = await db('picture_files').select('picture_id', 'vault_path');
    // Looks are further pictures, each with its own small file.
    for (const row of [
      ...(await db('pictures').whereNotNull('of_sha').select('id', 'sha256')),
      ...(await db('binned').whereNotNull('of_sha').select('id', 'sha256')),
    ])
      shas.set(row.id, row.sha256.toString('hex'));
    const looks = shas.size - PICTURES;
    expect(here.length + (await db('binned').select('id')).length).toBe(PICTURES + looks);
    const wanted = new Set<string>();
    const failed = await db('jobs').where('state', 'failed').select('kind', 'error');
    const isWhole = (id: number, at: string, clip: boolean) => {
      const bytes = readFileSync(path.join(root, at));
      expect(clip ? bytes.toString() : shaOf(bytes)).toBe(
        clip ? content.get(id)!.replace('picture', 'clip of') : shas.get(id),
      );
      wanted.add(at);
      if (clip) return;
      if (!existsSync(path.join(root, `${at}.xmp`)))
        throw new Error(`nothing is said beside ${at}; failed: ${JSON.stringify(failed)}`);
      wanted.add(`${at}.xmp`);
    };
    for (const { id, vault_path } of here) {
      isWhole(id, vault_path, false);
      expect(vault_path.startsWith('bin/')).toBe(false);
    }
    for (const { picture_id, vault_path } of beside) isWhole(picture_id, vault_path, true);
    for (const { picture_id, file_id, vault_path } of binned) {
      isWhole(picture_id, vault_path, file_id !== null);
      expect(vault_path.startsWith('bin/')).toBe(true);
    }
    // No view is without its file.
    for (const { view } of await db('pictures').whereNotNull('view').whereNotNull('recipe').select('view'))
      for (const size of ['-small.webp', '-large.jpg'])
        expect(existsSync(`${derivedBase(app, view!.toString('hex'))}${size}`)).toBe(true);
    expect(await db('pictures').whereRaw('NOT (thumb_view <=> view)').select('id')).toEqual([]);
    // Nothing is left behind, and nothing lies twice.
    const lying = () =>
      filesBelow(root)
        .map((file) => path.relative(root, file))
        .sort();
    expect(lying()).toEqual([...wanted].sort());
    // Emptied, with the process ended in the middle: what stays is whole, and of what went no file is left.
    await restore(app, by, { all: true });
    await intoBin(
      app,
      by,
      (await db('pictures').whereNotNull('of_sha').select('id')).map((row) => row.id),
    );
    await intoBin(app, by, [...content.keys()].slice(0, PICTURES / 2));
    await settle();
    await emptyBin(app, by, { all: true, word: 'Home' });
    for (let n = 0; n < times(1, 3); n++) {
      await db('jobs').update({ state: 'ready', taken_by: null });
      await begin();
      await pause(20 + random() * 150);
      await kill();
    }
    await settle();
    expect((await db('binned').where('state', 'gone').select('id')).length).toBe(PICTURES / 2 + looks);
    const left = await db('pictures').select('vault_path');
    const clips = await db('picture_files').select('vault_path');
    expect(lying()).toEqual(
      [
        ...left.flatMap((row) => [row.vault_path, `${row.vault_path}.xmp`]),
        ...clips.map((row) => row.vault_path),
      ].sort(),
    );
    console.log(
      `${acts} acts on ${PICTURES} pictures, ${looks} looks, killed ${KILLS} times (${caught} times with a move half done), emptied, with kills: every original is whole and lies where its row says`,
    );
  }, 400_000);
});
