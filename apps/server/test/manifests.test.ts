import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Manifest } from '../src/album/manifest';
import { openHouse, type House } from './house';
import { jpeg } from './pictures';

/** Albums as they are written into the open, and read back where nothing but the files is left. */
describe('albums in the open', () => {
  let house: House;
  let other: House | undefined;
  let source: string;
  let ids: number[];

  beforeAll(async () => {
    house = await openHouse();
    source = mkdtempSync(path.join(tmpdir(), 'gemmel-manifests-'));
    mkdirSync(path.join(source, 'Disk'));
    for (let n = 0; n < 6; n++)
      writeFileSync(path.join(source, 'Disk', `${n}.jpg`), await jpeg(n, `2026:05:1${n} 12:00:00`));
    await house.takeIn(path.join(source, 'Disk'));
    ids = (await house.app.db('pictures').orderBy('taken_local').select('id')).map((row) => row.id);
  });
  afterAll(async () => {
    await house?.stop();
    await other?.stop();
    rmSync(source, { recursive: true, force: true });
  });

  const folder = () =>
    path.join(house.app.config.data, 'albums', readdirSync(path.join(house.app.config.data, 'albums'))[0]!);
  const written = () => readdirSync(folder()).sort();
  const manifest = (name: string) => Manifest.parse(JSON.parse(readFileSync(path.join(folder(), name), 'utf8')));

  test('each is a JSON and a CSV file that follow what is done to it, and go with it', async () => {
    const { id } = await house.call('makeAlbum', { body: { name: 'Kiel: 3/4, "windy"', ids: [ids[2]!, ids[0]!] } });
    await house.call('makeChapter', {
      params: { id },
      body: { heading: 'Harbour', note: null, before: { picture: ids[0]! } },
    });
    await house.quiet();
    expect(written()).toEqual([`Kiel 3 4, windy (${id}).csv`, `Kiel 3 4, windy (${id}).json`]);
    const { items, ...rest } = manifest(`Kiel 3 4, windy (${id}).json`);
    expect(rest).toMatchObject({ name: 'Kiel: 3/4, "windy"', kind: 'plain', order: 'hand', shelves: [] });
    expect(items.map((item) => ('picture' in item ? item.by : item.heading))).toEqual(['Keeper', 'Harbour', 'Keeper']);
    const [heading, first] = readFileSync(path.join(folder(), `Kiel 3 4, windy (${id}).csv`), 'utf8').split('\n');
    expect(heading).toBe('file,album,place,chapter,by,sha256');
    expect(first).toMatch(/^2026\/.*2\.jpg,"Kiel: 3\/4, ""windy""",1,,Keeper,[0-9a-f]{64}$/);
    const renamed = await house.call('changeAlbum', { params: { id }, body: { name: 'Kiel' } });
    await house.quiet();
    expect(written()).toEqual([`Kiel (${id}).csv`, `Kiel (${id}).json`]);
    const sidecar = (await house.app.db('pictures').where('id', ids[0]!).first('vault_path'))!.vault_path;
    const slug = path.basename(folder());
    const beside = () => readFileSync(path.join(house.app.paths.vault, slug, `${sidecar}.xmp`), 'utf8');
    expect(beside()).toContain('<rdf:li>Kiel</rdf:li>');
    await house.undo(renamed);
    const removed = await house.call('removeAlbum', { params: { id } });
    await house.quiet();
    expect(written()).toEqual([]);
    expect(beside()).not.toContain('Kiel');
    await house.undo(removed);
    await house.quiet();
    expect(written()).toHaveLength(2);
    await house.call('removeAlbum', { params: { id } });
    await house.quiet();
  });

  test('from the files alone: order, chapters, words, days, cover, shelves and questions are there again', async () => {
    const outer = (await house.call('makeShelf', { body: { name: 'Journeys' } })).id;
    const shelf = (await house.call('makeShelf', { body: { name: 'North', on: outer } })).id;
    const tag = await house.call('change', { body: { ids: ids.slice(0, 3), change: { addTags: ['harbour'] } } });
    expect(tag.act).not.toBeNull();
    const tagId = (await house.app.db('tags').first('id'))!.id;
    const plain = (
      await house.call('makeAlbum', { body: { name: 'Ferry', ids: [4, 1, 3, 0].map((i) => ids[i]!), shelf } })
    ).id;
    await house.call('makeChapter', {
      params: { id: plain },
      body: { heading: 'Out', note: 'Early.', before: { picture: ids[4]! } },
    });
    await house.call('makeChapter', {
      params: { id: plain },
      body: { heading: null, note: 'Home again.', before: null },
    });
    await house.call('changeAlbum', {
      params: { id: plain },
      body: { description: 'The wrong one.', cover: ids[3]!, days: { from: '2026-05-01', to: '2026-05-31' } },
    });
    const smart = (
      await house.call('makeAlbum', {
        body: { name: 'Harbours', question: { tag: tagId }, best: { n: 50, spread: 0.5 }, shelf: outer },
      })
    ).id;
    await house.call('handAlbum', { params: { id: smart }, body: { ids: [ids[5]!], way: 'in' } });
    await house.call('handAlbum', { params: { id: smart }, body: { ids: [ids[1]!], way: 'out' } });
    await house.quiet();

    other = await openHouse();
    // What is in the other library has other numbers.
    await other.app.db('tags').insert({ library_id: 1, name: 'x', folded: 'x', branch: '0 x' });
    await other.takeIn(house.app.paths.vault);
    // Membership alone stands beside each picture; the manifests tell the rest.
    const before = (await other.call('albums', {})).albums;
    expect(before.map(({ name, pictures }) => [name, pictures])).toEqual([['Ferry', 4]]);
    await other.call('removeAlbum', { params: { id: before[0]!.id } });
    await other.takeIn(path.join(house.app.config.data, 'albums'));
    const { albums, shelves } = await other.call('albums', {});
    expect(albums.map(({ name, kind }) => [name, kind])).toEqual([
      ['Ferry', 'plain'],
      ['Harbours', 'smart'],
    ]);
    const shelfOf = (id: number | null): string[] => {
      const one = shelves.find((s) => s.id === id);
      return one ? [...shelfOf(one.shelf), one.name] : [];
    };
    expect(albums.map((one) => shelfOf(one.shelf))).toEqual([['Journeys', 'North'], ['Journeys']]);
    const name = async (one: number) => (await other!.app.db('pictures').where('id', one).first('name'))!.name;
    const ferry = await other.call('album', { params: { id: albums[0]!.id } });
    expect(await Promise.all(ferry.ids.map(name))).toEqual(['4.jpg', '1.jpg', '3.jpg', '0.jpg']);
    expect(ferry.chapters).toMatchObject([
      { at: 0, heading: 'Out', note: 'Early.' },
      { at: 4, heading: null, note: 'Home again.' },
    ]);
    expect(ferry.album).toMatchObject({
      description: 'The wrong one.',
      from: '2026-05-01',
      to: '2026-05-31',
      ownDays: true,
    });
    expect(await name(ferry.album.chosenCover!)).toBe('3.jpg');
    const harbours = await other.call('album', { params: { id: albums[1]!.id } });
    expect(await Promise.all(harbours.ids.map(name))).toEqual(['0.jpg', '2.jpg', '5.jpg']);
    expect(harbours.album.best).toEqual({ n: 50, spread: 0.5 });
    expect(await other.app.db('albums_said').select()).toEqual([]);
    // Taken in once more, nothing is there twice.
    await other.takeIn(path.join(house.app.config.data, 'albums'));
    expect((await other.call('albums', {})).albums).toHaveLength(2);
  });

  test('what is no manifest, or asks for somebody nobody knows here, does no harm', async () => {
    const strange = path.join(source, 'Strange');
    mkdirSync(strange);
    writeFileSync(path.join(strange, 'broken.json'), '{"gemmel":"album","version":1,"name":7}');
    writeFileSync(
      path.join(strange, 'who.json'),
      JSON.stringify({
        gemmel: 'album',
        version: 1,
        name: 'With somebody',
        kind: 'smart',
        words: null,
        shelves: [],
        days: null,
        order: 'date',
        backwards: false,
        cover: null,
        question: { v: 1, question: { who: { people: [1], mode: 'all' } } },
        names: { person: { 1: 'Nobody here' } },
        best: null,
        items: [
          {
            picture: (await house.app.db('pictures').where('id', ids[0]!).first('sha256'))!.sha256.toString('hex'),
            file: 'x',
            by: null,
            on: null,
          },
        ],
        putIn: [],
        keptOut: [],
      }),
    );
    await house.takeIn(strange);
    const { albums } = await house.call('albums', {});
    // It holds what the smart album held when it was written.
    expect(albums.find((one) => one.name === 'With somebody')).toMatchObject({ kind: 'plain', pictures: 1 });
    expect(existsSync(path.join(house.app.paths.incoming, 'lists'))).toBe(true);
    expect(readdirSync(path.join(house.app.paths.incoming, 'lists'))).toEqual([]);
  });
});
