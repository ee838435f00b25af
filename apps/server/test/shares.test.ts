import { LOOK_AND_SAVE, TELLS_NOTHING, type Api, type CallInput, type Share } from '@gemmel/contract';
import { PLAIN_SHOW } from '@gemmel/core';
import path from 'node:path';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { forgetVisits } from '../src/share/visits';
import { DEMO, openHouse, type Caller, type House } from './house';

/** Shares: of everything there is, for everybody they can be for; what guests may, see, say and add; and what they never reach. */
describe('shares', () => {
  let house: House;
  let ids: number[];
  let album: number;
  const NOBODY: Caller = { cookie: '', token: '' };

  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    ids = (await house.app.db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    album = (await house.call('makeAlbum', { body: { name: 'Kites', ids: ids.slice(0, 4) } })).id;
    await house.call('change', {
      body: { ids: [ids[0]!], change: { title: 'A kite', caption: 'Up it goes', rating: 5, addTags: ['kite'] } },
    });
  });
  afterAll(() => house?.stop());

  type Asked = CallInput<Api['openShare']>['body'];
  const open = async (more: Partial<Asked>): Promise<Share> =>
    (
      await house.call('openShare', {
        body: { title: 'A share', of: { album }, reach: 'house', until: null, ...more } as Asked,
      })
    ).share;
  const tokenOf = (at: string | null) => at!.split('/').pop()!;
  /** A browser of a guest's: it keeps the mark it is given. */
  const browser = (agent = 'Mozilla/5.0 (iPhone; CPU iPhone OS 17_0 like Mac OS X) Mobile/15E148 Safari/604.1') => {
    let cookie = '';
    return async (at: string, body?: object, method = body ? 'POST' : 'GET') => {
      const response = await house.fetch(
        at,
        {
          method,
          headers: { cookie, 'user-agent': agent, ...(body ? { 'content-type': 'application/json' } : {}) },
          ...(body ? { body: JSON.stringify(body) } : {}),
        },
        null,
      );
      const set = response.headers.getSetCookie().find((one) => one.startsWith('gemmel-guest='));
      if (set) cookie = set.split(';')[0]!;
      const text = await response.text();
      const json = (response.headers.get('content-type') ?? '').includes('json');
      return {
        status: response.status,
        told: (json ? JSON.parse(text) : {}) as Record<string, never>,
        text,
        cookie: () => cookie,
      };
    };
  };
  const seen = async (at: string | null, ask = browser()) => {
    const { told, status } = await ask(`/api/guest/${tokenOf(at)}`);
    return { status, ids: ((told['pictures'] ?? []) as { id: number }[]).map(({ id }) => id), told };
  };

  describe('of what', () => {
    test('a live share follows its album, a frozen one shows what was there', async () => {
      const [live, frozen] = [await open({}), await open({ frozen: true })];
      expect((await seen(live.path)).ids).toEqual(ids.slice(0, 4));
      await house.call('putIntoAlbum', { params: { id: album }, body: { ids: [ids[4]!] } });
      expect((await seen(live.path)).ids).toEqual(ids.slice(0, 5));
      expect((await seen(frozen.path)).ids).toEqual(ids.slice(0, 4));
      await house.call('takeOutOfAlbum', { params: { id: album }, body: { ids: [ids[4]!] } });
    });

    test('an event, a question, a person, a place, a saved show and pictures; each by its name', async () => {
      const event = (await house.app.db('pictures').where('id', ids[0]!).first('event_id'))!.event_id!;
      const ofEvent = await open({ of: { event } });
      expect(ofEvent.about.kind).toBe('event');
      expect((await seen(ofEvent.path)).ids).toContain(ids[0]);
      const tag = (await house.app.db('tags').where('name', 'kite').first('id'))!.id;
      const asked = await open({ of: { question: { tag } } });
      expect((await seen(asked.path)).ids).toEqual([ids[0]]);
      await house.call('change', { body: { ids: [ids[1]!], change: { addTags: ['kite'] } } });
      expect(new Set((await seen(asked.path)).ids)).toEqual(new Set([ids[0], ids[1]]));
      const { id: show } = await house.call('makeShow', {
        body: { name: 'Kites at night', source: { album }, settings: PLAIN_SHOW },
      });
      const shown = await open({ of: { show } });
      expect(shown.about).toEqual({ kind: 'show', name: 'Kites at night' });
      expect((await seen(shown.path)).ids).toEqual(ids.slice(0, 4));
      const [person] = await house.app.db('people').insert({ library_id: 1, name: 'Bastian' });
      const of = await open({ of: { person: person! } });
      expect([of.about, (await seen(of.path)).ids]).toEqual([{ kind: 'person', name: 'Bastian' }, []]);
      await house.call('makeOwnPlace', {
        body: { name: 'The hill', lat: 57.6, lon: 18.3, metres: 500, hidden: false },
      });
      const { id: own } = (await house.call('ownPlaces', {})).places.find(({ name }) => name === 'The hill')!;
      await house.call('givePlace', {
        body: { given: [{ ids: [ids[3]!], spot: { lat: 57.6001, lon: 18.3001 } }], source: 'hand' },
      });
      const hill = await open({ of: { question: { where: { own } } } });
      expect([hill.about, (await seen(hill.path)).ids]).toEqual([{ kind: 'place', name: 'The hill' }, [ids[3]]]);
      const town = await open({ of: { question: { where: { country: 'SE', place: 'Visby' } } } });
      expect(town.about).toEqual({ kind: 'place', name: 'Visby' });
      await expect(open({ of: { event: 99_999 } })).rejects.toMatchObject({ status: 404 });
      await expect(open({ of: { show: 99_999 } })).rejects.toMatchObject({ status: 404 });
    });

    test('what is for fewer people than it reaches stays out, is told beforehand, and comes in when it is opened', async () => {
      const tried = await house.call('tryShare', { body: { of: { album }, reach: 'link' } });
      expect(tried).toMatchObject({ pictures: 0, beyond: { pictures: 4, me: 0, house: 4, family: 0 } });
      const share = await open({ reach: 'link' });
      expect((await seen(share.path)).ids).toEqual([]);
      await house.call('sayAudience', { body: { of: 'pictures', ids: [ids[2]!], audience: 'link' } });
      await house.call('sayAudience', { body: { of: 'pictures', ids: [ids[1]!], audience: 'me' } });
      expect((await seen(share.path)).ids).toEqual([ids[2]]);
      const wider = (await house.call('changeShare', { params: { id: share.id }, body: { reach: 'house' } })).share;
      expect(wider.path).toBe(share.path);
      // "Only me" goes into no share, however far it reaches.
      expect((await seen(wider.path)).ids).toEqual([ids[0], ids[2], ids[3]]);
      const at = `/api/guest/${tokenOf(wider.path)}/pictures/${ids[1]}/small`;
      expect((await browser()(at)).status).toBe(404);
      await house.call('sayAudience', { body: { of: 'pictures', ids: ids.slice(0, 4), audience: null } });
    });
  });

  describe('for whom', () => {
    test('named people have links of their own, closed and renewed one by one', async () => {
      const share = await open({
        anybody: false,
        people: [{ name: 'Noor', email: 'noor@kin.example' }, { name: 'Samira' }],
      });
      expect(share.path).toBeNull();
      const [noor, samira] = share.guests as [Share['guests'][0], Share['guests'][0]];
      expect([(await seen(noor.path)).ids.length, (await seen(samira.path)).ids.length]).toEqual([4, 4]);
      const own = await house.app.db('shares').where('id', share.id).first('token_hash');
      expect(own!.token_hash).not.toBeNull();
      const after = await house.call('closeGuest', { params: { id: share.id, guest: noor.id, what: 'close' } });
      expect((await seen(noor.path)).status).toBe(404);
      expect((await seen(samira.path)).status).toBe(200);
      expect(after.share.guests[0]!.path).toBeNull();
      const renewed = await house.call('closeGuest', { params: { id: share.id, guest: noor.id, what: 'renew' } });
      expect(renewed.share.guests[0]!.path).not.toBe(noor.path);
      expect((await seen(renewed.share.guests[0]!.path)).status).toBe(200);
      const { visits } = await house.call('visits', { params: { id: share.id } });
      expect(visits.map(({ name, device }) => `${name} by ${device}`).sort()).toEqual([
        'Noor by phone',
        'Samira by phone',
      ]);
      await expect(open({ anybody: false })).rejects.toMatchObject({ status: 400 });
    });

    test('members find it among what was shared with them, others do not', async () => {
      const [gran, uncle] = [await house.member('relative'), await house.member('relative')];
      const id = (await house.call('me', {}, gran)).member!.id;
      const share = await open({ title: 'For Gran', anybody: false, members: [id] });
      const { shares } = await house.call('mine', {}, gran);
      expect(shares).toMatchObject([{ title: 'For Gran', from: 'Keeper', pictures: 4, path: share.guests[0]!.path }]);
      expect((await house.call('mine', {}, uncle)).shares).toEqual([]);
      await house.call('closeShare', { params: { id: share.id } });
      expect((await house.call('mine', {}, gran)).shares).toEqual([]);
    });

    test('a word is asked for, tried ten times at most, and everything waits for it', async () => {
      const share = await open({ word: 'Wind' });
      const token = tokenOf(share.path);
      const ask = browser();
      for (const at of ['', `/pictures/${ids[0]}/small`, '/zip', `/pictures/${ids[0]}/comments`]) {
        const { status, told } = await ask(`/api/guest/${token}${at}`);
        expect([at, status, told['code']]).toEqual([at, 401, 'share-word']);
      }
      expect((await ask(`/api/guest/${token}/enter`, { word: 'calm' })).told['code']).toBe('share-wrong-word');
      expect((await ask(`/api/guest/${token}/enter`, { word: ' Wind ', name: 'Kai' })).told).toEqual({ name: 'Kai' });
      expect((await seen(share.path, ask)).ids).toHaveLength(4);
      expect((await ask(`/api/guest/${token}/pictures/${ids[0]}/small`)).status).toBe(200);
      const other = browser();
      const tries: number[] = [];
      for (let i = 0; i < 12; i++) tries.push((await other(`/api/guest/${token}/enter`, { word: `w${i}` })).status);
      expect(tries.slice(0, 9).every((status) => status === 401)).toBe(true);
      expect(tries.at(-1)).toBe(429);
    });
  });

  describe('how long', () => {
    test('so many visits and no more, also when two come at one moment; who is inside stays', async () => {
      const share = await open({ visits: 2 });
      const [first, second, third] = [browser(), browser(), browser()];
      expect((await seen(share.path, first)).status).toBe(200);
      const both = await Promise.all([seen(share.path, second), seen(share.path, third)]);
      expect(both.map(({ status }) => status).sort()).toEqual([200, 410]);
      expect((await seen(share.path, first)).status).toBe(200);
      const at = `/api/guest/${tokenOf(share.path)}/pictures/${ids[0]}/small`;
      expect((await first(at)).status).toBe(200);
      expect((await browser()(at)).status).toBe(410);
      expect((await house.call('shares', {})).shares.find(({ id }) => id === share.id)).toMatchObject({
        state: 'worn',
        path: null,
      });
    });

    test('a share is over when its day is', async () => {
      const share = await open({ until: '2099-01-01' });
      const first = `/api/guest/${tokenOf(share.path)}/pictures/${ids[0]}/small`;
      expect([(await browser()(first)).status, (await seen(share.path)).status]).toEqual([200, 200]);
      await house.app.db('shares').where('id', share.id).update({ until_day: '2020-01-01' });
      await new Promise((resolve) => setTimeout(resolve, 1100));
      const late = await browser()(`/api/guest/${tokenOf(share.path)}`);
      expect([late.status, late.told['code']]).toEqual([410, 'share-over']);
      expect((await browser()(first)).told['code']).toBe('share-over');
    });

    test('everything can be changed later under the same link, and taken back', async () => {
      const share = await open({ may: { ...LOOK_AND_SAVE, save: 'nothing' } });
      const at = `/api/guest/${tokenOf(share.path)}`;
      const original = `${at}/pictures/${ids[0]}/original?save`;
      expect([(await browser()(original)).status, (await browser()(`${at}/zip`)).status]).toEqual([403, 403]);
      const did = await house.call('changeShare', {
        params: { id: share.id },
        body: { title: 'Another name', may: { ...LOOK_AND_SAVE, save: 'screen' } },
      });
      expect(did.share).toMatchObject({ title: 'Another name', path: share.path, may: { save: 'screen' } });
      expect((await browser()(original)).status).toBe(403);
      expect((await browser()(`${at}/pictures/${ids[0]}/screen?save`)).status).toBe(200);
      await house.undo(did);
      expect((await browser()(`${at}/pictures/${ids[0]}/screen?save`)).status).toBe(403);
    });

    test('visits are told with their device and what was saved, for 90 days', async () => {
      const share = await open({});
      const at = `/api/guest/${tokenOf(share.path)}`;
      const ask = browser('Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0');
      await ask(at);
      await ask(`${at}/enter`, { name: 'Bastian' });
      await ask(`${at}/pictures/${ids[0]}/original?save`);
      await ask(`${at}/zip`);
      expect((await house.call('visits', { params: { id: share.id } })).visits).toMatchObject([
        { name: 'Bastian', device: 'computer', saved: 5 },
      ]);
      await house.app.db('share_visits').where('share_id', share.id).update({ at: '2020-01-01' });
      expect((await house.call('visits', { params: { id: share.id } })).visits).toEqual([]);
      await forgetVisits(house.app);
      expect(await house.app.db('share_visits').where('share_id', share.id)).toEqual([]);
    });
  });

  describe('what is told', () => {
    test('names, words and days only where the share says so', async () => {
      const told = async (tells: Partial<typeof TELLS_NOTHING>) =>
        (
          (await seen((await open({ tells: { ...TELLS_NOTHING, ...tells } })).path)).told[
            'pictures'
          ] as never as Record<string, unknown>[]
        )[0]!;
      expect(await told({})).toMatchObject({ title: null, caption: null, day: null, names: [] });
      expect(await told({ captions: true })).toMatchObject({ title: 'A kite', caption: 'Up it goes', day: null });
      expect(await told({ dates: true })).toMatchObject({
        title: null,
        day: expect.stringMatching(/^\d{4}/) as string,
      });
      const [person] = await house.app.db('people').insert({ library_id: 1, name: 'Agathe' });
      await house.app.db('faces').insert({
        library_id: 1,
        picture_id: ids[0]!,
        ...{ x: 0, y: 0, w: 0.1, h: 0.1, height_px: 9, quality: 1 },
        vector_a: Buffer.alloc(0),
        vector_b: Buffer.alloc(0),
        state: 'named',
        person_id: person!,
      });
      expect(await told({ names: true })).toMatchObject({ names: ['Agathe'] });
      await house.app.db('people').where('id', person!).update({ hidden: true });
      expect(await told({ names: true })).toMatchObject({ names: [] });
    });

    test('who else looks, when it is told', async () => {
      const share = await open({ tells: { ...TELLS_NOTHING, others: true } });
      const at = `/api/guest/${tokenOf(share.path)}`;
      const [one, other] = [browser(), browser()];
      await one(`${at}/enter`, { name: 'Kai' });
      expect((await other(at)).told['others']).toEqual(['Kai']);
      expect((await one(at)).told['others']).toEqual([]);
    });
  });

  describe('what guests say', () => {
    test('comments and hearts live with the picture; others see those of this share, the keeper hides and answers', async () => {
      const may = { ...LOOK_AND_SAVE, say: true };
      const [share, elsewhere] = [await open({ may }), await open({ may })];
      const at = `/api/guest/${tokenOf(share.path)}`;
      const [kai, noor] = [browser(), browser()];
      await kai(at);
      const comments = `${at}/pictures/${ids[0]}/comments`;
      expect((await kai(comments, { text: 'Lovely!' })).told['code']).toBe('share-name-first');
      await kai(`${at}/enter`, { name: 'Kai' });
      const said = (await kai(comments, { text: 'Lovely!' })).told['comments'] as never as { id: number }[];
      expect(said).toMatchObject([{ author: 'Kai', text: 'Lovely!', mine: true, house: false }]);
      expect((await noor(comments)).told['comments']).toMatchObject([{ author: 'Kai', mine: false }]);
      const there = `/api/guest/${tokenOf(elsewhere.path)}/pictures/${ids[0]}/comments`;
      expect((await noor(there)).told['comments']).toEqual([]);
      const { comments: house1 } = await house.call('picture', { params: { id: ids[0]! } });
      expect(house1.at(-1)).toMatchObject({ author: 'Kai', text: 'Lovely!', guests: 'read' });
      await noor(at);
      expect((await noor(`${at}/comments/${said[0]!.id}`, undefined, 'DELETE')).status).toBe(404);
      const answer = await house.call('answerComment', { params: { id: said[0]!.id }, body: { text: 'Thank you!' } });
      expect((await noor(comments)).told['comments']).toMatchObject([
        { author: 'Kai', house: false },
        { text: 'Thank you!', house: true, mine: false },
      ]);
      expect((await noor(there)).told['comments']).toEqual([]);
      await house.undo(answer);
      expect((await noor(comments)).told['comments']).toHaveLength(1);
      const { id: own } = await house.call('comment', { body: { ids: [ids[0]!], text: 'Between us.' } });
      await expect(house.call('answerComment', { params: { id: own }, body: { text: 'x' } })).rejects.toMatchObject({
        status: 404,
      });
      const hid = await house.call('hideComment', { params: { id: said[0]!.id }, body: { hidden: true } });
      expect((await noor(comments)).told['comments']).toEqual([]);
      await house.undo(hid);
      expect((await noor(comments)).told['comments']).toHaveLength(1);
      expect((await noor(`${at}/pictures/${ids[0]}/heart`, { on: true }, 'PUT')).told).toEqual({ hearts: 1 });
      expect((await noor(`${at}/pictures/${ids[0]}/heart`, { on: true }, 'PUT')).told).toEqual({ hearts: 1 });
      expect((await kai(`${at}/pictures/${ids[0]}/heart`, { on: true }, 'PUT')).told).toEqual({ hearts: 2 });
      // Enough said: it is read, and nothing more comes to it.
      await house.call('changeShare', { params: { id: share.id }, body: { may: { ...may, closed: true } } });
      expect((await noor(comments)).told['comments']).toHaveLength(1);
      for (const [more, body, method] of [
        [comments, { text: 'One more' }, 'POST'],
        [`${at}/pictures/${ids[0]}/heart`, { on: false }, 'PUT'],
      ] as const)
        expect((await kai(more, body, method)).told['code']).toBe('share-said-closed');
      await house.call('changeShare', { params: { id: share.id }, body: { may } });
      const first = (await kai(at)).told['pictures'] as never as Record<string, unknown>[];
      expect(first[0]).toMatchObject({ hearts: 2, heart: true, comments: 1 });
      expect((await kai(`${at}/comments/${said[0]!.id}`, undefined, 'DELETE')).status).toBe(200);
      await house.call('changeShare', { params: { id: share.id }, body: { may: LOOK_AND_SAVE } });
      expect((await kai(comments)).status).toBe(403);
    });
  });

  describe('what guests add', () => {
    const jpg = (hue: number) =>
      sharp({ create: { width: 64, height: 48, channels: 3, background: { r: hue, g: 40, b: 200 } } })
        .jpeg()
        .toBuffer();
    const send = async (at: string, cookie: string, item: number, bytes: Buffer) =>
      (
        await house.fetch(
          `${at}/uploads`,
          {
            method: 'POST',
            body: new Uint8Array(bytes),
            headers: {
              cookie,
              'tus-resumable': '1.0.0',
              'upload-length': String(bytes.length),
              'upload-metadata': `item ${Buffer.from(String(item)).toString('base64')}`,
              'content-type': 'application/offset+octet-stream',
              'content-length': String(bytes.length),
            },
          },
          null,
        )
      ).status;
    const may = { ...LOOK_AND_SAVE, add: true, files: 3 };

    test('they wait unseen until the keeper says yes, are then in the share, and can be taken back until then', async () => {
      const share = await open({ may });
      const at = `/api/guest/${tokenOf(share.path)}`;
      const [kai, noor] = [browser(), browser()];
      await kai(at);
      const files = [await jpg(10), await jpg(60)];
      const announced = { files: files.map((bytes, i) => ({ name: `kite ${i}.jpg`, bytes: bytes.length })) };
      expect((await kai(`${at}/additions`, announced)).told['code']).toBe('share-name-first');
      await kai(`${at}/enter`, { name: 'Kai' });
      const { told, cookie } = await kai(`${at}/additions`, announced);
      const [one, two] = told['additions'] as never as { item: number }[];
      const other = (await noor(at)).cookie();
      expect(await send(at, other, one!.item, files[0]!)).toBe(410);
      expect(await send(at, cookie(), one!.item, files[0]!)).toBe(201);
      expect(await send(at, cookie(), two!.item, files[1]!)).toBe(201);
      await house.quiet();
      const states = async () =>
        ((await kai(`${at}/additions`)).told['additions'] as never as { state: string }[]).map(({ state }) => state);
      expect(await states()).toEqual(['waiting', 'waiting']);
      expect((await noor(`${at}/additions`)).told['additions']).toEqual([]);
      expect((await seen(share.path, noor)).ids).toEqual(ids.slice(0, 4));
      const relative = await house.member('relative');
      // Which of the two is taken in first is not said.
      const [sent] = await house.app.db('batch_items').where('id', one!.item).select('picture_id');
      const added = sent!.picture_id!;
      expect((await house.fetch(`/api/pictures/${added}`, {}, relative)).status).toBe(404);
      expect((await kai(`${at}/additions/${two!.item}`, undefined, 'DELETE')).status).toBe(200);
      expect(await states()).toEqual(['waiting', 'refused']);
      const listed = (await house.call('shares', {})).shares.find(({ id }) => id === share.id)!;
      expect(listed.waiting).toBe(1);
      const { batches } = await house.call('batches', {});
      expect(batches[0]).toMatchObject({ name: 'Kai', guest: { title: 'A share', held: true } });
      const did = await house.call('shareAdditions', { params: { id: batches[0]!.id }, body: { yes: true } });
      expect((await seen(share.path, noor)).ids).toEqual([...ids.slice(0, 4), added]);
      expect(await states()).toEqual(['shown', 'refused']);
      expect((await kai(`${at}/additions/${one!.item}`, undefined, 'DELETE')).status).toBe(403);
      expect(did.act).not.toBeNull();
      // So many and no more.
      const more = { files: [1, 2].map((n) => ({ name: `${n}.jpg`, bytes: 10 })) };
      expect((await kai(`${at}/additions`, more)).told['code']).toBe('share-no-more');
    });

    test('a share that shows them at once does, and what the library has already is not told apart', async () => {
      const share = await open({ may: { ...may, shown: true }, of: { ids: ids.slice(0, 2) } });
      const at = `/api/guest/${tokenOf(share.path)}`;
      const kai = browser();
      await kai(at);
      await kai(`${at}/enter`, { name: 'Kai' });
      const known = (await house.app.db('pictures').where('id', ids[3]!).first('vault_path'))!;
      const files = [await jpg(120), readFileSync(path.join(house.app.paths.vault, 'home', known.vault_path))];
      const { told, cookie } = await kai(`${at}/additions`, {
        files: files.map((bytes, i) => ({ name: `new ${i}.jpg`, bytes: bytes.length })),
      });
      for (const [i, { item }] of (told['additions'] as never as { item: number }[]).entries())
        expect(await send(at, cookie(), item, files[i]!)).toBe(201);
      await house.quiet();
      const { ids: now } = await seen(share.path);
      expect(now.slice(0, 2)).toEqual(ids.slice(0, 2));
      expect(now).toHaveLength(3);
      expect(now).not.toContain(ids[3]);
      const additions = (await kai(`${at}/additions`)).told['additions'] as never as {
        state: string;
        picture: number | null;
      }[];
      expect(additions.map(({ state }) => state)).toEqual(['shown', 'shown']);
      expect(additions[1]!.picture).toBeNull();
    });
  });

  test('a guest reaches nothing but what is shared: by number, fingerprint, size, face, ZIP, comment, upload, or another share’s key', async () => {
    const share = await open({ of: { ids: [ids[0]!] }, may: { ...LOOK_AND_SAVE, say: true, add: true } });
    const other = await open({ of: { ids: [ids[5]!] }, may: { ...LOOK_AND_SAVE, say: true, add: true } });
    const at = `/api/guest/${tokenOf(share.path)}`;
    const ask = browser();
    await ask(at);
    await ask(`${at}/enter`, { name: 'Kai' });
    const outside = ids[5]!;
    const row = (await house.app.db('pictures').where('id', outside).first('sha256'))!;
    const face = (await house.app.db('faces').first('id'))!.id;
    const tries: [string, object?, string?][] = [
      ...['small', 'large', 'screen', 'original', 'play'].map((size): [string] => [
        `${at}/pictures/${outside}/${size}`,
      ]),
      [`${at}/pictures/${outside}/small?token=${tokenOf(other.path)}`],
      [`${at}/pictures/${row.sha256.toString('hex')}/small`],
      [`${at}/pictures/-1/small`],
      [`${at}/pictures/1e3/small`],
      [`${at}/pictures/${ids[0]}/..%2f${outside}`],
      [`${at}/pictures/${ids[0]}/huge`],
      [`${at}/zip?ids=${outside}`],
      [`${at}/pictures/${outside}/comments`],
      [`${at}/pictures/${outside}/comments`, { text: 'x' }],
      [`${at}/pictures/${outside}/heart`, { on: true }, 'PUT'],
      [`${at}/comments/1`, undefined, 'DELETE'],
      [`${at}/additions/1`, undefined, 'DELETE'],
      [`${at}/uploads/1`, undefined, 'PATCH'],
      [`/api/derived/${row.sha256.toString('hex')}/small`],
      [`/api/pictures/${ids[0]}`],
      [`/api/pictures/${ids[0]}/original`],
      [`/api/faces/${face}/portrait`],
      ['/api/library'],
      ['/api/progress'],
      ['/api/shares'],
      ['/api/guest/' + 'x'.repeat(43)],
    ];
    for (const [where, body, method] of tries) {
      const { status } = await ask(where, body, method);
      expect([where, method ?? (body ? 'POST' : 'GET'), status >= 400 && status < 500]).toEqual([
        where,
        method ?? (body ? 'POST' : 'GET'),
        true,
      ]);
    }
    // The cookie of a guest is no session, and a session of nobody is no guest.
    expect((await house.fetch('/api/library', { headers: { cookie: (await ask(at)).cookie() } }, NOBODY)).status).toBe(
      401,
    );
    expect((await ask(`${at}/zip?ids=${ids[0]},${outside}`)).text).not.toContain(
      (await house.app.db('pictures').where('id', outside).first('name'))!.name,
    );
    // What is closed meanwhile is closed for what is open, too.
    await house.call('closeShare', { params: { id: share.id } });
    for (const where of [
      at,
      `${at}/pictures/${ids[0]}/small`,
      `${at}/zip`,
      `${at}/additions`,
      `${at}/pictures/${ids[0]}/comments`,
    ])
      expect([where, (await ask(where)).status]).toEqual([where, 410]);
    expect((await ask(`${at}/pictures/${ids[0]}/comments`, { text: 'late' })).status).toBe(410);
  });
});
