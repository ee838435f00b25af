import fc from 'fast-check';
import path from 'node:path';
import { exiftool } from '../src/media/metadata';
import { packed } from '../src/mail/letters';
import { caughtIn } from '../src/mail/caught';
import { StandInMailbox } from '../src/standin/mailbox';
import { simpleParser } from 'mailparser';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { DEMO, openHouse, type House } from './house';

/** E-mail: what is sent to whom, what stands in it, and that the stand-in mailbox catches all of it. */
describe('e-mail', () => {
  let house: House;
  let mailbox: StandInMailbox;
  let ids: number[];
  const folder = () => path.join(house.app.config.data, 'mailbox');
  beforeAll(async () => {
    house = await openHouse();
    await house.takeIn(path.join(DEMO, 'grans-tablet'));
    ids = (await house.app.db('pictures').orderBy('id').select('id')).map(({ id }) => id);
    mailbox = await StandInMailbox.open(folder());
    house.app.config.mail = { smtp: mailbox.smtp, from: 'Gemmel <pictures@house.example>', most: 10_000_000 };
    house.app.config.standInMail = mailbox.smtp;
  });
  afterAll(async () => {
    await mailbox?.close();
    await house?.stop();
  });
  const caught = () => caughtIn(folder());
  const linkIn = (text: string) => /https?:\/\/\S+/.exec(text)![0];

  test('a share by name: each gets a letter with their own link and the first pictures inside, in the language wished', async () => {
    const { share } = await house.call('openShare', {
      body: {
        title: 'Kites',
        of: { ids: ids.slice(0, 3) },
        reach: 'house',
        until: null,
        anybody: false,
        people: [{ name: 'Noor', email: 'noor@kin.example' }, { name: 'Kai' }],
      },
    });
    const guests = share.guests.map(({ id }) => id);
    const body = { guests, text: 'See how high it went!', language: 'de' as const };
    const { sent, failed } = await house.call('mailShare', { params: { id: share.id }, body });
    expect([sent, failed]).toEqual([[guests[0]], [guests[1]]]);
    const { letters } = await house.call('mailbox', {});
    expect(letters[0]).toMatchObject({ to: expect.stringContaining('noor@kin.example') as string, attachments: [] });
    expect(letters[0]!.text).toContain('See how high it went!');
    expect(letters[0]!.text).toContain('Noor');
    expect(new URL(linkIn(letters[0]!.text)).pathname).toBe(share.guests[0]!.path);
    expect(letters[0]!.html!.match(/<img /g)).toHaveLength(3);
    const raw = readFileSync(path.join(folder(), readdirSync(folder()).sort().at(-1)!));
    expect((await simpleParser(raw)).attachments.every(({ contentType }) => contentType === 'image/webp')).toBe(true);
  });

  test('an invitation with an address goes out; a forgotten password is set by the link that comes', async () => {
    const { sent, path: at } = await house.call('invite', {
      body: { name: 'Agathe', part: 'relative', email: 'agathe@kin.example' },
    });
    expect(sent).toBe(true);
    const [invitation] = await caught();
    expect(new URL(linkIn(invitation!.text)).pathname).toBe(at);
    const before = (await caught()).length;
    await house.call('forgotPassword', { body: { email: 'Nobody@house.example' } });
    await house.call('forgotPassword', { body: { email: ' keeper@house.example' } });
    while ((await caught()).length === before) await new Promise((resolve) => setTimeout(resolve, 30));
    const letters = await caught();
    expect(letters).toHaveLength(before + 1);
    expect(letters[0]!.to).toBe('keeper@house.example');
    const token = new URL(linkIn(letters[0]!.text)).pathname.split('/').pop()!;
    expect(await house.call('resetOf', { params: { token } })).toMatchObject({ email: 'keeper@house.example' });
    for (let i = 0; i < 8; i++) await house.call('forgotPassword', { body: { email: 'keeper@house.example' } });
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect((await caught()).length).toBeLessThanOrEqual(before + 6);
  });

  test('pictures themselves: weighed, split where they are too many for one letter, and clean', async () => {
    const body = { ids: ids.slice(0, 4), size: 'full' as const };
    const whole = await house.call('weighMail', { body });
    expect(whole).toMatchObject({ letters: 1, tooLarge: 0 });
    house.app.config.mail!.most = Math.ceil(whole.bytes * 0.9);
    const weighed = await house.call('weighMail', { body });
    expect(weighed.letters).toBeGreaterThan(1);
    const before = (await caught()).length;
    const done = await house.call('mailPictures', {
      body: { ...body, to: 'kai@kin.example', text: 'Here you are', language: 'en' },
    });
    expect(done).toEqual({ letters: weighed.letters, pictures: 4 - weighed.tooLarge });
    const letters = (await caught()).slice(0, weighed.letters);
    expect((await caught()).length - before).toBe(weighed.letters);
    expect(letters.at(-1)!.subject).toBe(`Pictures from Keeper (1 of ${weighed.letters})`);
    const raw = readFileSync(path.join(folder(), readdirSync(folder()).sort().at(-1)!));
    const { attachments } = await simpleParser(raw);
    const temp = mkdtempSync(path.join(tmpdir(), 'gemmel-mail-'));
    const file = path.join(temp, 'picture.jpg');
    writeFileSync(file, attachments[0]!.content);
    const tags = (await exiftool().read(file)) as unknown as Record<string, unknown>;
    rmSync(temp, { recursive: true });
    expect([tags['GPSLatitude'], tags['Make'], tags['DateTimeOriginal']]).toEqual([undefined, undefined, undefined]);
    house.app.config.mail!.most = 10;
    await expect(
      house.call('mailPictures', { body: { ...body, to: 'kai@kin.example', language: 'en' } }),
    ).rejects.toMatchObject({ status: 413 });
    house.app.config.mail!.most = 10_000_000;
  });

  test('letters hold what they may and lose nothing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 5_000_000 })),
        fc.integer({ min: 10_000, max: 9_000_000 }),
        (sizes, most) => {
          const files = sizes.map((size, i) => ({ size, i }));
          const { letters, tooLarge } = packed(files, most);
          expect([...letters.flat(), ...tooLarge].map(({ i }) => i).sort((a, b) => a - b)).toEqual(
            files.map(({ i }) => i),
          );
          for (const letter of letters) {
            expect(letter.length).toBeGreaterThan(0);
            expect(letter.reduce((sum, { size }) => sum + size * 1.37, 0)).toBeLessThanOrEqual(most);
          }
        },
      ),
    );
  });

  test('without a way out nothing is sent, and says so; nor by a server that does not answer', async () => {
    const mail = house.app.config.mail;
    const body = { ids: ids.slice(0, 1), size: 'screen' as const, to: 'kai@kin.example', language: 'en' as const };
    house.app.config.mail = null;
    await expect(house.call('mailPictures', { body })).rejects.toMatchObject({ status: 409 });
    expect(await house.call('mail', {})).toMatchObject({ ready: false });
    house.app.config.mail = { ...mail!, smtp: 'smtp://127.0.0.1:9' };
    const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    await expect(house.call('mailPictures', { body })).rejects.toMatchObject({ status: 502 });
    said.mockRestore();
    house.app.config.mail = mail;
  });
});
