import { createECDH, randomBytes } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import * as ece from 'http_ece';
import { LOOK_AND_SAVE } from '@gemmel/contract';
import { caughtIn } from '../src/mail/caught';
import { addPlace, isPushService, keysOf, pushTo } from '../src/notice/push';
import { tellByMail, tellByPush } from '../src/notice/tell';
import { StandInMailbox } from '../src/standin/mailbox';
import { DEMO, openHouse, type Caller, type House } from './house';

/** A push service on this machine: keeps what it is sent, and answers as it is told. */
interface Service {
  url: string;
  got: { path: string; body: Buffer; headers: Record<string, unknown> }[];
  answer: number;
  server: Server;
}

async function service(): Promise<Service> {
  const one: Service = { url: '', got: [], answer: 201, server: null as never };
  one.server = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part));
    request.on('end', () => {
      one.got.push({ path: request.url!, body: Buffer.concat(parts), headers: request.headers });
      response.writeHead(one.answer).end();
    });
  });
  await new Promise<void>((resolve) => one.server.listen(0, '127.0.0.1', resolve));
  one.url = `http://127.0.0.1:${(one.server.address() as AddressInfo).port}`;
  return one;
}

/** What is told of what others did: in the pages, by letters and to browsers; each only to whom it concerns. */
describe('quiet notices', () => {
  let house: House;
  let ids: number[];
  let relative: Caller;
  let relativeId: number;
  let keeperId: number;
  let push: Service;
  let mailbox: StandInMailbox;
  const folder = () => path.join(house.app.config.data, 'mailbox');

  beforeAll(async () => {
    house = await openHouse();
    const { db } = house.app;
    keeperId = (await db('members').where('part', 'keeper').first('id'))!.id;
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    ids = (await db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    relative = await house.member('relative');
    relativeId = (await db('members').orderBy('id', 'desc').first('id'))!.id;
    push = await service();
    mailbox = await StandInMailbox.open(folder());
    house.app.config.mail = { smtp: mailbox.smtp, from: 'Gemmel <pictures@house.example>', most: 10_000_000 };
    // Whoever came before the pictures finds them new.
    await db('members').update({ created_at: db.raw('UTC_TIMESTAMP(3) - INTERVAL 2 DAY') });
  });
  afterAll(async () => {
    push?.server.close();
    await mailbox?.close();
    await house?.stop();
  });

  const kinds = async (as = house.keeper) => (await house.call('notices', {}, as)).notices.map(({ kind }) => kind);
  const look = async (as = house.keeper) => {
    const [first] = (await house.call('notices', {}, as)).notices;
    await house.call('noticesSeen', { body: { until: first!.at } }, as);
  };
  const write = (picture: number, text: string, as: Caller) =>
    house.call('comment', { body: { ids: [picture], text } }, as);

  test('a relative hears of new pictures, of shares for them, and of answers; looking makes it old', async () => {
    expect(await house.call('notices', {}, relative)).toMatchObject({
      fresh: 1,
      notices: [{ kind: 'fresh', pictures: ids.length, fresh: true }],
    });
    await look(relative);
    expect(await house.call('notices', {}, relative)).toEqual({ fresh: 0, notices: [] });
    await write(ids[0]!, 'Nothing to do with you', house.keeper);
    expect(await kinds(relative)).toEqual([]);
    await write(ids[1]!, 'Is that me?', relative);
    await write(ids[1]!, 'It is!', house.keeper);
    const { share } = await house.call('openShare', {
      body: { title: 'Kites', of: { ids: ids.slice(0, 2) }, reach: 'house', until: null, members: [relativeId] },
    });
    const told = await house.call('notices', {}, relative);
    expect(told.notices.map(({ kind, text }) => [kind, text])).toEqual([
      ['share', 'Kites'],
      ['comment', 'It is!'],
    ]);
    expect(told.fresh).toBe(2);
    await house.call('closeShare', { params: { id: share.id } });
    expect(await kinds(relative)).toEqual(['comment']);
  });

  test('whoever lives here hears what others write and add, never of their own', async () => {
    expect((await house.call('notices', {})).notices.map(({ kind, who, text }) => [kind, who, text])).toEqual([
      ['comment', 'relative', 'Is that me?'],
    ]);
    const { db } = house.app;
    const [batch] = await db('batches').insert({
      library_id: 1,
      name: 'Phone',
      state: 'done',
      way: 'browser',
      brought_by: relativeId,
    });
    await db('pictures').whereIn('id', ids.slice(0, 3)).update({ batch_id: batch! });
    expect((await house.call('notices', {})).notices[0]).toMatchObject({
      kind: 'added',
      id: batch,
      who: 'relative',
      pictures: 3,
    });
    const { share } = await house.call('openShare', {
      body: { title: 'Hill', of: { ids: ids.slice(4, 6) }, reach: 'house', until: null, may: LOOK_AND_SAVE },
    });
    await db('batches').where('id', batch!).update({ share_id: share.id, held: true, brought_by: null, name: 'Kai' });
    expect((await house.call('notices', {})).notices[0]).toMatchObject({ kind: 'waiting', who: 'Kai', text: 'Hill' });
    await look();
    expect((await house.call('notices', {})).fresh).toBe(0);
    // Looking never goes back, and a keeper who looks with other eyes makes nothing old.
    await house.call('noticesSeen', { body: { until: '2020-01-01T00:00:00.000Z' } });
    expect((await house.call('notices', {})).fresh).toBe(0);
  });

  test('what is outside a relative’s view is not told', async () => {
    const { db } = house.app;
    await write(ids[7]!, 'Mine', relative);
    await write(ids[7]!, 'An answer', house.keeper);
    expect((await house.call('notices', {}, relative)).notices[0]!.text).toBe('An answer');
    await house.call('sayAudience', { body: { of: 'pictures', ids: [ids[7]!], audience: 'me' } });
    expect((await house.call('notices', {}, relative)).notices.map(({ text }) => text)).not.toContain('An answer');
    expect((await db('comments').where('text', 'An answer')).length).toBe(1);
  });

  test('letters come in the morning, as often as wished, only with something in them, and from one process', async () => {
    const { app } = house;
    const { db } = app;
    const morning = new Date('2026-12-01T09:00:00Z');
    await db('libraries').where('id', 1).update({ zone: 'Europe/Stockholm' });
    await house.call('setTold', { body: { digest: 'daily' } });
    expect(await tellByMail(app, new Date(Date.now() + 3_600_000))).toBe(0);
    await write(ids[5]!, 'How high it is', relative);
    expect(await tellByMail(app, new Date('2026-12-01T02:00:00Z'))).toBe(0);
    const sent = await Promise.all([tellByMail(app, morning), tellByMail(app, morning)]);
    expect(sent.sort()).toEqual([0, 1]);
    const [letter] = await caughtIn(folder());
    expect(letter!.to).toContain('keeper@house.example');
    expect(letter!.text).toContain('relative wrote: “How high it is”');
    expect(letter!.html).toContain('How high it is');
    expect(await tellByMail(app, new Date('2026-12-02T09:00:00Z'))).toBe(0);
    expect((await db('members').where('id', keeperId).first('digest_at'))!.digest_at).toMatch(/^2026-12-02/);
    // A mail server that is away: it is told another time.
    await db('members').where('id', keeperId).update({ digest_at: '2026-11-01 00:00:00.000' });
    const { mail } = app.config;
    app.config.mail = { ...mail!, smtp: 'smtp://127.0.0.1:9' };
    const complained = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    expect(await tellByMail(app, new Date('2026-12-03T09:00:00Z'))).toBe(0);
    complained.mockRestore();
    app.config.mail = mail;
    expect((await db('members').where('id', keeperId).first('digest_at'))!.digest_at).toMatch(/^2026-11-01/);
    expect(await tellByMail(app, new Date('2026-12-03T09:00:00Z'))).toBe(1);
    expect((await house.call('setTold', { body: { digest: 'never' } })).digest).toBe('never');
    expect(await tellByMail(app, new Date('2027-12-03T09:00:00Z'))).toBe(0);
  });

  test('browsers are told in locked words, once in a while, and forgotten when they are gone', async () => {
    const { app } = house;
    const { db } = app;
    const browser = createECDH('prime256v1');
    browser.generateKeys();
    const auth = randomBytes(16);
    const endpoint = `${push.url}/keeper`;
    await db('push_places').insert({
      member_id: keeperId,
      endpoint,
      endpoint_hash: Buffer.alloc(32, 1),
      p256dh: browser.getPublicKey('base64url'),
      auth: auth.toString('base64url'),
    });
    await db('members').where('id', keeperId).update({ pushed_at: '2026-01-01 00:00:00.000' });
    expect((await Promise.all([tellByPush(app), tellByPush(app)])).sort()).toEqual([0, 1]);
    expect(push.got).toHaveLength(1);
    const { body, headers } = push.got[0]!;
    expect(body.toString('latin1')).not.toContain('How high');
    const opened = ece.decrypt(body, { version: 'aes128gcm', privateKey: browser, authSecret: auth });
    expect(JSON.parse(opened.toString('utf8'))).toMatchObject({
      title: 'Test library',
      path: '/news',
      body: expect.stringMatching(/How high it is[^]*and \d+ things more/) as string,
    });
    expect(headers['authorization']).toContain(`k=${keysOf(app).publicKey}`);
    expect(keysOf(app)).toEqual(keysOf({ ...app }));
    // Nothing more for a quarter of an hour.
    await write(ids[6]!, 'And again', relative);
    expect(await tellByPush(app)).toBe(0);
    push.answer = 500;
    expect(await pushTo(app, keeperId, { title: 'a', body: 'b', path: '/news' })).toBe(0);
    expect((await db('push_places').first('failed'))!.failed).toBe(1);
    push.answer = 410;
    expect(await pushTo(app, keeperId, { title: 'a', body: 'b', path: '/news' })).toBe(0);
    expect(await db('push_places')).toEqual([]);
  });

  test('only what can be a push service of the wide world is written to', async () => {
    for (const bad of [
      'http://push.example/x',
      'https://127.0.0.1/x',
      'https://[::1]/x',
      'https://localhost/x',
      'https://nas.local/x',
      'https://push.example:8443/x',
      'https://a@push.example/x',
      'https://2130706433/x',
    ])
      expect([bad, isPushService(bad)]).toEqual([bad, false]);
    expect(isPushService('https://push.services.example/send/abc')).toBe(true);
    const keys = { p256dh: 'B'.repeat(87), auth: 'A'.repeat(22) };
    // Turned on again after a long while: what happened meanwhile is not told all at once.
    await house.app.db('members').where('id', keeperId).update({ pushed_at: '2020-01-01 00:00:00.000' });
    await addPlace(house.app, keeperId, { endpoint: 'https://push.example/0', keys });
    expect((await house.app.db('members').where('id', keeperId).first('pushed_at'))!.pushed_at).not.toMatch(/^2020/);
    await expect(addPlace(house.app, keeperId, { endpoint: 'https://10.0.0.1/x', keys })).rejects.toMatchObject({
      status: 400,
    });
    for (let n = 0; n < 12; n++) {
      const added = addPlace(house.app, keeperId, { endpoint: `https://push.example/${n}`, keys });
      if (n < 10) await added;
      else await expect(added).rejects.toMatchObject({ status: 409 });
    }
    // The same browser again is no further one.
    await addPlace(house.app, keeperId, { endpoint: 'https://push.example/3', keys });
    expect((await house.call('told', {})).places).toBe(10);
    expect((await house.call('endPushPlace', { body: { endpoint: 'https://push.example/3' } })).places).toBe(9);
    expect((await house.call('endPushPlace', { body: {} }, relative)).places).toBe(0);
    expect((await house.call('told', {})).places).toBe(9);
    expect((await house.call('endPushPlace', { body: {} })).places).toBe(0);
  });
});
