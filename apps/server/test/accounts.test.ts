import { Secret, TOTP } from 'otpauth';
import { invite as inviteTo } from '../src/account/invites';
import { resetAddress } from '../src/account/resets';
import { up } from '../src/db/migrations/0025_accounts';
import { up as second } from '../src/db/migrations/0032_second';
import { dayIn, forgetHome, todayIn } from '../src/time/home';
import { openHouse, type Caller, type House } from './house';

/** Who belongs: accounts, membership in one and in several libraries, invitations, passwords, places where somebody is signed in. */
describe('accounts', () => {
  let house: House;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house?.stop());

  const said = (answer: Promise<unknown>) =>
    answer.then(
      () => 'done',
      (error: { status: number; message: string }) => `${error.status} ${error.message}`,
    );
  /** Asks as a new browser; answers with what came back and its own cookie and token. */
  const asked = async (
    at: string,
    body: object | null,
    headers: Record<string, string> = {},
    as: Caller | null = null,
  ) => {
    const response = await house.fetch(
      at,
      {
        method: body ? 'POST' : 'GET',
        ...(body ? { body: JSON.stringify(body) } : {}),
        headers: { ...(body ? { 'content-type': 'application/json' } : {}), ...headers },
      },
      as,
    );
    const cookie =
      response.headers
        .getSetCookie()
        .find((one) => one.startsWith('gemmel='))
        ?.split(';')[0] ?? '';
    const told = (await response.json()) as {
      token: string;
      code?: string;
      member: { id: number; part: string } | null;
    };
    return { status: response.status, told, caller: { cookie, token: told.token } };
  };
  const invite = async (name: string, part: 'keeper' | 'helper' | 'relative', more = {}) =>
    house.call('invite', { body: { name, part, ...more } });
  const tokenIn = (at: string) => at.split('/').pop()!;
  const joined = async (name: string, part: 'keeper' | 'helper' | 'relative') => {
    const { path: at } = await invite(name, part);
    const email = `${name.toLowerCase()}@kin.example`;
    const account = { name, email, password: 'a-long-password' };
    const { caller, told } = await asked(`/api/invite/${tokenIn(at)}`, { account });
    return { caller, email, id: told.member!.id };
  };
  const another = async (slug: string, name: string) => {
    const [library] = await house.app.db('libraries').insert({ slug, name });
    return library!;
  };

  describe('invitations', () => {
    test('a link brings somebody in, once, with the part it says', async () => {
      const { path: at, invite: made } = await invite('Agathe', 'relative');
      expect(at).toMatch(/^\/invite\/[\w-]{43}$/);
      const token = tokenIn(at);
      const { told: first } = await asked(`/api/invite/${token}`, null);
      expect(first).toMatchObject({ library: 'Test library', from: 'Keeper', name: 'Agathe', part: 'relative' });
      const account = { name: 'Agathe Wend', email: 'Agathe@Kin.example ', password: 'a-long-password' };
      const { status, caller, told } = await asked(`/api/invite/${token}`, {
        account: { ...account, email: account.email.trim() },
      });
      expect([status, told.member]).toEqual([200, expect.objectContaining({ name: 'Agathe', part: 'relative' })]);
      expect((await house.call('library', {}, caller)).name).toBe('Test library');
      const again = await asked(`/api/invite/${token}`, { account: { ...account, email: 'x@kin.example' } });
      expect([again.status, again.told.code]).toEqual([404, 'invite-over']);
      expect((await house.call('members', {})).invites.map(({ id }) => id)).not.toContain(made.id);
      expect((await asked('/api/sign-in', { email: 'agathe@kin.example', password: 'a-long-password' })).status).toBe(
        200,
      );
    });

    test('two who accept at the same moment: one comes in', async () => {
      const token = tokenIn((await invite('Both', 'helper')).path);
      const all = await Promise.all(
        [1, 2, 3].map((n) =>
          asked(`/api/invite/${token}`, {
            account: { name: 'Both', email: `both${n}@kin.example`, password: 'a-long-password' },
          }),
        ),
      );
      expect(all.map(({ status }) => status).sort()).toEqual([200, 404, 404]);
      const made = await house.app.db('accounts').where('email', 'like', 'both%').select('id');
      expect(made).toHaveLength(1);
    });

    test('a new link ends the old one; one taken back, one that is over and one that never was say the same', async () => {
      const first = await invite('Later', 'helper');
      const second = await house.call('renewInvite', { params: { id: first.invite.id } });
      expect((await asked(`/api/invite/${tokenIn(second.path)}`, null)).status).toBe(200);
      await house.call('revokeInvite', { params: { id: first.invite.id } });
      const late = await invite('Late', 'helper');
      await house.app
        .db('invites')
        .where('id', late.invite.id)
        .update({ expires_at: house.app.db.raw('UTC_TIMESTAMP(3) - INTERVAL 1 SECOND') });
      const answers = await Promise.all(
        [first.path, second.path, late.path, '/invite/never'].map((at) => asked(`/api/invite/${tokenIn(at)}`, null)),
      );
      expect(new Set(answers.map(({ told }) => JSON.stringify(told))).size).toBe(1);
      expect((await house.call('members', {})).invites.find(({ name }) => name === 'Late')!.state).toBe('over');
      expect((await house.call('renewInvite', { params: { id: late.invite.id } })).invite.state).toBe('open');
    });

    test('the database holds no link, and an address that has an account must sign in', async () => {
      const { path: at } = await invite('Twice', 'helper');
      const rows = JSON.stringify(await house.app.db('invites').select());
      expect(rows).not.toContain(tokenIn(at));
      const taken = { name: 'K', email: 'keeper@house.example', password: 'a-long-password' };
      const answer = await asked(`/api/invite/${tokenIn(at)}`, { account: taken });
      expect([answer.status, answer.told.code]).toEqual([409, 'address-taken']);
    });
  });

  describe('several libraries', () => {
    test('one account, two libraries: each request names its own, and nothing of the other is in reach', async () => {
      const library = await another('cabin', 'The cabin');
      const [made] = await house.app.db('members').insert({ library_id: library, name: 'Else', part: 'keeper' });
      const { path: at } = await inviteTo(house.app, { library, member: made! }, { name: 'Keeper', part: 'relative' });
      const accepted = await asked(
        `/api/invite/${tokenIn(at)}`,
        { account: null },
        { 'x-gemmel-token': house.keeper.token },
        house.keeper,
      );
      expect(accepted.told).toMatchObject({
        library: { slug: 'cabin' },
        member: { part: 'relative' },
        libraries: [
          { slug: 'home', part: 'keeper' },
          { slug: 'cabin', part: 'relative' },
        ],
      });
      const inOne = async (slug: string | null, at = '/api/library') => {
        const response = await house.fetch(at, { headers: slug ? { 'x-gemmel-library': slug } : {} });
        return [response.status, ((await response.json()) as { name?: string }).name];
      };
      expect(
        await Promise.all([inOne('home'), inOne('cabin'), inOne(null), inOne(null, '/api/library?in=cabin')]),
      ).toEqual([
        [200, 'Test library'],
        [200, 'The cabin'],
        [200, 'Test library'],
        [200, 'The cabin'],
      ]);
      // A relative there is no keeper, whatever they are at home; and nobody is anything where they do not belong.
      expect((await inOne('cabin', '/api/members'))[0]).toBe(403);
      await another('far', 'Far away');
      for (const slug of ['far', 'never'])
        expect([slug, (await inOne(slug))[0], (await inOne(slug, '/api/me'))[0]]).toEqual([slug, 403, 200]);
    });

    test('another library is made at once, empty and its maker’s own; two of one name are told apart', async () => {
      const made = await Promise.all([1, 2].map(() => house.call('makeLibrary', { body: { name: 'Åsa’s attic!' } })));
      expect(made.map(({ library }) => library!.slug).sort()).toEqual(['asas-attic', 'asas-attic-2']);
      expect(made[0]!.member!.part).toBe('keeper');
      const there = await house.fetch('/api/library', { headers: { 'x-gemmel-library': 'asas-attic' } });
      expect(await there.json()).toMatchObject({ name: 'Åsa’s attic!', pictures: 0 });
      const helper = await house.member('helper');
      expect(await said(house.call('makeLibrary', { body: { name: 'Mine' } }, helper))).toMatch(/^403/);
      // A keeper there changes, lets go and lets in nobody here.
      const { id } = (await house.app.db('members').where({ library_id: 1, part: 'helper' }).first('id'))!;
      for (const [method, at, body] of [
        ['PATCH', `/api/members/${id}`, { part: 'relative' }],
        ['POST', `/api/members/${id}/remove`, { said: 'goes' }],
        ['POST', `/api/members/${id}/password`, {}],
        ['PUT', `/api/members/${id}/view`, { question: null, reach: 'house' }],
      ] as const) {
        const response = await house.fetch(at, {
          method,
          body: JSON.stringify(body),
          headers: { 'content-type': 'application/json', 'x-gemmel-library': 'asas-attic' },
        });
        expect([at, response.status]).toEqual([at, 404]);
      }
      expect((await house.app.db('members').where({ id }).first('part', 'left_at'))!).toMatchObject({
        part: 'helper',
        left_at: null,
      });
    });

    test('each library has its own time zone, which says what day it is there; taken back like any act', async () => {
      await house.call('makeLibrary', { body: { name: 'Far out' } });
      const { id } = (await house.app.db('libraries').where('slug', 'far-out').first('id'))!;
      const { zone } = await house.call('me', {});
      const did = await house.call('setLibraryZone', { body: { zone: 'Pacific/Kiritimati' } });
      const days = async () => [await todayIn(house.app.db, 1), await todayIn(house.app.db, id)];
      const now = Date.now();
      expect(await days()).toEqual([dayIn('Pacific/Kiritimati', now), dayIn(zone, now)]);
      expect(dayIn('Pacific/Kiritimati', Date.parse('2026-11-28T11:00:00Z'))).toBe('2026-11-29');
      expect(dayIn('Pacific/Pago_Pago', Date.parse('2026-11-28T11:00:00Z'))).toBe('2026-11-28');
      expect((await house.call('me', {})).zone).toBe('Pacific/Kiritimati');
      await house.undo(did);
      forgetHome(house.app.db, 1);
      expect((await house.call('me', {})).zone).toBe(zone);
      expect(await said(house.call('setLibraryZone', { body: { zone: 'Atlantis/Harbour' } }))).toMatch(/^400/);
    });

    test('two libraries have a device of one name: the password tells whose it is', async () => {
      await house.call('makeLibrary', { body: { name: 'Barn' } });
      const add = async (slug: string) => {
        const response = await house.fetch('/api/sources', {
          method: 'POST',
          body: JSON.stringify({ name: 'Noor’s phone' }),
          headers: { 'content-type': 'application/json', 'x-gemmel-library': slug },
        });
        return (await response.json()) as { id: number; slug: string; password: string };
      };
      const [home, barn] = [await add('home'), await add('barn')];
      expect(home.slug).toBe(barn.slug);
      for (const { slug, password, id } of [home, barn]) {
        const authorization = `Basic ${Buffer.from(`x:${password}`).toString('base64')}`;
        const put = await house.fetch(
          `/dav/${slug}/note-${id}.txt`,
          { method: 'PUT', body: `of ${id}`, headers: { authorization } },
          null,
        );
        expect(put.status).toBe(201);
      }
      const files = (await house.app.db('source_files').select('source_id', 'path')) as object[];
      expect(files).toEqual([
        { source_id: home.id, path: `note-${home.id}.txt` },
        { source_id: barn.id, path: `note-${barn.id}.txt` },
      ]);
    });

    test('a keeper may not set the password of somebody who belongs to another library as well', async () => {
      const { id, email } = await joined('Zelda', 'helper');
      const library = await another('attic', 'The attic');
      const { id: account } = (await house.app.db('accounts').where('email', email).first('id'))!;
      await house.app.db('members').insert({ library_id: library, account_id: account, name: 'Zelda', part: 'keeper' });
      expect(await said(house.call('resetMember', { params: { id } }))).toMatch(/^403/);
    });
  });

  describe('parts and going', () => {
    test('a library keeps a keeper, also when two step back at the same moment', async () => {
      const { id: me } = (await house.app.db('members').where({ library_id: 1, part: 'keeper' }).first('id'))!;
      expect(await said(house.call('changeMember', { params: { id: me }, body: { part: 'helper' } }))).toMatch(/^409/);
      expect(await said(house.call('leave', { body: { said: 'stays' } }))).toMatch(/^409/);
      const other = await joined('Vera', 'keeper');
      const done = await Promise.all(
        [me, other.id].map((id) => said(house.call('changeMember', { params: { id }, body: { part: 'helper' } }))),
      );
      expect(done.filter((one) => one === 'done')).toHaveLength(1);
      await house.app.db('members').where('id', me).update({ part: 'keeper' });
      await house.app.db('members').where('id', other.id).update({ part: 'helper' });
    });

    test('a keeper who is one no longer keeps no way back in by an invitation of their own', async () => {
      const other = await joined('Wanda', 'keeper');
      const { path: at } = await house.call('invite', { body: { name: 'Me again', part: 'keeper' } }, other.caller);
      await house.call('changeMember', { params: { id: other.id }, body: { part: 'relative' } });
      expect((await asked(`/api/invite/${tokenIn(at)}`, null)).told.code).toBe('invite-over');
    });

    test('somebody let go is out at once, everywhere, and comes back by an invitation', async () => {
      const { caller, id, email } = await joined('Otto', 'helper');
      expect((await house.call('library', {}, caller)).name).toBe('Test library');
      await house.call('removeMember', { params: { id }, body: { said: 'stays' } });
      expect(await said(house.call('library', {}, caller))).toMatch(/^401/);
      expect(await house.app.db('accounts').where('email', email).first('id')).toBeUndefined();
      expect((await house.app.db('members').where('id', id).first('name'))!.name).toBe('Otto');
    });

    test.each(['stays', 'goes'] as const)('what they wrote %s, as it was asked', async (left) => {
      const { caller, id } = await joined(`Writer${left}`, 'relative');
      await house.app.db('members').where('id', id).update({ view: '{"v":1,"question":{"all":[]}}', reach: 'house' });
      const [picture] = await house.app.db('pictures').insert({
        library_id: 1,
        sha256: Buffer.alloc(32, left.length + 40),
        kind: 'photo',
        format: 'jpg',
        name: `${left}.jpg`,
        vault_path: `x/${left}.jpg`,
        bytes: 1,
        width: 1,
        height: 1,
        thumb: Buffer.alloc(4),
        words: '',
      });
      await house.call('comment', { body: { ids: [picture!], text: 'Oh!' } }, caller);
      await house.call('leave', { body: { said: left } }, caller);
      const there = await house.app.db('comments').where({ member_id: id }).select('author');
      expect(there.map(({ author }) => author)).toEqual(left === 'stays' ? ['Writerstays'] : []);
    });
  });

  describe('the second step', () => {
    test('a code beside the password: each opens once, spare ones too, a link for a new password does not go round it', async () => {
      const { caller, email } = await joined('Quentin', 'helper');
      const door = (code?: string) =>
        asked('/api/sign-in', { email, password: 'a-long-password', ...(code === undefined ? {} : { code }) });
      expect(await said(house.call('beginSecond', { body: { password: 'wrong' } }, caller))).toMatch(/^403/);
      const { secret, uri } = await house.call('beginSecond', { body: { password: 'a-long-password' } }, caller);
      expect(uri).toMatch(/^otpauth:\/\/totp\/Gemmel:quentin%40kin\.example\?/);
      // Not before a code has been said is it asked for.
      expect((await door()).status).toBe(200);
      const at = (steps: number) =>
        new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + steps * 30_000 });
      expect(await said(house.call('confirmSecond', { body: { code: '000000' } }, caller))).toMatch(/^401/);
      const { codes } = await house.call('confirmSecond', { body: { code: at(-1) } }, caller);
      expect(codes).toHaveLength(8);
      const raw = await house.app.db('accounts').where('email', email).first('second');
      expect(raw!.second!.toString('latin1')).not.toContain(secret);
      expect((await door()).told.code).toBe('code-needed');
      expect((await door('123456')).told.code).toBe('wrong-code-second');
      // Two at one moment with the same code: one of them comes in.
      const both = await Promise.all([door(at(0)), door(at(0))]);
      expect(both.map(({ status }) => status).sort()).toEqual([200, 401]);
      expect((await door(at(-1))).status).toBe(401);
      expect((await door(codes[0])).status).toBe(200);
      expect((await door(codes[0])).status).toBe(401);
      expect((await house.call('me', {}, caller)).account).toMatchObject({ second: true });
      const { path: link } = await house.call('resetMember', {
        params: { id: (await house.call('me', {}, caller)).member!.id },
      });
      const reset = await asked(`/api/password/${tokenIn(link)}`, { password: 'another-long-one' });
      expect([reset.status, reset.caller.cookie]).toEqual([200, '']);
      const again = await asked('/api/sign-in', { email, password: 'another-long-one', code: codes[1] });
      expect(again.status).toBe(200);
      await house.call('endSecond', { body: { password: 'another-long-one' } }, again.caller);
      expect((await asked('/api/sign-in', { email, password: 'another-long-one' })).status).toBe(200);
    });
  });

  describe('passwords and places', () => {
    test('a new password asks for the old one and ends every other place', async () => {
      const { caller, email } = await joined('Paula', 'helper');
      const phone = (await asked('/api/sign-in', { email, password: 'a-long-password' }, { 'user-agent': PHONE }))
        .caller;
      const { places } = await house.call('signedIn', {}, caller);
      expect(places).toHaveLength(2);
      expect(places.find(({ here }) => !here)!.device).toEqual({
        browser: 'Firefox',
        system: 'Android',
        kind: 'phone',
      });
      const change = (old: string) =>
        said(house.call('changePassword', { body: { old, password: 'another-long-one' } }, caller));
      expect(await change('wrong')).toMatch(/^403/);
      expect((await house.call('library', {}, phone)).name).toBe('Test library');
      expect(await change('a-long-password')).toBe('done');
      expect(await said(house.call('library', {}, phone))).toMatch(/^401/);
      expect((await house.call('library', {}, caller)).name).toBe('Test library');
      expect((await asked('/api/sign-in', { email, password: 'a-long-password' })).status).toBe(401);
    });

    test('wrong old passwords are slowed down like those at the door', async () => {
      const { caller } = await joined('Quinn', 'helper');
      const tries = [];
      for (let n = 0; n < 12; n++)
        tries.push(
          await said(house.call('changePassword', { body: { old: `no ${n}`, password: 'another-long-one' } }, caller)),
        );
      expect(tries.at(-1)).toMatch(/^429/);
    });

    test('one place and all others are signed out; never another account’s', async () => {
      const { caller, email } = await joined('Rosa', 'helper');
      const others = await Promise.all(
        [1, 2].map(async () => (await asked('/api/sign-in', { email, password: 'a-long-password' })).caller),
      );
      const mine = (await house.call('signedIn', {})).places[0]!;
      await house.call('signOutAt', { params: { id: mine.id } }, caller);
      expect((await house.call('library', {})).name).toBe('Test library');
      const { places } = await house.call('signedIn', {}, others[0]);
      await house.call('signOutAt', { params: { id: places.find(({ here }) => here)!.id } }, caller);
      expect(await said(house.call('library', {}, others[0]))).toMatch(/^401/);
      await house.call('signOutElsewhere', {}, caller);
      expect(await said(house.call('library', {}, others[1]))).toMatch(/^401/);
      expect((await house.call('signedIn', {}, caller)).places).toHaveLength(1);
    });

    test('a forgotten password: a link of the keeper, once, the newest alone, and everywhere signed out', async () => {
      const { caller, email, id } = await joined('Sven', 'relative');
      const first = tokenIn((await house.call('resetMember', { params: { id } })).path);
      const second = tokenIn((await house.call('resetMember', { params: { id } })).path);
      expect((await asked(`/api/password/${first}`, null)).told.code).toBe('reset-over');
      expect((await asked(`/api/password/${second}`, null)).told).toMatchObject({ name: 'Sven', email });
      const set = () => asked(`/api/password/${second}`, { password: 'the-newest-one' });
      const both = await Promise.all([set(), set()]);
      expect(both.map(({ status }) => status).sort()).toEqual([200, 404]);
      expect(await said(house.call('library', {}, caller))).toMatch(/^401/);
      expect((await asked('/api/sign-in', { email, password: 'the-newest-one' })).status).toBe(200);
    });

    test('whoever runs the machine makes such a link by an address, to the letter', async () => {
      const { email } = await joined('Ursula', 'relative');
      expect(await resetAddress(house.app, 'úrsula@kin.example')).toBeNull();
      const link = await resetAddress(house.app, ` ${email.toUpperCase()} `);
      expect((await asked(`/api${link}`, { password: 'from-the-machine' })).status).toBe(200);
      expect((await asked('/api/sign-in', { email, password: 'from-the-machine' })).status).toBe(200);
    });

    test('an address is changed with the password alone, and never to one that is taken', async () => {
      const { caller, email } = await joined('Tilda', 'helper');
      const change = (body: object) => said(house.call('changeAccount', { body }, caller));
      expect(await change({ email: 'new@kin.example' })).toMatch(/^403/);
      expect(await change({ email: 'keeper@house.example', password: 'a-long-password' })).toMatch(/^409/);
      expect(await change({ email: 'New@Kin.example', name: 'Tilda W.', password: 'a-long-password' })).toBe('done');
      expect((await asked('/api/sign-in', { email, password: 'a-long-password' })).status).toBe(401);
      const { told } = await asked('/api/sign-in', { email: 'new@kin.example', password: 'a-long-password' });
      expect(told.member).toMatchObject({ name: 'Tilda W.' });
    });
  });

  test('members of before are accounts, whoever is signed in stays so, and doing it again changes nothing', async () => {
    const old = await openHouse();
    try {
      const { db } = old.app;
      const helper = await old.member('helper');
      for (const step of [
        `ALTER TABLE members ADD COLUMN email VARCHAR(200) NOT NULL DEFAULT '', ADD COLUMN password_hash VARCHAR(200) NOT NULL DEFAULT '',
           ADD COLUMN language VARCHAR(8) NULL`,
        'UPDATE members m JOIN accounts a ON a.id = m.account_id SET m.email = a.email, m.password_hash = a.password_hash, m.language = a.language',
        'ALTER TABLE members ADD UNIQUE (email)',
        'ALTER TABLE sessions ADD COLUMN member_id INT UNSIGNED NULL, ADD COLUMN library_id INT UNSIGNED NULL, ADD FOREIGN KEY (member_id) REFERENCES members(id) ON DELETE CASCADE',
        'UPDATE sessions s JOIN members m ON m.account_id = s.account_id SET s.member_id = m.id, s.library_id = m.library_id',
        'ALTER TABLE sessions DROP FOREIGN KEY session_of, DROP COLUMN account_id, DROP COLUMN id, DROP COLUMN seen_at, DROP COLUMN device',
        'ALTER TABLE members ADD INDEX (library_id), DROP FOREIGN KEY of_account, DROP INDEX once, DROP COLUMN account_id, DROP COLUMN left_at',
        'DROP TABLE passkeys, spare_codes, resets, invites, accounts',
      ])
        await db.raw(step);
      for (let times = 0; times < 2; times++) {
        await up(db);
        await second(db);
        expect(await db('accounts').count('* as n')).toEqual([{ n: 2 }]);
        expect((await old.call('members', {})).members.map(({ part }) => part)).toEqual(['keeper', 'helper']);
        expect((await old.call('library', {}, helper)).name).toBe('Test library');
      }
    } finally {
      await old.stop();
    }
  });
});

const PHONE = 'Mozilla/5.0 (Android 14; Mobile; rv:133.0) Gecko/133.0 Firefox/133.0';
