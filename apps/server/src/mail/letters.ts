import { withEnding, type Language } from '@gemmel/core';
import { msg } from '@lingui/core/macro';
import { stat } from 'node:fs/promises';
import { derivedBase, type App } from '../context';
import { notFound, refused } from '../problem';
import { guestCopy, screenCopy } from '../share/guestCopy';
import { guestPictures, picturesBy, type GuestPictureRow } from '../share/guestView';
import { unseal } from '../share/links';
import { shareRow } from '../share/row';
import { speechIn } from '../words/speech';
import { mailOf, pageOf, post, textOf } from './mailer';

/** How many of the first pictures stand in a letter about a share. */
const INSIDE = 6;

/** Where links of a library begin: the address guests are given, else that of whoever asks. */
export async function originOf({ db }: App, library: number, here: string): Promise<string> {
  return (await db('libraries').where('id', library).first('address'))?.address ?? here;
}

/** Tells somebody how to set a new password. */
export async function postReset(app: App, to: string, href: string, language: Language): Promise<void> {
  const _ = speechIn(language)._.bind(speechIn(language));
  const lines = [
    _(msg`Somebody asked for a new password for your account. This link sets one, once, within a day.`),
    _(msg`If it wasn’t you, there’s nothing to do: your password stays as it is.`),
  ];
  const foot = _(msg`Sent by Gemmel, which keeps your family’s pictures.`);
  await post(app, {
    to,
    subject: _(msg`A new password`),
    text: textOf(lines, href, foot),
    html: pageOf({ lines, button: { label: _(msg`Set a new password`), href }, foot }),
  });
}

/** Invites somebody by e-mail. */
export async function postInvite(
  app: App,
  to: string,
  { name, from, library, href }: { name: string; from: string; library: string; href: string },
  language: Language,
): Promise<void> {
  const _ = speechIn(language)._.bind(speechIn(language));
  const lines = [
    _(msg`Hello ${{ name }},`),
    _(msg`${{ from }} invites you to “${{ library }}”. Open the link to come in; it’s good once, for seven days.`),
  ];
  const foot = _(msg`If you don’t know who that is, leave it be.`);
  await post(app, {
    to,
    subject: _(msg`${{ from }} invites you to “${{ library }}”`),
    text: textOf(lines, href, foot),
    html: pageOf({ lines, button: { label: _(msg`Come in`), href }, foot }),
  });
}

/**
 * Sends named people their links to a share, each in one letter with the first pictures inside. Answers who has got one, and who not.
 * @param here where links begin when the library has no address of its own
 */
export async function postShare(
  app: App,
  library: number,
  id: number,
  { guests, text, language }: { guests: readonly number[]; text: string; language: Language },
  here: string,
): Promise<{ sent: number[]; failed: number[] }> {
  if (!mailOf(app)) throw refused('no-mail');
  const { db } = app;
  const share = await shareRow(app, library, id);
  const origin = await originOf(app, library, here);
  const rows = await db('share_guests')
    .where({ share_id: id, library_id: library })
    .whereIn('id', [...guests])
    .whereNull('closed_at');
  const from = (await db('members').where('id', share.created_by).first('name'))!.name;
  const pictures = await guestPictures(app, share, INSIDE);
  const _ = speechIn(language)._.bind(speechIn(language));
  const attachments = pictures.map((p, i) => ({
    filename: `${i + 1}.webp`,
    path: `${derivedBase(app, p.shown.toString('hex'))}-small.webp`,
    cid: `picture-${i + 1}`,
    contentType: 'image/webp',
  }));
  const sent: number[] = [];
  const failed: number[] = [];
  for (const guest of rows) {
    const to =
      guest.email ??
      (guest.member_id === null
        ? null
        : ((
            await db('members as m')
              .join('accounts as a', 'a.id', 'm.account_id')
              .where('m.id', guest.member_id)
              .first('a.email')
          )?.email as string | undefined)) ??
      null;
    const token = unseal(app, guest.sealed);
    if (!to || !token) {
      failed.push(guest.id);
      continue;
    }
    const href = `${origin}/s/${token}`;
    const lines = [
      _(msg`Hello ${{ name: guest.name }},`),
      ...(text.trim() ? [text.trim()] : []),
      _(msg`${{ from }} shares “${{ title: share.title }}” with you.`),
    ];
    const foot = _(msg`This link is yours alone; you need no account. ${{ from }} can see when it’s opened.`);
    await post(app, {
      to: { name: guest.name, address: to },
      subject: _(msg`${{ from }} shares “${{ title: share.title }}” with you`),
      text: textOf(lines, href, foot),
      html: pageOf({
        lines,
        pictures: attachments.map(({ cid }) => cid),
        button: { label: _(msg`See the pictures`), href },
        foot,
      }),
      attachments,
    }).then(
      () => sent.push(guest.id),
      () => failed.push(guest.id),
    );
  }
  if (rows.length === 0) throw notFound('member');
  return { sent, failed };
}

/** Puts files into letters so that none is larger than may be; one that is larger alone is left out. Sizes in bytes. */
export function packed<T extends { size: number }>(
  files: readonly T[],
  most: number,
): { letters: T[][]; tooLarge: T[] } {
  // Attachments are written in base 64: four letters for three bytes, and line ends.
  const grown = (size: number) => Math.ceil(size * 1.37) + 2000;
  const letters: T[][] = [];
  const tooLarge: T[] = [];
  let room = 0;
  for (const file of files) {
    const size = grown(file.size);
    if (size > most) {
      tooLarge.push(file);
      continue;
    }
    if (letters.length === 0 || size > room) {
      letters.push([]);
      room = most;
    }
    letters.at(-1)!.push(file);
    room -= size;
  }
  return { letters, tooLarge };
}

/** Pictures as they are sent by e-mail: cleaned copies, as large as a screen or at full size. */
async function copies(app: App, library: number, ids: readonly number[], size: 'screen' | 'full') {
  const rows = await picturesBy(app, library, ids);
  const files: { picture: GuestPictureRow; file: string; format: string; size: number }[] = [];
  for (const picture of rows) {
    const { file, format } = await (size === 'full' ? guestCopy(app, picture) : screenCopy(app, picture));
    files.push({ picture, file, format, size: (await stat(file)).size });
  }
  return files;
}

/** In how many letters pictures would go, how large they are, and how many are too large. */
export async function weigh(
  app: App,
  library: number,
  { ids, size }: { ids: readonly number[]; size: 'screen' | 'full' },
): Promise<{ letters: number; bytes: number; tooLarge: number; most: number }> {
  const mail = mailOf(app);
  if (!mail) throw refused('no-mail');
  const files = await copies(app, library, ids, size);
  const { letters, tooLarge } = packed(files, mail.most);
  return {
    letters: letters.length,
    bytes: files.reduce((sum, file) => sum + file.size, 0),
    tooLarge: tooLarge.length,
    most: mail.most,
  };
}

/** Sends pictures themselves, in as many letters as they need. */
export async function postPictures(
  app: App,
  by: { library: number; member: number },
  {
    ids,
    size,
    to,
    text,
    language,
  }: { ids: readonly number[]; size: 'screen' | 'full'; to: string; text: string; language: Language },
): Promise<{ letters: number; pictures: number }> {
  const mail = mailOf(app);
  if (!mail) throw refused('no-mail');
  const files = await copies(app, by.library, ids, size);
  const { letters } = packed(files, mail.most);
  if (letters.length === 0) throw refused('mail-too-large');
  const from = (await app.db('members').where('id', by.member).first('name'))!.name;
  const _ = speechIn(language)._.bind(speechIn(language));
  for (const [i, some] of letters.entries()) {
    const subject =
      letters.length === 1
        ? _(msg`Pictures from ${{ from }}`)
        : _(msg`Pictures from ${{ from }} (${{ n: i + 1 }} of ${{ of: letters.length }})`);
    const lines = i === 0 && text.trim() ? [text.trim()] : [_(msg`Here are the pictures.`)];
    const foot = _(msg`Sent by ${{ from }} with Gemmel.`);
    await post(app, {
      to,
      subject,
      text: textOf(lines, null, foot),
      html: pageOf({ lines, foot }),
      attachments: some.map(({ picture, file, format }) => ({
        filename: withEnding(picture.name, format),
        path: file,
      })),
    });
  }
  return { letters: letters.length, pictures: letters.flat().length };
}
