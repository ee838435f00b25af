import { vaultFolder, VAULT_LAYOUTS } from '@gemmel/core';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { ask } from '../src/jobs/jobs';
import { filesBelow, openKillable, type Killable } from './killable';
import { chances, describeLong } from './long';
import { plant } from './planted';
import { pause } from './program';

const random = chances(4);
const PICTURES = 500;
const KILLS = 30;

describeLong('moving the originals, killed again and again', () => {
  let house: Killable;
  beforeAll(async () => (house = await openKillable('moves')));
  afterAll(() => house?.stop());

  test('disk and database agree afterwards: every picture, sidecar and companion lies where its row says', async () => {
    const { app, begin, kill } = house;
    const { db } = app;
    const root = path.join(app.paths.vault, 'home');
    const content = await plant(app, root, PICTURES);
    const moving = async () => Number(((await db('vault_moves').count('* as n')) as unknown as [{ n: number }])[0].n);
    let caught = 0;
    let layout = 0;
    for (let n = 0; n < KILLS; n++) {
      if (n % 3 === 0) {
        layout = (layout + 1) % VAULT_LAYOUTS.length;
        await db('libraries').where('id', 1).update({ layout: VAULT_LAYOUTS[layout] });
      }
      await ask(db, 1, 'refile');
      // What a life before left running is free to be taken at once.
      await db('jobs').update({ state: 'ready', taken_by: null });
      await begin();
      await pause(40 + random() * 450);
      if (n % 5 === 4) await house.restartDb(random() * 200);
      await kill();
      if (await moving()) caught++;
    }
    await db('jobs').update({ state: 'ready', taken_by: null });
    await ask(db, 1, 'refile');
    await begin();
    for (let still = 0; still < 3;) {
      still = (await db('jobs').whereNot('state', 'failed').first('id')) ? 0 : still + 1;
      await pause(200);
    }
    await kill();
    expect(await moving()).toBe(0);
    const rows = (await db('pictures as p')
      .join('events as e', 'e.id', 'p.event_id')
      .select('p.id', 'p.vault_path', 'p.day', 'e.title', 'e.start_day as start')) as {
      id: number;
      vault_path: string;
      day: string;
      title: string | null;
      start: string;
    }[];
    expect(rows).toHaveLength(PICTURES);
    const wanted = new Set<string>();
    for (const row of rows) {
      const said = content.get(row.id)!;
      expect(readFileSync(path.join(root, row.vault_path), 'utf8').startsWith(`${said} `)).toBe(true);
      expect(readFileSync(path.join(root, `${row.vault_path}.xmp`), 'utf8')).toBe(said.replace('picture', 'said of'));
      expect(path.dirname(row.vault_path)).toBe(
        vaultFolder(row.day, { title: row.title, start: row.start }, VAULT_LAYOUTS[layout]),
      );
      wanted.add(row.vault_path).add(`${row.vault_path}.xmp`);
    }
    const beside = (await db('picture_files').select('picture_id', 'vault_path')) as {
      picture_id: number;
      vault_path: string;
    }[];
    for (const file of beside) {
      expect(readFileSync(path.join(root, file.vault_path), 'utf8')).toBe(
        content.get(file.picture_id)!.replace('picture', 'clip of'),
      );
      wanted.add(file.vault_path);
    }
    // Nothing is left behind, and nothing lies twice.
    expect(
      filesBelow(root)
        .map((file) => path.relative(root, file))
        .sort(),
    ).toEqual([...wanted].sort());
    console.log(
      `moved ${PICTURES} pictures through ${VAULT_LAYOUTS.length} layouts, killed ${KILLS} times (${caught} times with a move half done): disk and database agree`,
    );
  }, 400_000);
});
