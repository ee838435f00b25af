import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';

/** Letters that are shown. */
const SHOWN = 50;

/** A letter as the stand-in mailbox shows it. */
export interface Caught {
  id: string;
  at: string;
  to: string;
  subject: string;
  text: string;
  /** Its page with the pictures inside it, to be shown where it can do nothing. */
  html: string | null;
  attachments: { name: string; bytes: number }[];
}

/** The letters a stand-in mailbox has caught, the latest first. */
export async function caughtIn(folder: string): Promise<Caught[]> {
  const { simpleParser } = await import('mailparser');
  const files = (await readdir(folder).catch(() => [])).filter((name) => name.endsWith('.eml')).sort();
  return Promise.all(
    files
      .reverse()
      .slice(0, SHOWN)
      .map(async (name): Promise<Caught> => {
        const mail = await simpleParser(await readFile(path.join(folder, name)));
        const to = mail.to ? (Array.isArray(mail.to) ? mail.to : [mail.to]).map((one) => one.text).join(', ') : '';
        return {
          id: name.replace(/\.eml$/, ''),
          at: (mail.date ?? new Date(Number(name.split('-')[0]))).toISOString(),
          to,
          subject: mail.subject ?? '',
          text: mail.text ?? '',
          html: mail.html || null,
          attachments: mail.attachments
            .filter((one) => !one.related)
            .map((one) => ({ name: one.filename ?? '', bytes: one.size })),
        };
      }),
  );
}
