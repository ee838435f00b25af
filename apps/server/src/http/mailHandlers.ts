import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import { addressOf } from '../account/address';
import { FailLimit } from '../account/limit';
import { resetAddress } from '../account/resets';
import { addressAsKept } from '../account/accounts';
import type { App } from '../context';
import { languageOf } from '../library/language';
import { originOf, postPictures, postReset, postShare, weigh } from '../mail/letters';
import { mailOf } from '../mail/mailer';
import { refused } from '../problem';
import { caughtIn } from '../mail/caught';
import { fromOf } from './from';
import type { Call } from './guard';
import path from 'node:path';

type Names = 'mail' | 'mailShare' | 'weighMail' | 'mailPictures' | 'mailbox' | 'forgotPassword';
type Handlers = { [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>> };

/** Where a page was opened: its links begin so when nothing else is said. */
export const hereOf = (c: Call['c']): string => `${fromOf(c).secure ? 'https' : 'http'}://${fromOf(c).host}`;

/** How often one place, and one address, may ask for a new password. */
const ASKED = { most: 5, minutes: 30 };

/** The answers of the routes of e-mail. */
export function mailHandlers(app: App): Handlers {
  const places = new FailLimit({ most: 20, minutes: 30 });
  const addresses = new FailLimit(ASKED);
  return {
    mail: async () => {
      const mail = mailOf(app);
      return {
        ready: mail !== null,
        standIn: app.config.standInMail !== null,
        from: mail?.from ?? null,
        most: mail?.most ?? 0,
      };
    },
    mailShare: ({ params, body }, { session, c }) => postShare(app, session.library, params.id, body, hereOf(c)),
    weighMail: ({ body }, { session }) => weigh(app, session.library, body),
    mailPictures: ({ body }, { session }) => postPictures(app, session, body),
    mailbox: async () => ({
      letters: app.config.standInMail === null ? [] : await caughtIn(path.join(app.config.data, 'mailbox')),
    }),
    forgotPassword: async ({ body }, { c }) => {
      if (!mailOf(app)) throw refused('no-mail');
      const address = addressAsKept(body.email);
      if (!(await places.begin(addressOf(c)))) throw refused('too-many-tries');
      // Whether somebody has the address is told neither by words nor by time: what there is to do is done afterwards.
      if (await addresses.begin(address)) void send(app, address, hereOf(c)).catch(() => undefined);
      return { done: true };
    },
  };
}

async function send(app: App, address: string, here: string): Promise<void> {
  const { db } = app;
  const account = await db('accounts').whereRaw('email = ? COLLATE utf8mb4_bin', [address]).first('id', 'language');
  if (!account) return;
  const at = await resetAddress(app, address);
  const member = await db('members')
    .where('account_id', account.id)
    .whereNull('left_at')
    .orderBy('id')
    .first('library_id');
  const library = member?.library_id ?? 1;
  // A link in a letter never follows what the asking page called itself.
  const origin = await originOf(app, library, here);
  await postReset(app, address, `${origin}${at}`, account.language ?? (await languageOf(db, library)));
}
