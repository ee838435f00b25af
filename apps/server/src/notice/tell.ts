import type { Notice } from '@gemmel/contract';
import type { Language } from '@gemmel/core';
import { msg, plural } from '@lingui/core/macro';
import type { App } from '../context';
import { mailOf, pageOf, post, textOf } from '../mail/mailer';
import { inRounds } from '../rounds';
import { sightOf } from '../sight/sight';
import { appThrough } from '../sight/through';
import { homeOf } from '../time/home';
import { speechIn } from '../words/speech';
import { noticesSince } from './notices';
import { pushTo } from './push';

/** How often it is looked whom there is something to tell, in ms. */
const ROUND = 60_000;
/** The hour of the household's morning from which letters go out, and to which they do. */
const MORNING = [8, 21] as const;
/** How far letters are apart, in hours: a little less than a day or a week, so that none slips by an hour each time. */
const APART = { daily: 20, weekly: 6.8 * 24 } as const;
/** A browser is told at most once in so many minutes, of all that has happened by then. */
const QUIET = 15;
/** What a letter names one by one. */
const NAMED = 12;

type Told = Omit<Notice, 'fresh'>;

interface Hearer {
  id: number;
  library_id: number;
  part: 'keeper' | 'helper' | 'relative';
  name: string;
  library: string;
  address: string | null;
  email: string;
  language: Language;
  since: string;
}

/** What happened, in one sentence. */
export function sentenceOf({ kind, who, text, pictures }: Told, language: Language): string {
  const _ = speechIn(language)._.bind(speechIn(language));
  const title = text;
  switch (kind) {
    case 'comment':
      return _(msg`${{ who }} wrote: “${{ text: text.length > 200 ? `${text.slice(0, 199)}…` : text }}”`);
    case 'share':
      return _(msg`${{ who }} shares “${{ title }}” with you.`);
    case 'waiting':
      return _(
        msg({
          message: plural(
            { pictures },
            {
              one: `${{ who }} added # picture to “${{ title }}”. It waits for your yes.`,
              other: `${{ who }} added # pictures to “${{ title }}”. They wait for your yes.`,
            },
          ),
        }),
      );
    case 'added':
      return _(
        msg({
          message: plural({ pictures }, { one: `${{ who }} added # picture.`, other: `${{ who }} added # pictures.` }),
        }),
      );
    case 'fresh':
      return _(
        msg({
          message: plural({ pictures }, { one: '# new picture to look at.', other: '# new pictures to look at.' }),
        }),
      );
  }
}

/** Members who have something to be told in a way, with since when. */
const hearers = (app: App) =>
  app
    .db('members as m')
    .join('accounts as a', 'a.id', 'm.account_id')
    .join('libraries as l', 'l.id', 'm.library_id')
    .whereNull('m.left_at')
    .orderBy('m.id')
    .select('m.id', 'm.library_id', 'm.part', 'm.name', 'l.name as library', 'l.address', 'a.email')
    .select(app.db.raw("COALESCE(a.language, l.language, 'en') AS language"));

/** What there is to tell somebody. */
async function newsFor(app: App, { id, library_id, part, since }: Hearer): Promise<Told[]> {
  const whose = { library: library_id, member: id, part };
  return noticesSince(appThrough(app, await sightOf(app.db, whose)), whose, since);
}

/** The hour it is in a library's time zone. */
const hourIn = (zone: string, now: Date): number =>
  Number(new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', hourCycle: 'h23' }).format(now));

/** Writes to whoever wished for letters and has had none for so long. Answers how many were sent. */
export async function tellByMail(app: App, now = new Date()): Promise<number> {
  if (!mailOf(app)) return 0;
  const { db } = app;
  const due = (await hearers(app)
    .whereNot('m.digest', 'never')
    .whereRaw(`m.digest_at <= ? - INTERVAL IF(m.digest = 'daily', ?, ?) MINUTE`, [
      now.toISOString().replace('T', ' ').replace('Z', ''),
      APART.daily * 60,
      APART.weekly * 60,
    ])
    .select('m.digest_at as since')) as Hearer[];
  let sent = 0;
  for (const hearer of due) {
    const hour = hourIn(await homeOf(db, hearer.library_id), now);
    if (hour < MORNING[0] || hour >= MORNING[1]) continue;
    // Two processes at one moment: the database lets one of them.
    const mine = await db('members')
      .where({ id: hearer.id, digest_at: hearer.since })
      .whereNot('digest', 'never')
      .update({ digest_at: db.raw('?', [now.toISOString().replace('T', ' ').replace('Z', '')]) });
    if (!mine) continue;
    try {
      const news = await newsFor(app, hearer);
      if (news.length === 0) continue;
      await postNews(app, hearer, news);
      sent++;
    } catch (error) {
      console.error('a letter of news:', error instanceof Error ? error.message : error);
      // It is told another time, with what has happened by then.
      await db('members').where({ id: hearer.id }).update({ digest_at: hearer.since });
    }
  }
  return sent;
}

async function postNews(app: App, hearer: Hearer, news: readonly Told[]): Promise<void> {
  const { language, library, address, email, name } = hearer;
  const _ = speechIn(language)._.bind(speechIn(language));
  const more = news.length - NAMED;
  const lines = [
    _(msg`Hello ${{ name }},`),
    ...news.slice(0, NAMED).map((one) => sentenceOf(one, language)),
    ...(more > 0
      ? [_(msg({ message: plural({ more }, { one: '… and # thing more.', other: '… and # things more.' }) }))]
      : []),
  ];
  const foot = _(msg`You asked for these e-mails. How often they come is under “What’s new”.`);
  const href = address && `${address}/news`;
  await post(app, {
    to: { name, address: email },
    subject: _(msg`News from “${{ library }}”`),
    text: textOf(lines, href, foot),
    html: pageOf({ lines, foot, ...(href ? { button: { label: _(msg`Have a look`), href } } : {}) }),
  });
}

/** Tells browsers of whoever wished for it what has happened since they were told last. Answers how many members were told. */
export async function tellByPush(app: App): Promise<number> {
  const { db } = app;
  const due = (await hearers(app)
    .whereIn('m.id', db('push_places').distinct('member_id'))
    .whereRaw('m.pushed_at <= UTC_TIMESTAMP(3) - INTERVAL ? MINUTE', [QUIET])
    .select('m.pushed_at as since')) as Hearer[];
  let told = 0;
  for (const hearer of due) {
    const news = await newsFor(app, hearer);
    if (news.length === 0) continue;
    const mine = await db('members')
      .where({ id: hearer.id, pushed_at: hearer.since })
      .update({ pushed_at: db.raw('UTC_TIMESTAMP(3)') });
    if (!mine) continue;
    const { language, library } = hearer;
    const _ = speechIn(language)._.bind(speechIn(language));
    const more = news.length - 1;
    const first = sentenceOf(news[0]!, language);
    const reached = await pushTo(app, hearer.id, {
      title: library,
      body:
        more > 0
          ? `${first}\n${_(msg({ message: plural({ more }, { one: '… and # thing more.', other: '… and # things more.' }) }))}`
          : first,
      path: '/news',
    });
    if (reached) told++;
  }
  return told;
}

/** Tells what is new for as long as it is not stopped. */
export const watchNews = (app: App): { stop: () => Promise<void> } =>
  inRounds(ROUND, 'telling news', async () => {
    await tellByPush(app);
    await tellByMail(app);
  });
