import { slowLinks } from './slowLinks';
import {
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openBatch, walk } from '../src/intake/announce';
import { nameEvent } from '../src/event/shape';
import { setVaultLayout } from '../src/vault/layout';
import { replayMoves } from '../src/vault/moves';
import { openHouse, type House } from './house';
import { chances, times } from './long';
import { jpeg, pictureRow, shaOf, vaultShas } from './pictures';

const random = chances(8);
/** Files that come in under one name while folders move. */
const RACERS = times(8, 500);

describe('the vault, when two come to one place', () => {
  let house: House;
  let root: string;
  let source: string;
  beforeAll(async () => {
    house = await openHouse();
    root = path.join(house.app.paths.vault, 'home');
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-vault-'));
  });
  afterAll(async () => {
    slowLinks.on = false;
    await house?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  describe('a move that was written down and then cut', () => {
    const at = (name: string) => path.join(root, name);
    const put = (name: string, text: string) => {
      mkdirSync(path.dirname(at(name)), { recursive: true });
      writeFileSync(at(name), text);
    };
    let made = 0;
    const row = (vault_path: string) => pictureRow(house.app, ++made, { vault_path });
    const write = (picture: number, from_path: string, to_path: string) =>
      house.app.db('vault_moves').insert({ picture_id: picture, library_id: 1, from_path, to_path });
    const pathOf = async (id: number) =>
      ((await house.app.db('pictures').where('id', id).first('vault_path')) as { vault_path: string }).vault_path;
    beforeAll(() => house.runner.stop());
    afterEach(async () => {
      await house.app.db('vault_moves').delete();
      await house.app.db('pictures').delete();
      rmSync(root, { recursive: true, force: true });
    });

    test('another file has come to the new place: both stay, the moved one under another name, its words with it', async () => {
      put('a/IMG.jpg', 'mine');
      put('a/IMG.jpg.xmp', 'said of mine');
      put('b/IMG.jpg', 'somebody else’s');
      const id = await row('a/IMG.jpg');
      await write(id, 'a/IMG.jpg', 'b/IMG.jpg');
      expect(await replayMoves(house.app, 1)).toEqual([]);
      expect(await pathOf(id)).toBe('b/IMG (2).jpg');
      expect(readFileSync(at('b/IMG (2).jpg'), 'utf8')).toBe('mine');
      expect(readFileSync(at('b/IMG (2).jpg.xmp'), 'utf8')).toBe('said of mine');
      expect(readFileSync(at('b/IMG.jpg'), 'utf8')).toBe('somebody else’s');
      expect(existsSync(at('a'))).toBe(false);
    });

    test('another file has come to the old place, after the moved one had left it: it stays', async () => {
      put('b/IMG.jpg', 'mine');
      put('a/IMG.jpg', 'new here');
      put('a/IMG.jpg.xmp', 'said of the new one');
      const id = await row('b/IMG.jpg');
      await write(id, 'a/IMG.jpg', 'b/IMG.jpg');
      await replayMoves(house.app, 1);
      expect(await pathOf(id)).toBe('b/IMG.jpg');
      expect(readFileSync(at('a/IMG.jpg'), 'utf8')).toBe('new here');
      expect(readFileSync(at('a/IMG.jpg.xmp'), 'utf8')).toBe('said of the new one');
    });

    test('the moved file has gone: the row is not given somebody else’s', async () => {
      put('b/IMG.jpg', 'somebody else’s');
      const id = await row('a/IMG.jpg');
      await write(id, 'a/IMG.jpg', 'b/IMG.jpg');
      expect(await replayMoves(house.app, 1)).toEqual([]);
      expect(await house.app.db('vault_moves').select('id')).toEqual([]);
      expect(await pathOf(id)).toBe('a/IMG.jpg');
      expect(readFileSync(at('b/IMG.jpg'), 'utf8')).toBe('somebody else’s');
    });

    test.each([
      ['before anything', () => undefined],
      ['after the link', () => linkSync(at('a/IMG.jpg'), at('b/IMG.jpg'))],
      [
        'after the words were linked',
        () => ['', '.xmp'].forEach((x) => linkSync(at(`a/IMG.jpg${x}`), at(`b/IMG.jpg${x}`))),
      ],
    ])('cut %s, it ends where it should', async (_, cut) => {
      put('a/IMG.jpg', 'mine');
      put('a/IMG.jpg.xmp', 'said of mine');
      mkdirSync(at('b'));
      cut();
      const id = await row('a/IMG.jpg');
      await write(id, 'a/IMG.jpg', 'b/IMG.jpg');
      await replayMoves(house.app, 1);
      expect(await pathOf(id)).toBe('b/IMG.jpg');
      expect(readdirSync(at('b')).sort()).toEqual(['IMG.jpg', 'IMG.jpg.xmp']);
      expect(existsSync(at('a'))).toBe(false);
    });

    test('a row without its file has the name already: the move finds another', async () => {
      put('a/IMG.jpg', 'mine');
      const lost = await row('b/IMG.jpg');
      const id = await row('a/IMG.jpg');
      await write(id, 'a/IMG.jpg', 'b/IMG.jpg');
      expect(await replayMoves(house.app, 1)).toEqual([]);
      expect([await pathOf(lost), await pathOf(id)]).toEqual(['b/IMG.jpg', 'b/IMG (2).jpg']);
      expect(readFileSync(at('b/IMG (2).jpg'), 'utf8')).toBe('mine');
      expect(existsSync(at('b/IMG.jpg'))).toBe(false);
    });

    test('one that cannot be finished keeps no other back, and stays written down', async () => {
      put('a/IMG.jpg', 'mine');
      put('c', 'a file where a folder should be');
      put('d/other.jpg', 'other');
      const [stuck, fine] = [await row('a/IMG.jpg'), await row('d/other.jpg')];
      await write(stuck, 'a/IMG.jpg', 'c/IMG.jpg');
      await write(fine, 'd/other.jpg', 'e/other.jpg');
      expect(await replayMoves(house.app, 1)).toMatchObject([{ path: 'a/IMG.jpg' }]);
      expect([await pathOf(stuck), await pathOf(fine)]).toEqual(['a/IMG.jpg', 'e/other.jpg']);
      expect(readFileSync(at('a/IMG.jpg'), 'utf8')).toBe('mine');
      expect(await house.app.db('vault_moves').select('from_path')).toEqual([{ from_path: 'a/IMG.jpg' }]);
    });
  });

  test(`${RACERS} files of one name come in while their event is renamed and the layout changes: none lost, none double`, async () => {
    await house.stop();
    house = await openHouse();
    const { app } = house;
    const [event] = await app.db('events').insert({
      library_id: 1,
      title: 'Kite day',
      start_day: '2026-05-16',
      end_day: '2026-05-16',
      made_by: 'hand',
      span_by_hand: true,
    });
    const shas: string[] = [];
    for (let i = 0; i < RACERS; i++) {
      const bytes = await jpeg(
        i,
        `2026:05:16 ${String(8 + (i % 12)).padStart(2, '0')}:${String(i % 60).padStart(2, '0')}:00`,
      );
      shas.push(shaOf(bytes));
      mkdirSync(path.join(source, 'race', String(i)), { recursive: true });
      writeFileSync(path.join(source, 'race', String(i), 'IMG_0001.jpg'), bytes);
    }
    slowLinks.on = true;
    await openBatch(app, 1, 'Race', await walk(path.join(source, 'race')), { way: 'folder' });
    const busy = async () => Boolean(await app.db('jobs').where({ kind: 'intake' }).first('id'));
    let renamed = 0;
    while (await busy()) {
      await nameEvent(app, { library: 1, member: null }, event!, `Kite day ${++renamed % 3}`);
      if (renamed % 4 === 0)
        await setVaultLayout(app, { library: 1, member: null }, renamed % 8 ? 'event' : 'year/event');
      await new Promise((resolve) => setTimeout(resolve, 20 + random() * 60));
    }
    await house.quiet();
    slowLinks.on = false;
    expect(await app.db('jobs').where('state', 'failed').select('kind', 'error')).toEqual([]);
    expect(vaultShas(app)).toEqual([...shas].sort());
    const rows = (await app.db('pictures').select('vault_path', 'sha256')) as { vault_path: string; sha256: Buffer }[];
    expect(rows).toHaveLength(RACERS);
    for (const { vault_path, sha256 } of rows)
      expect(shaOf(readFileSync(path.join(app.paths.vault, 'home', vault_path)))).toBe(sha256.toString('hex'));
    expect(await app.db('vault_moves').select('id')).toEqual([]);
    console.log(`${RACERS} files of one name while their folder was renamed ${renamed} times: none lost, none double`);
  }, 400_000);

  describe('a stored file that is gone or rotten', () => {
    let file: string;
    let bytes: Buffer;
    let id: number;
    const stored = async () => {
      const row = (await house.app.db('pictures').where('id', id).first('vault_path', 'verified_at', 'broken_at')) as {
        vault_path: string;
        verified_at: string | null;
        broken_at: string | null;
      };
      return { ...row, file: path.join(house.app.paths.vault, 'home', row.vault_path) };
    };
    const again = async (name: string) => {
      const folder = path.join(source, name);
      mkdirSync(folder, { recursive: true });
      writeFileSync(path.join(folder, 'copy.jpg'), bytes);
      const batch = await house.takeIn(folder);
      const [item] = (await house.app.db('batch_items').where('batch_id', batch)) as {
        state: string;
        reason: string;
        mended: number;
      }[];
      return item!;
    };
    beforeAll(async () => {
      bytes = await jpeg(9001, '2026:06:01 10:00:00');
      mkdirSync(path.join(source, 'whole'), { recursive: true });
      writeFileSync(path.join(source, 'whole/IMG_9.jpg'), bytes);
      await house.takeIn(path.join(source, 'whole'));
      const row = await house.app
        .db('pictures')
        .where('sha256', Buffer.from(shaOf(bytes), 'hex'))
        .first('id');
      id = row!.id;
      file = (await stored()).file;
    });
    const rot = () => {
      const other = Buffer.from(bytes);
      other[other.length - 3]! ^= 1;
      writeFileSync(file, other);
    };
    const old = () =>
      house.app
        .db('pictures')
        .where('id', id)
        .update({ verified_at: house.app.db.raw('UTC_TIMESTAMP(3) - INTERVAL 40 DAY') });
    test('gone: giving it again puts it back, and says so', async () => {
      rmSync(file);
      expect(await again('gone')).toMatchObject({
        state: 'known',
        mended: 1,
        reason: expect.stringContaining('already-here-mended'),
      });
      expect(readFileSync(file).equals(bytes)).toBe(true);
      expect((await stored()).broken_at).toBeNull();
    });

    test('cut short: its size tells, and the damaged one is kept aside', async () => {
      writeFileSync(file, bytes.subarray(0, 100));
      expect(await again('cut')).toMatchObject({ state: 'known', mended: 1 });
      expect(readFileSync(file).equals(bytes)).toBe(true);
      const aside = path.join(house.app.paths.aside, 'home/damaged');
      expect(readdirSync(aside).some((name) => readFileSync(path.join(aside, name)).length === 100)).toBe(true);
    });

    test('rotten inside: read again when it was not read back for a month', async () => {
      rot();
      expect(await again('soon')).toMatchObject({ state: 'known', mended: 0 });
      await old();
      expect(await again('late')).toMatchObject({ state: 'known', mended: 1 });
      expect(readFileSync(file).equals(bytes)).toBe(true);
      expect(await again('whole again')).toMatchObject({
        mended: 0,
        reason: JSON.stringify({ code: 'already-here', params: {} }),
      });
    });

    test('before a browser sends it: what is damaged is asked for', async () => {
      const known = async () => {
        const { id: batch, items } = await house.call('openBatch', {
          body: { name: 'Sent', files: [{ path: 'Sent/copy.jpg', bytes: bytes.length }] },
        });
        const { known: here } = await house.call('fingerprints', {
          params: { id: batch },
          body: { prints: [{ item: items[0]!, sha256: shaOf(bytes) }] },
        });
        return { here: here.includes(items[0]!), item: items[0]! };
      };
      expect((await known()).here).toBe(true);
      rmSync(file);
      const { here, item } = await known();
      expect(here).toBe(false);
      expect((await house.send(item, bytes)).status).toBe(201);
      await house.quiet();
      expect(readFileSync(file).equals(bytes)).toBe(true);
    });

    test('a file beside a picture is looked after in the same way', async () => {
      const folder = path.join(source, 'pair');
      mkdirSync(folder, { recursive: true });
      const negative = Buffer.from('<x:xmpmeta xmlns:x="adobe:ns:meta/"/>');
      writeFileSync(path.join(folder, 'p.jpg'), await jpeg(9002));
      writeFileSync(path.join(folder, 'p.xmp'), negative);
      await house.takeIn(folder);
      const beside = (await house.app.db('picture_files').orderBy('id', 'desc').first('vault_path')) as {
        vault_path: string;
      };
      const lost = path.join(house.app.paths.vault, 'home', beside.vault_path);
      rmSync(lost);
      await house.takeIn(folder);
      expect(readFileSync(lost).equals(negative)).toBe(true);
    });
  });
});
