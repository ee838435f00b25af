import { endSecond } from '../src/account/second';
import { Authenticator } from './authenticator';
import { openHouse, type Caller, type House } from './house';

const ORIGIN = 'http://localhost';
const NOBODY: Caller = { cookie: '', token: '' };
const PASSWORD = 'a-long-password';

/** Passkeys: made after the password, they open the door alone; and nothing that only looks like one does. */
describe('passkeys', () => {
  let house: House;
  beforeAll(async () => void (house = await openHouse()));
  afterAll(() => house?.stop());

  const post = async (at: string, body: object, as: Caller | null = house.keeper) => {
    const response = await house.fetch(
      `${ORIGIN}${at}`,
      { method: 'POST', body: JSON.stringify(body), headers: { 'content-type': 'application/json', origin: ORIGIN } },
      as,
    );
    return {
      status: response.status,
      cookie: response.headers
        .getSetCookie()
        .find((one) => one.startsWith('gemmel='))
        ?.split(';')[0],
      told: (await response.json()) as Record<string, never>,
    };
  };
  const begin = async (as: Caller | null = house.keeper) =>
    (await post('/api/me/passkeys/begin', { password: PASSWORD }, as)).told as unknown as { challenge: string };
  const made = async (phone: Authenticator, name = 'My phone') =>
    post('/api/me/passkeys', { name, response: phone.make(await begin()) });
  const challenge = async () =>
    (await post('/api/sign-in/passkey/begin', {}, NOBODY)).told as unknown as { challenge: string };
  const enter = (response: Record<string, unknown>) => post('/api/sign-in/passkey', { response }, NOBODY);

  test('one is made after the password, listed, opens the door once an answer, and is forgotten', async () => {
    const phone = new Authenticator(ORIGIN);
    expect((await post('/api/me/passkeys/begin', { password: 'not it at all' })).told['code']).toBe(
      'password-not-yours',
    );
    expect((await made(phone)).told).toMatchObject({ passkeys: [{ name: 'My phone', used: null }] });
    const answer = phone.answer(await challenge());
    const inside = await enter(answer);
    expect(inside.status).toBe(200);
    expect(inside.told['account']).toMatchObject({ email: 'keeper@house.example' });
    expect(inside.cookie).toMatch(/^gemmel=.{20,}/);
    // The same answer again is nobody's.
    expect((await enter(answer)).told['code']).toBe('passkey-not-known');
    const { passkeys } = await house.call('passkeys', {});
    expect(passkeys[0]!.used).not.toBeNull();
    expect(await house.call('endPasskey', { params: { id: passkeys[0]!.id } })).toEqual({ passkeys: [] });
    expect((await enter(phone.answer(await challenge()))).told['code']).toBe('passkey-not-known');
  });

  test('two answers to one challenge at one moment: one comes in', async () => {
    const phone = new Authenticator(ORIGIN);
    await made(phone);
    const asked = await challenge();
    const both = await Promise.all([enter(phone.answer(asked)), enter(phone.answer(asked))]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 401]);
  });

  test('nothing opens it that was made elsewhere, for something else, by somebody else, or by nobody who shows who they are', async () => {
    const phone = new Authenticator(ORIGIN);
    await made(phone);
    const elsewhere = new Authenticator('http://gemme1.example');
    expect((await post('/api/me/passkeys', { name: 'x', response: elsewhere.make(await begin()) })).status).toBe(401);
    // A challenge for making one does not open the door, nor the other way round, nor one of another account.
    expect((await enter(phone.answer(await begin()))).status).toBe(401);
    expect((await post('/api/me/passkeys', { name: 'x', response: phone.make(await challenge()) })).status).toBe(401);
    const other = await house.member('helper');
    const theirs = { name: 'x', response: new Authenticator(ORIGIN).make(await begin()) };
    expect((await post('/api/me/passkeys', theirs, other)).status).toBe(401);
    // One that this house has not made, or long ago.
    expect((await enter(phone.answer({ challenge: Buffer.alloc(56, 7).toString('base64url') }))).status).toBe(401);
    const now = jest.spyOn(Date, 'now').mockReturnValue(Date.now() - 6 * 60_000);
    const old = await challenge();
    now.mockRestore();
    expect((await enter(phone.answer(old))).status).toBe(401);
    expect((await enter(phone.answer(await challenge(), false))).status).toBe(401);
    const forged = phone.answer(await challenge());
    (forged['response'] as Record<string, string>)['signature'] = Buffer.alloc(70, 1).toString('base64url');
    expect((await enter(forged)).status).toBe(401);
    for (const response of [{}, { id: 7 }, { id: 'x', response: {} }])
      expect((await enter(response as Record<string, unknown>)).status).toBe(401);
    expect((await house.app.db('passkeys').where('name', 'x')).length).toBe(0);
    expect((await enter(phone.answer(await challenge()))).status).toBe(200);
  });

  test('nobody sees or forgets those of another; whoever runs the machine ends them with the second step', async () => {
    const [mine] = (await house.call('passkeys', {})).passkeys;
    const other = await house.member('keeper');
    expect(await house.call('passkeys', {}, other)).toEqual({ passkeys: [] });
    await expect(house.call('endPasskey', { params: { id: mine!.id } }, other)).rejects.toMatchObject({ status: 404 });
    const { id } = (await house.app.db('accounts').where('email', 'keeper@house.example').first('id'))!;
    await endSecond(house.app, id, PASSWORD);
    expect((await house.call('passkeys', {})).passkeys.length).toBeGreaterThan(0);
    await endSecond(house.app, id, null);
    expect(await house.call('passkeys', {})).toEqual({ passkeys: [] });
  });
});
