import { z } from 'zod';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids } from './ids';
import { Language } from './shapes';

const Count = z.number().int().min(0);
const Text = z.string().max(4000).default('');
const Size = z.enum(['screen', 'full']);

/** Routes of e-mail. */
export const mailApi = {
  mail: endpoint({
    method: 'GET',
    path: '/api/mail',
    part: 'keeper',
    summary: 'Whether e-mail can go out, from whom, and whether the stand-in mailbox catches it',
    answer: z.object({ ready: z.boolean(), standIn: z.boolean(), from: z.string().nullable(), most: Count }),
  }),
  mailShare: endpoint({
    method: 'POST',
    path: '/api/shares/:id/mail',
    part: 'keeper',
    summary: 'Send named people their links to a share by e-mail, with the first pictures inside',
    params: z.object({ id: IdParam }),
    body: z.strictObject({ guests: Ids.min(1).max(200), text: Text, language: Language }),
    answer: z.object({ sent: z.array(Id), failed: z.array(Id) }),
  }),
  weighMail: endpoint({
    method: 'POST',
    path: '/api/mail/weigh',
    reads: true,
    part: 'helper',
    summary: 'In how many e-mails pictures would go as attachments, and how large they are',
    body: z.strictObject({ ids: Ids.min(1).max(500), size: Size }),
    answer: z.object({ letters: Count, bytes: z.number(), tooLarge: Count, most: Count }),
  }),
  mailPictures: endpoint({
    method: 'POST',
    path: '/api/mail/pictures',
    part: 'helper',
    summary: 'Send pictures as attachments, in as many e-mails as they need',
    body: z.strictObject({
      ids: Ids.min(1).max(500),
      size: Size,
      to: z.email().max(200),
      text: Text,
      language: Language,
    }),
    answer: z.object({ letters: Count, pictures: Count }),
  }),
  mailbox: endpoint({
    method: 'GET',
    path: '/api/mailbox',
    part: 'keeper',
    summary: 'What the stand-in mailbox has caught, the latest first',
    answer: z.object({
      letters: z.array(
        z.object({
          id: z.string(),
          at: z.string(),
          to: z.string(),
          subject: z.string(),
          text: z.string(),
          html: z.string().nullable(),
          attachments: z.array(z.object({ name: z.string(), bytes: z.number() })),
        }),
      ),
    }),
  }),
  forgotPassword: endpoint({
    method: 'POST',
    path: '/api/password',
    part: 'nobody',
    summary: 'Send a link for a new password to an address; says the same whether somebody has it or not',
    body: z.strictObject({ email: z.string().max(200) }),
    answer: z.object({ done: z.literal(true) }),
  }),
};
