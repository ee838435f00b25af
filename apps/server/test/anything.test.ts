import path from 'node:path';
import { api, fileRoutes, type Api, type Endpoint } from '@gemmel/contract';
import { chances, LONG, times } from './long';
import { Maker } from '../../../packages/contract/src/made.testing';
import { DEMO, openHouse, type Caller, type House } from './house';

/**
 * Every route is asked anything its contract takes, by everybody: what comes back is an answer as the contract tells it, or a no in words.
 * Nothing breaks, whatever is asked and in whatever order.
 */
const random = chances(20_261_130);
const ROUNDS = times(1, 12);
/** Those that end who asks, or the whole of what is asked. */
const ENDS = new Set<keyof Api>(['signOut', 'firstRun', 'removeLibrary', 'acceptInvite']);

describe('anything that may be asked', () => {
  let house: House;
  let callers: [string, () => Promise<Caller | null>][];
  let maker: Maker;

  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    await house.takeIn(path.join(DEMO, 'stick'));
    const { db } = house.app;
    const ids = (await db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    await house.call('change', { body: { ids: ids.slice(0, 4), change: { addTags: ['lake › pike', 'kites'] } } });
    for (const name of ['One', 'Two']) await house.call('makeAlbum', { body: { name, ids: ids.slice(0, 3) } as never });
    await house.call('drawFace', {
      params: { id: ids[0]! },
      body: { box: [0.3, 0.3, 0.2, 0.2], is: { newPerson: 'Agathe Wend' } } as never,
    });
    await house.quiet();
    // What is asked for is not done: that is tried elsewhere.
    await house.runner.stop();
    maker = new Maker(random, [...new Set([...ids.slice(0, 6), 1, 2, 3, 4, 999_999])]);
    callers = [
      ['keeper', () => house.member('keeper')],
      ['helper', () => house.member('helper')],
      ['relative', () => house.member('relative')],
      ['nobody', () => Promise.resolve(null)],
    ];
  });
  afterAll(() => house?.stop());

  const routes = (Object.keys(api) as (keyof Api)[]).filter((name) => !ENDS.has(name));
  test.each(routes)('%s', async (name) => {
    const route = api[name] as Endpoint;
    const body = route.body ? Array.from({ length: ROUNDS }, () => maker.of(route.body!)) : [undefined];
    if (route.body) expect(body.filter((one) => one !== undefined).length).toBeGreaterThan(0);
    // The short form asks as one of them: mostly as a keeper, who may do most.
    const one = random() < 0.6 ? 0 : Math.floor(random() * callers.length);
    for (const [who, enter] of LONG ? callers : [callers[one]!]) {
      const caller = await enter();
      for (const asking of body) {
        if (route.body && asking === undefined) continue;
        const params = (route.params ? maker.of(route.params) : {}) as Record<string, unknown> | undefined;
        const query = (route.query ? maker.of(route.query) : {}) as Record<string, unknown> | undefined;
        if (!params || !query) continue;
        const at = route.path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(String(params[key])));
        const asked = new URLSearchParams(
          Object.entries(query).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]])),
        ).toString();
        const response = await house.fetch(
          asked ? `${at}?${asked}` : at,
          {
            method: route.method,
            ...(asking === undefined
              ? {}
              : { body: JSON.stringify(asking), headers: { 'content-type': 'application/json' } }),
          },
          caller,
        );
        const told = [who, `${route.method} ${at}`, JSON.stringify(asking), response.status];
        const answer = (await response.json()) as object;
        if (response.ok) {
          const as = route.answer.safeParse(answer);
          expect([...told, as.error?.message]).toEqual([...told, undefined]);
        } else {
          // A no has a reason of its own, also one for which something is away or full.
          const no = {
            status: response.status,
            code: expect.any(String) as string,
            params: expect.any(Object) as object,
          };
          expect([...told, answer]).toEqual([...told, expect.objectContaining(no)]);
          expect([...told, answer]).not.toEqual([...told, expect.objectContaining({ code: 'unexpected' })]);
        }
      }
    }
  });

  const files = fileRoutes.filter(
    ({ method, path: at }) => (method === 'GET' || method === 'HEAD') && at !== '/api/progress',
  );
  test.each(files.map((one) => [`${one.method} ${one.path}`, one] as const))('%s', async (_, { method, path: at }) => {
    const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!;
    const { sha256 } = (await house.app.db('pictures').first('sha256'))!;
    const given: Record<string, () => string> = {
      sha: () => pick([sha256.toString('hex'), '00'.repeat(32), 'x']),
      size: () => pick(['small', 'large', 'huge']),
    };
    for (const [who, enter] of callers) {
      const caller = await enter();
      for (let i = 0; i < 2 * ROUNDS; i++) {
        const asked = at.replace(/:(\w+)/g, (__, key: string) =>
          encodeURIComponent(given[key]?.() ?? pick(['1', '2', '999999', '-1', '0', 'x', '../..', '9'.repeat(30)])),
        );
        const response = await house.fetch(
          asked,
          { method, headers: { range: pick(['bytes=0-9', 'bytes=9-', 'x']) } },
          caller,
        );
        expect([who, asked, response.status]).toEqual([who, asked, expect.any(Number)]);
        if (response.status >= 500) expect([who, asked, response.status, await response.text()]).toBe('no accident');
        await response.body?.cancel();
      }
    }
  });
});
