import { PLAIN_SHOW } from '@gemmel/core';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openHouse, type House } from './house';
import { pictureRow } from './pictures';

/** Shows, and the household's own music. */
describe('shows', () => {
  let house: House;
  let ids: number[];
  let folder: string;

  beforeAll(async () => {
    house = await openHouse();
    folder = mkdtempSync(path.join(tmpdir(), 'gemmel-shows-'));
    ids = [];
    for (let n = 0; n < 4; n++)
      ids.push(
        await pictureRow(house.app, n, {
          day: `2026-05-1${n}`,
          taken_local: `2026-05-1${n} 12:00:00`,
          title: `No ${n}`,
        }),
      );
  });
  afterAll(async () => {
    await house?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  /** A piece of music of some seconds, a tone, with what is written in it. */
  const tone = (name: string, seconds: number, title?: string) => {
    const file = path.join(folder, name);
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      `sine=frequency=${300 + seconds}:duration=${seconds}`,
      ...(title ? ['-metadata', `title=${title}`, '-metadata', 'artist=Kai'] : []),
      file,
    ]);
    return readFileSync(file);
  };
  const bring = (name: string, bytes: Buffer) =>
    house.fetch(`/api/music?name=${encodeURIComponent(name)}`, { method: 'POST', body: bytes as unknown as BodyInit });
  const titles = async () => (await house.call('music', {})).music.map((piece) => piece.title);

  test('pieces of four kinds come in byte for byte, once, and are played in ranges', async () => {
    const bytes = tone('waltz.flac', 3, 'A waltz');
    const answer = (await (await bring('waltz.flac', bytes)).json()) as { music: { id: number; seconds: number } };
    expect(answer.music).toMatchObject({ title: 'A waltz', artist: 'Kai' });
    expect(answer.music.seconds).toBeCloseTo(3, 1);
    for (const [name, seconds] of [
      ['march.mp3', 2],
      ['song.m4a', 2],
      ['tune.ogg', 2],
    ] as const)
      expect((await bring(name, tone(name, seconds))).status).toBe(200);
    expect(await titles()).toEqual(['A waltz', 'march', 'song', 'tune']);
    // The same piece again is the one that is here.
    const again = (await (await bring('other name.flac', bytes)).json()) as { music: { id: number } };
    expect(again.music.id).toBe(answer.music.id);
    expect(await titles()).toHaveLength(4);
    const whole = await house.fetch(`/api/music/${answer.music.id}/file`);
    expect(whole.headers.get('content-type')).toBe('audio/flac');
    expect(Buffer.from(await whole.arrayBuffer()).equals(bytes)).toBe(true);
    const part = await house.fetch(`/api/music/${answer.music.id}/file`, { headers: { range: 'bytes=10-19' } });
    expect(part.status).toBe(206);
    expect(Buffer.from(await part.arrayBuffer()).equals(bytes.subarray(10, 20))).toBe(true);
  });

  test('another piece of the same name stands beside it; what is no music is refused and leaves nothing behind', async () => {
    expect((await bring('march.mp3', tone('march.mp3', 4))).status).toBe(200);
    const kept = path.join(house.app.config.data, 'music');
    const files = () => readdirSync(path.join(kept, readdirSync(kept)[0]!)).sort();
    expect(files()).toEqual(['march (2).mp3', 'march.mp3', 'song.m4a', 'tune.ogg', 'waltz.flac']);
    for (const bytes of [Buffer.from('no music at all'), Buffer.alloc(0), tone('clip.mp3', 1).subarray(0, 40)]) {
      const refused = await bring('../../evil.mp3', bytes);
      expect(refused.status).toBe(400);
    }
    expect(files()).toHaveLength(5);
    expect(readdirSync(house.app.paths.incoming).filter((name) => name.endsWith('.part'))).toEqual([]);
    const relative = await house.member('relative');
    const denied = await house.fetch('/api/music?name=x.mp3', { method: 'POST', body: 'x' }, relative);
    expect(denied.status).toBe(403);
  });

  test('removed and renamed, each can be taken back', async () => {
    const [first] = (await house.call('music', {})).music;
    const renamed = await house.call('changeMusic', { params: { id: first!.id }, body: { title: 'Zither' } });
    expect((await titles()).at(-1)).toBe('Zither');
    await house.undo(renamed);
    const removed = await house.call('removeMusic', { params: { id: first!.id } });
    expect(await titles()).not.toContain('A waltz');
    await house.undo(removed);
    expect(await titles()).toContain('A waltz');
  });

  test('a show of an album has its order and its chapters; of a question its pictures by time', async () => {
    const { id } = await house.call('makeAlbum', { body: { name: 'Lake', ids: [ids[3]!, ids[0]!, ids[2]!] } });
    await house.call('makeChapter', {
      params: { id },
      body: { heading: 'Two', note: null, before: { picture: ids[0]! } },
    });
    const album = await house.call('showOf', { body: { source: { album: id } } });
    expect(album).toMatchObject({
      title: 'Lake',
      from: '2026-05-10',
      to: '2026-05-13',
      chapters: [{ at: 1, heading: 'Two' }],
    });
    expect(album.pictures.map((one) => one.id)).toEqual([ids[3], ids[0], ids[2]]);
    const asked = await house.call('showOf', { body: { source: { question: { all: [] } } } });
    expect(asked.pictures.map((one) => one.id)).toEqual(ids);
    const { slides } = await house.call('slides', { body: { ids: [ids[1]!, 999_999, ids[0]!] } });
    expect(slides.map((one) => one.title)).toEqual(['No 1', 'No 0']);
    const kept = await house.call('makeShow', {
      body: { name: 'For the wall', source: { album: id }, settings: { ...PLAIN_SHOW, seconds: 8 } },
    });
    expect((await house.call('shows', {})).shows).toMatchObject([
      { name: 'For the wall', source: { album: id }, settings: { seconds: 8 } },
    ]);
    const changed = await house.call('changeShow', { params: { id: kept.id }, body: { name: 'Upstairs' } });
    await house.undo(changed);
    const removed = await house.call('removeShow', { params: { id: kept.id } });
    expect((await house.call('shows', {})).shows).toEqual([]);
    await house.undo(removed);
    expect((await house.call('shows', {})).shows[0]!.name).toBe('For the wall');
    await expect(
      house.call('makeShow', { body: { name: 'x', source: { album: 999_999 }, settings: PLAIN_SHOW } }),
    ).rejects.toMatchObject({ status: 404 });
  });

  describe('on a wall', () => {
    const begin = async () => (await house.call('openWall', {} as never, null as never)).token;
    const look = (token: string) => house.call('wall', { params: { token } } as never, null as never);
    const codeOf = async (token: string) => {
      const now = await look(token);
      return now.state === 'waiting' ? now.code : '';
    };
    const file = (at: string) => house.fetch(at, {}, null);

    test('a screen shows a code, is confirmed once, and then reaches its show and nothing else', async () => {
      const { id } = await house.call('makeAlbum', { body: { name: 'Wall', ids: ids.slice(0, 2) } });
      const token = await begin();
      const code = await codeOf(token);
      expect(code).toMatch(/^\d{6}$/);
      expect(await codeOf(token)).toBe(code);
      const body = { code, name: 'Kitchen', plays: { album: id } };
      const helper = await house.member('helper');
      await expect(house.call('confirmWall', { body }, helper)).rejects.toMatchObject({ status: 403 });
      const tried = await Promise.allSettled([
        house.call('confirmWall', { body }),
        house.call('confirmWall', { body }),
      ]);
      expect(tried.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
      const on = await look(token);
      expect(on).toMatchObject({ state: 'on', title: 'Kitchen', settings: { again: true } });
      expect(on.state === 'on' && on.show.pictures.map((one) => one.id)).toEqual(ids.slice(0, 2));
      const { slides } = await house.call('wallSlides', { params: { token }, body: { ids } } as never, null as never);
      expect(slides.map((slide) => slide.id)).toEqual(ids.slice(0, 2));
      expect((await file(`/api/wall/${token}/pictures/${ids[3]}/large`)).status).toBe(404);
      expect((await file(`/api/wall/${token}/pictures/${ids[0]}/original`)).status).toBe(404);
      const [piece] = (await house.call('music', {})).music;
      expect((await file(`/api/wall/${token}/music/${piece!.id}`)).status).toBe(404);
      // It follows what it is of.
      await house.call('putIntoAlbum', { params: { id }, body: { ids: [ids[3]!] } });
      expect(await look(token)).toMatchObject({ show: { pictures: { length: 3 } } });
      const [wall] = (await house.call('walls', {})).walls;
      expect(wall).toMatchObject({ name: 'Kitchen', plays: 'Wall' });
      await house.call('endWall', { params: { id: wall!.id } });
      await expect(look(token)).rejects.toMatchObject({ status: 410 });
      expect((await file(`/api/wall/${token}/pictures/${ids[0]}/large`)).status).toBe(410);
    });

    test('a code that is over is no code; guessing is slowed down; a strange secret reaches nothing', async () => {
      const { id } = await house.call('makeAlbum', { body: { name: 'Other wall', ids: ids.slice(0, 1) } });
      const token = await begin();
      const code = await codeOf(token);
      await house.app.db('walls').update({ code_until: house.app.db.raw('UTC_TIMESTAMP(3) - INTERVAL 1 MINUTE') });
      const body = { code, name: 'Hall', plays: { album: id } };
      await expect(house.call('confirmWall', { body })).rejects.toMatchObject({ status: 404 });
      const next = await codeOf(token);
      for (let i = 0; i < 9; i++)
        await house
          .call('confirmWall', { body: { ...body, code: next === '000000' ? '111111' : '000000' } })
          .catch(() => undefined);
      await expect(house.call('confirmWall', { body: { ...body, code: next } })).rejects.toMatchObject({ status: 429 });
      await expect(look('x'.repeat(43))).rejects.toMatchObject({ status: 410 });
      expect((await file(`/api/wall/${'x'.repeat(43)}/pictures/${ids[0]}/large`)).status).toBe(410);
      // A screen that waits reaches nothing.
      expect((await file(`/api/wall/${token}/pictures/${ids[0]}/large`)).status).toBe(404);
    });
  });
});
