import { PROBLEMS, REASONS, THINGS, WORK } from '@gemmel/contract';
import { LANGUAGES } from '@gemmel/core';
import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { up } from '../src/db/migrations/0013_words';
import { allKinds } from '../src/jobs/kind';
import { shellLanguages, speechIn, wishesOf } from '../src/words/speech';
import { filesBelow } from './killable';
import { DEMO, openHouse, ROOT, type House } from './house';

const PHONE = 'later/noors-phone/DCIM/100';

describe('the words of a house', () => {
  let house: House;
  let folder: string;
  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-words-'));
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  const pictureFrom = async (name: string, file: string) => {
    mkdirSync(path.join(folder, name));
    cpSync(path.join(DEMO, PHONE, file), path.join(folder, name, file));
    await house.takeIn(path.join(folder, name), name);
    return (await house.app.db('pictures').where('name', file).first('id', 'vault_path', 'library_id'))!;
  };
  const sidecarOf = (kept: string) =>
    readFileSync(path.join(house.app.paths.vault, 'home', `${kept}.xmp`), 'utf8').match(/<gemmel:taken>(.*)</)?.[1];

  test('every kind of work has a name', () => {
    expect([...allKinds()].map((one) => one.kind).sort()).toEqual(Object.keys(WORK).sort());
  });

  test('a member chooses what they read; nobody else’s choice changes', async () => {
    expect((await house.call('me', {})).member?.language).toBeNull();
    const other = await house.member('relative');
    await house.call('chooseLanguage', { body: { language: 'sv' } }, other);
    expect((await house.call('me', {}, other)).member?.language).toBe('sv');
    expect((await house.call('me', {})).member?.language).toBeNull();
    await expect(house.call('chooseLanguage', { body: { language: 'xx' as never } })).rejects.toThrow();
  });

  test('what the server writes is in the words of whoever reads: chosen, else wished for, else the library’s', async () => {
    mkdirSync(path.join(folder, 'notes'));
    writeFileSync(path.join(folder, 'notes/notes.txt'), 'nothing to see');
    cpSync(path.join(DEMO, PHONE, 'IMG_0813.jpg'), path.join(folder, 'notes/IMG_0813.jpg'));
    const batch = await house.takeIn(path.join(folder, 'notes'), 'notes');
    const list = async (wish?: string) =>
      (await house.fetch(`/api/batches/${batch}/report`, wish ? { headers: { 'accept-language': wish } } : {})).text();
    expect(await list()).toContain('Not a picture or clip');
    expect(await list('fr, de-AT;q=0.8, en;q=0.5')).toContain('Weder Bild noch Clip');
    await house.call('setLibraryLanguage', { body: { language: 'sv' } });
    expect(await list('fr')).toContain('Varken bild eller klipp');
    await house.call('chooseLanguage', { body: { language: 'de' } });
    expect(await list('sv')).toContain('Weder Bild noch Clip');
    const undone = await house.call('setLibraryLanguage', { body: { language: 'en' } });
    expect((await house.call('me', {})).language).toBe('en');
    await house.undo(undone);
    expect((await house.call('me', {})).language).toBe('sv');
    await house.call('setLibraryLanguage', { body: { language: 'en' } });
    await house.quiet();
  });

  test('folders that the machine names follow the language of the library, and their pictures with them', async () => {
    const picture = await pictureFrom('Remembered', 'IMG_0814.jpg');
    await house.call('mendDates', { body: { ids: [picture.id], how: { set: 'summer 1988' } } });
    await house.quiet();
    const kept = async () => (await house.app.db('pictures').where('id', picture.id).first('vault_path'))!.vault_path;
    expect(await kept()).toMatch(/^1988\/1988 summer\//);
    await house.call('setLibraryLanguage', { body: { language: 'de' } });
    await house.quiet();
    expect(await kept()).toMatch(/^1988\/1988 Sommer\//);
    // Beside the picture stands no word of any language.
    expect(sidecarOf(await kept())).toBe('1988-22');
    // A date may be said in any of them.
    await house.call('mendDates', { body: { ids: [picture.id], how: { set: 'omkring 1960' } } });
    await house.quiet();
    expect(sidecarOf(await kept())).toBe('1960~');
    await house.call('setLibraryLanguage', { body: { language: 'en' } });
    await house.quiet();
  });

  test('a sidecar with English words is read, and written again as a value', async () => {
    const at = path.join(folder, 'old');
    mkdirSync(at);
    cpSync(path.join(DEMO, PHONE, 'IMG_0816.jpg'), path.join(at, 'IMG_0816.jpg'));
    const words = await pictureFrom('Other', 'IMG_0815.jpg');
    await house.call('mendDates', { body: { ids: [words.id], how: { set: 'about 1960' } } });
    await house.quiet();
    const { vault_path } = (await house.app.db('pictures').where('id', words.id).first('vault_path'))!;
    const file = path.join(house.app.paths.vault, 'home', `${vault_path}.xmp`);
    const old = readFileSync(file, 'utf8').replace('>1960~<', '>about 1960<');
    writeFileSync(path.join(at, 'IMG_0816.jpg.xmp'), old);
    await house.takeIn(at, 'old');
    const read = (await house.app
      .db('pictures')
      .where('name', 'IMG_0816.jpg')
      .first('taken_exact', 'taken_about', 'taken_from'))!;
    expect(read).toMatchObject({ taken_exact: 'year', taken_about: 1, taken_from: '1960-01-01' });
    // What stands in the vault from before is written again when the tables are brought up to date.
    writeFileSync(file, old);
    await up(house.app.db);
    await house.runner.start();
    await house.quiet();
    expect(readFileSync(file, 'utf8')).toContain('<gemmel:taken>1960~<');
  });

  test('what was kept as English sentences becomes codes, once', async () => {
    const { db } = house.app;
    const batch = async (name: string, more: object = {}) =>
      (await db('batches').insert({ library_id: 1, name, state: 'done', way: 'browser', named: 'given', ...more }))[0]!;
    const loose = await batch('Pictures of 16 May at 14:07');
    const given = await batch('Pictures of Gran');
    const [source] = await db('sources').insert({ library_id: 1, kind: 'card', slug: 'card-1', name: 'Marten’s card' });
    const card = await batch('Marten’s card, 16 May 2026', { way: 'card', source_id: source });
    const reasons: [string, object][] = [
      ['is empty: it holds no bytes at all', { code: 'empty', params: {} }],
      ['is cut off or damaged; the file is kept aside', { code: 'cut-off', params: {} }],
      ['belongs to a.jpg, which was not taken in', { code: 'main-left-out', params: { name: 'a.jpg' } }],
      [
        'claims to be 70000 x 60000 pixels, more than can be opened safely',
        { code: 'too-many-pixels', params: { width: '70000', height: '60000' } },
      ],
      ['something nobody foresaw', { code: 'unexpected', params: { why: 'something nobody foresaw' } }],
    ];
    for (const [i, [reason]] of reasons.entries())
      await db('batch_items').insert({
        library_id: 1,
        batch_id: loose,
        path: `${i}`,
        bytes: 1,
        state: 'skipped',
        reason,
      });
    const act = async (kind: string, words: object) =>
      (await db('acts').insert({ library_id: 1, kind, words: JSON.stringify(words), pictures: 1 }))[0]!;
    const unnamed = await act('name event', { name: '2026-05-16', to: 'Kite day' });
    const joined = await act('join events', { name: 'Kites', to: '2026-05-16' });
    const later = await act('answer faces', { to: 'passer-by', n: 2 });
    const named = await act('answer faces', { to: 'Marten', n: 2 });
    for (let twice = 0; twice < 2; twice++) {
      await up(db);
      const batches = await db('batches').whereIn('id', [loose, given, card]).orderBy('id').select('name', 'named');
      expect(batches).toEqual([
        { name: '', named: 'loose' },
        { name: 'Pictures of Gran', named: 'given' },
        { name: 'Marten’s card', named: 'source' },
      ]);
      const items = await db('batch_items').where('batch_id', loose).orderBy('id').select('reason');
      expect(items.map((one) => JSON.parse(one.reason!) as object)).toEqual(reasons.map(([, said]) => said));
      const wordsOf = async (id: number) =>
        JSON.parse((await db('acts').where({ id }).first('words'))!.words) as object;
      expect(await wordsOf(unnamed)).toEqual({ day: '2026-05-16', to: 'Kite day' });
      expect(await wordsOf(joined)).toEqual({ name: 'Kites', toDay: '2026-05-16' });
      expect(await wordsOf(later)).toEqual({ what: ['passer-by'], n: 2 });
      expect(await wordsOf(named)).toEqual({ to: 'Marten', n: 2 });
    }
  });
});

describe('what is said in codes', () => {
  const sources = filesBelow(path.join(ROOT, 'apps/server/src'))
    .filter((file) => file.endsWith('.ts') && !file.includes('/migrations/'))
    .map((file) => readFileSync(file, 'utf8'))
    .join('\n');
  const said = (call: string) =>
    new Set([...sources.matchAll(new RegExp(`${call}\\(\\s*'([\\w-]+)'`, 'g'))].map((m) => m[1]!));
  const codes = [
    ...Object.keys(PROBLEMS)
      .filter((code) => code !== 'gone')
      .map((code) => `problem.${code}`),
    ...THINGS.map((thing) => `gone.${thing}`),
    ...Object.keys(REASONS).map((code) => `reason.${code}`),
    ...Object.keys(WORK).map((kind) => `work.${kind}`),
  ];

  test.each(LANGUAGES)('every problem of a route, every reason and every work has its words (%s)', (language) => {
    const { messages } = speechIn(language);
    expect(codes.filter((code) => !messages[code]?.length)).toEqual([]);
  });

  test('every code that a route or a job uses is in the tables, and every one in the tables is used', () => {
    const refused = said('refused');
    expect(refused.size).toBeGreaterThan(60);
    expect([...refused].filter((code) => !(code in PROBLEMS))).toEqual([]);
    expect(Object.keys(PROBLEMS).filter((code) => !sources.includes(`'${code}'`))).toEqual([]);
    expect([...said('notFound')].filter((thing) => !(THINGS as readonly string[]).includes(thing))).toEqual([]);
    expect(THINGS.filter((thing) => !sources.includes(`'${thing}'`))).toEqual([]);
    expect(Object.keys(REASONS).filter((code) => !sources.includes(`'${code}'`))).toEqual([]);
  });

  test('words speak only of what comes with the code', () => {
    const named = (text: string) => [...text.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!);
    const taken = (tokens: unknown): string[] =>
      Array.isArray(tokens)
        ? tokens.flatMap((one: unknown) =>
            Array.isArray(one)
              ? [String(one[0]), ...Object.values((one[2] as object | undefined) ?? {}).flatMap(taken)]
              : [],
          )
        : [];
    for (const language of LANGUAGES) {
      const { messages } = speechIn(language);
      for (const [code, [, title]] of Object.entries(PROBLEMS))
        if (code !== 'gone')
          expect([code, taken(messages[`problem.${code}`]).filter((name) => !named(title).includes(name))]).toEqual([
            code,
            [],
          ]);
      for (const [code, title] of Object.entries(REASONS))
        expect([code, taken(messages[`reason.${code}`]).filter((name) => !named(title).includes(name))]).toEqual([
          code,
          [],
        ]);
    }
  });
});

describe('voices', () => {
  test('wishes of a browser, the most wished for first; nonsense is no wish', () => {
    expect(wishesOf('de-AT, de;q=0.9, en;q=0.5')).toEqual(['de-AT', 'de', 'en']);
    expect(wishesOf('en;q=0.1, sv;q=0.7, *;q=0')).toEqual(['sv', 'en']);
    expect(wishesOf(undefined)).toEqual([]);
    expect(wishesOf(';;,=q')).toEqual(expect.any(Array));
  });
  test('the shell’s language', () => {
    expect(shellLanguages({ LANG: 'de_AT.UTF-8' })).toEqual(['de-AT']);
    expect(shellLanguages({ LC_ALL: 'C', LANG: 'sv_SE' })).toEqual(['sv-SE']);
  });
  test('one voice does not disturb another', () => {
    const id = 'reason.empty';
    expect([speechIn('de')._(id), speechIn('sv')._(id), speechIn('de')._(id)]).toEqual([
      'Eine leere Datei',
      'En tom fil',
      'Eine leere Datei',
    ]);
  });
  test('the command line speaks the shell’s language', () => {
    const cli = path.join(ROOT, 'apps/server/dist/cli.js');
    const said = (LANG: string) => {
      try {
        execFileSync(process.execPath, [cli, 'dance'], {
          env: { PATH: process.env['PATH'], LANG, GEMMEL_ROOT: ROOT },
          encoding: 'utf8',
          stdio: 'pipe',
        });
        return '';
      } catch (error) {
        return (error as { stderr: string }).stderr.trim();
      }
    };
    expect(said('de_DE.UTF-8')).toBe('Den Befehl „dance“ gibt es nicht. Siehe ./gemmel help.');
    expect(said('C.UTF-8')).toBe('There is no command “dance”. See ./gemmel help.');
  });
});
