import { Day, Question } from '@gemmel/core';
import { z } from 'zod';
import { Did } from './actApi';
import { endpoint } from './endpoint';
import { Id, IdParam, Ids, Title } from './ids';
import { Town } from './shapes';

const id = z.object({ id: IdParam });
const Count = z.number().int().min(0);
const Name = z.string().trim().min(1).max(80);
const Token = z.string().min(20).max(80);
const token = z.object({ token: Token });

/** What is shared: an album of either kind, an event, a person's pictures, what a question finds, a saved show, or pictures. */
export const ShareOf = z.union([
  z.strictObject({ album: Id }),
  z.strictObject({ event: Id }),
  z.strictObject({ person: Id }),
  z.strictObject({ question: Question }),
  z.strictObject({ show: Id }),
  z.strictObject({ ids: Ids.min(1) }),
]);
export type ShareOf = z.infer<typeof ShareOf>;

/** What guests may do beside looking. */
export const ShareMay = z.strictObject({
  /** What they may save: nothing, copies as large as a screen, or full size. */
  save: z.enum(['nothing', 'screen', 'full']),
  /** Comment, and give hearts. */
  say: z.boolean(),
  /** What was said stays to be read, and nothing more is said. */
  closed: z.boolean().default(false),
  /** Add pictures of their own; `shown` at once, or once the keeper has said yes. */
  add: z.boolean(),
  shown: z.boolean(),
  /** How many files one guest may add, and how many bytes in all. */
  files: z.number().int().min(1).max(5000),
  bytes: z.number().int().min(1),
});
export type ShareMay = z.infer<typeof ShareMay>;

/** What guests are told of pictures beside their looks. */
export const ShareTells = z.strictObject({
  /** Towns, never of hidden places. */
  places: z.boolean(),
  names: z.boolean(),
  captions: z.boolean(),
  dates: z.boolean(),
  /** The names of those who looked, too. */
  others: z.boolean(),
});
export type ShareTells = z.infer<typeof ShareTells>;

/** What guests may do and are told unless something else is said. */
export const LOOK_AND_SAVE: ShareMay = {
  save: 'full',
  say: false,
  closed: false,
  add: false,
  shown: false,
  files: 200,
  bytes: 2_000_000_000,
};
export const TELLS_NOTHING: ShareTells = { places: false, names: false, captions: false, dates: false, others: false };

/** How far a share reaches: it shows no picture that is for fewer people. */
export const ShareReach = z.enum(['house', 'family', 'link']);
export type ShareReach = z.infer<typeof ShareReach>;

/** How a share can be set, and changed later without a new link. */
const Settings = z.strictObject({
  title: Title,
  until: Day.nullable(),
  /** How many visits there may be in all. */
  visits: z.number().int().min(1).max(100_000).nullable(),
  may: ShareMay,
  tells: ShareTells,
  reach: ShareReach,
});

/** Somebody a share was made for by name, with a link of their own. */
export const ShareGuest = z.object({
  id: Id,
  name: z.string(),
  email: z.string().nullable(),
  /** The member it is, for one of the library's own. */
  member: Id.nullable(),
  /** Their own link; null once it is closed. */
  path: z.string().nullable(),
  opened: Count,
  lastOpened: z.string().nullable(),
});
export type ShareGuest = z.infer<typeof ShareGuest>;

export const Share = Settings.extend({
  id: Id,
  about: z.object({
    kind: z.enum(['album', 'smart album', 'event', 'person', 'place', 'question', 'show', 'pictures']),
    /** Null for pictures, for a question, and for what has gone. */
    name: z.string().nullable(),
  }),
  /** Whether it shows what was there when it was opened, and not what comes and goes. */
  frozen: z.boolean(),
  pictures: Count,
  cover: z.string().nullable(),
  state: z.enum(['open', 'closed', 'over', 'worn']),
  closedAt: z.string().nullable(),
  opened: Count,
  lastOpened: z.string().nullable(),
  /** Whether anybody with the link may open it, and the link while it is open. */
  anybody: z.boolean(),
  path: z.string().nullable(),
  /** Whether a word is asked for. */
  word: z.boolean(),
  guests: z.array(ShareGuest),
  /** How many pictures guests have added that wait for the keeper's word. */
  waiting: Count,
});
export type Share = z.infer<typeof Share>;

/** Devices as far as they are told. */
export const DEVICES = ['phone', 'tablet', 'computer'] as const;

/** A visit, as the keeper reads it. */
export const Visit = z.object({
  at: z.string(),
  device: z.enum(DEVICES),
  /** Who it was, where they came by a link of their own or said a name. */
  name: z.string().nullable(),
  /** How many pictures were saved. */
  saved: Count,
});
export type Visit = z.infer<typeof Visit>;

/** A comment, as guests read it. */
export const GuestComment = z.object({
  id: Id,
  author: z.string(),
  text: z.string(),
  at: z.string(),
  /** Whether whoever asks wrote it. */
  mine: z.boolean(),
  /** Whether somebody of the house wrote it. */
  house: z.boolean(),
});
export type GuestComment = z.infer<typeof GuestComment>;

export const GuestPicture = z.object({
  id: Id,
  shape: z.number(),
  thumb: z.string(),
  kind: z.enum(['photo', 'video']),
  seconds: z.number().nullable(),
  bytes: z.number(),
  /** The town, when the share tells places. */
  town: Town.nullable(),
  /** The day, when the share tells dates, as far as it is known (EDTF). */
  day: z.string().nullable(),
  /** Title and caption, when the share tells them. */
  title: z.string().nullable(),
  caption: z.string().nullable(),
  /** Who is in it, when the share tells names. */
  names: z.array(z.string()),
  hearts: Count,
  /** Whether whoever asks gave it one. */
  heart: z.boolean(),
  comments: Count,
});
export type GuestPicture = z.infer<typeof GuestPicture>;

/** A picture a guest added, and what became of it. */
export const Addition = z.object({
  /** Its item, by which it is sent and taken back. */
  item: Id,
  name: z.string(),
  state: z.enum(['coming', 'waiting', 'shown', 'known', 'refused', 'failed']),
  /** The picture it has become, where it is shown. */
  picture: Id.nullable(),
});
export type Addition = z.infer<typeof Addition>;

export const GuestShare = z.object({
  title: z.string(),
  from: z.string(),
  until: Day.nullable(),
  /** The bytes of all at full size; 0 where that may not be saved. */
  bytes: z.number(),
  may: ShareMay,
  tells: ShareTells,
  /** The name whoever looks goes by; null while they have not said. */
  name: z.string().nullable(),
  /** Who else has looked, when the share tells it. */
  others: z.array(z.string()),
  pictures: z.array(GuestPicture),
  /** Headings and notes of an album with how many pictures stand before each, when the share tells captions. */
  chapters: z.array(z.object({ at: Count, heading: z.string().nullable(), note: z.string().nullable() })),
});
export type GuestShare = z.infer<typeof GuestShare>;

/** Somebody who is to have a link of their own. */
const Named = z.strictObject({ name: Name, email: z.email().max(200).nullable().default(null) });
const Shared = Did.extend({ share: Share });

/** Routes of shares, for the keeper. */
export const shareApi = {
  shares: endpoint({
    method: 'GET',
    path: '/api/shares',
    part: 'keeper',
    summary: 'Shares, newest first',
    answer: z.object({ shares: z.array(Share) }),
  }),
  tryShare: endpoint({
    method: 'POST',
    path: '/api/shares/try',
    reads: true,
    part: 'keeper',
    summary: 'What a share would show, and what is for fewer people than it reaches',
    body: z.strictObject({ of: ShareOf, reach: ShareReach }),
    answer: z.object({
      pictures: Count,
      /** What it would leave out although it is asked for, by for whom it is. */
      beyond: z.object({ pictures: Count, ids: Ids, me: Count, house: Count, family: Count }),
    }),
  }),
  openShare: endpoint({
    method: 'POST',
    path: '/api/shares',
    part: 'keeper',
    summary: 'Share something by a link, with named people, or with members',
    body: z.strictObject({
      title: Title,
      of: ShareOf,
      frozen: z.boolean().default(false),
      until: Day.nullable(),
      visits: Settings.shape.visits.default(null),
      may: ShareMay.default(LOOK_AND_SAVE),
      tells: ShareTells.default(TELLS_NOTHING),
      reach: ShareReach.default('link'),
      anybody: z.boolean().default(true),
      word: z.string().trim().min(1).max(80).nullable().default(null),
      people: z.array(Named).max(200).default([]),
      members: Ids.max(200).default([]),
    }),
    answer: Shared,
  }),
  changeShare: endpoint({
    method: 'PATCH',
    path: '/api/shares/:id',
    part: 'keeper',
    summary: 'Change how a share is set; its links stay',
    params: id,
    body: Settings.partial().extend({
      anybody: z.boolean().optional(),
      /** Null asks for none any longer. */
      word: z.string().trim().min(1).max(80).nullable().optional(),
    }),
    answer: Shared,
  }),
  renewLink: endpoint({
    method: 'POST',
    path: '/api/shares/:id/link',
    part: 'keeper',
    summary: 'A new link for a share; the old one leads nowhere from now on',
    params: id,
    answer: z.object({ share: Share }),
  }),
  closeShare: endpoint({
    method: 'POST',
    path: '/api/shares/:id/close',
    part: 'keeper',
    summary: 'Close a share',
    params: id,
    answer: Shared,
  }),
  reopenShare: endpoint({
    method: 'POST',
    path: '/api/shares/:id/reopen',
    part: 'keeper',
    summary: 'Open a closed share again',
    params: id,
    answer: Shared,
  }),
  addGuests: endpoint({
    method: 'POST',
    path: '/api/shares/:id/guests',
    part: 'keeper',
    summary: 'Give some people or members links of their own',
    params: id,
    body: z.strictObject({ people: z.array(Named).max(200).default([]), members: Ids.max(200).default([]) }),
    answer: z.object({ share: Share }),
  }),
  closeGuest: endpoint({
    method: 'POST',
    path: '/api/shares/:id/guests/:guest/:what',
    part: 'keeper',
    summary: 'Close somebody’s own link, or give them a new one',
    params: z.object({ id: IdParam, guest: IdParam, what: z.enum(['close', 'renew']) }),
    answer: z.object({ share: Share }),
  }),
  visits: endpoint({
    method: 'GET',
    path: '/api/shares/:id/visits',
    part: 'keeper',
    summary: 'Who opened a share and when, of the last 90 days, newest first',
    params: id,
    answer: z.object({ visits: z.array(Visit) }),
  }),
  shareAdditions: endpoint({
    method: 'POST',
    path: '/api/batches/:id/guest',
    part: 'helper',
    summary: 'Say yes or no to pictures a guest has added: shown in the share from then on, or into the bin',
    params: id,
    body: z.strictObject({ yes: z.boolean(), ids: Ids.min(1).optional() }),
    answer: Did,
  }),
  answerComment: endpoint({
    method: 'POST',
    path: '/api/comments/:id/answer',
    part: 'helper',
    summary: 'Answer a guest’s comment; guests of that share read the answer',
    params: id,
    body: z.strictObject({ text: z.string().trim().min(1).max(4000) }),
    answer: Did.extend({ id: Id }),
  }),
  hideComment: endpoint({
    method: 'POST',
    path: '/api/comments/:id/hide',
    part: 'keeper',
    summary: 'Hide a guest’s comment from other guests, or show it again',
    params: id,
    body: z.strictObject({ hidden: z.boolean() }),
    answer: Did,
  }),
  reach: endpoint({
    method: 'GET',
    path: '/api/reach',
    part: 'keeper',
    summary: 'Who can open a link, as far as this machine can tell by asking itself',
    answer: z.object({
      /** The address guests are given; null for that of whoever makes the link. */
      address: z.string().nullable(),
      /** Only this machine, those in the house, or everybody; null when nobody could be told to answer there. */
      who: z.enum(['machine', 'house', 'everywhere']).nullable(),
      /** Whether this very server answers at the address; null where there is none. */
      answers: z.boolean().nullable(),
      secure: z.boolean(),
    }),
  }),
  setAddress: endpoint({
    method: 'PUT',
    path: '/api/library/address',
    part: 'keeper',
    summary: 'Set the address by which guests reach this library; null for none',
    body: z.strictObject({ address: z.string().trim().max(200).nullable() }),
    answer: Did,
  }),
  mine: endpoint({
    method: 'GET',
    path: '/api/shared-with-me',
    part: 'relative',
    summary: 'Shares that were made for whoever asks',
    answer: z.object({
      shares: z.array(
        z.object({
          title: z.string(),
          from: z.string(),
          pictures: Count,
          cover: z.string().nullable(),
          path: z.string(),
        }),
      ),
    }),
  }),
};

/** Routes for guests: their link is their key. */
export const guestApi = {
  guest: endpoint({
    method: 'GET',
    path: '/api/guest/:token',
    part: 'nobody',
    summary: 'What a guest sees of a share',
    params: token,
    answer: GuestShare,
  }),
  enterShare: endpoint({
    method: 'POST',
    path: '/api/guest/:token/enter',
    part: 'nobody',
    summary: 'Come in with the word, or say by which name you go',
    params: token,
    body: z.strictObject({ word: z.string().max(80).optional(), name: Name.optional() }),
    answer: z.object({ name: z.string().nullable() }),
  }),
  guestComments: endpoint({
    method: 'GET',
    path: '/api/guest/:token/pictures/:id/comments',
    part: 'nobody',
    summary: 'What guests of this share and the house wrote about a picture',
    params: token.extend({ id: IdParam }),
    answer: z.object({ comments: z.array(GuestComment) }),
  }),
  guestComment: endpoint({
    method: 'POST',
    path: '/api/guest/:token/pictures/:id/comments',
    part: 'nobody',
    summary: 'Write about a picture',
    params: token.extend({ id: IdParam }),
    body: z.strictObject({ text: z.string().trim().min(1).max(2000) }),
    answer: z.object({ comments: z.array(GuestComment) }),
  }),
  takeGuestComment: endpoint({
    method: 'DELETE',
    path: '/api/guest/:token/comments/:id',
    part: 'nobody',
    summary: 'Take back a comment of your own',
    params: token.extend({ id: IdParam }),
    answer: z.object({ done: z.literal(true) }),
  }),
  guestHeart: endpoint({
    method: 'PUT',
    path: '/api/guest/:token/pictures/:id/heart',
    part: 'nobody',
    summary: 'Give a picture a heart, or take it back',
    params: token.extend({ id: IdParam }),
    body: z.strictObject({ on: z.boolean() }),
    answer: z.object({ hearts: Count }),
  }),
  announceAdditions: endpoint({
    method: 'POST',
    path: '/api/guest/:token/additions',
    part: 'nobody',
    summary: 'Announce files to add; each is then sent as a resumable upload',
    params: token,
    body: z.strictObject({
      files: z
        .array(z.strictObject({ name: z.string().min(1).max(255), bytes: z.number().int().min(1) }))
        .min(1)
        .max(500),
    }),
    answer: z.object({ additions: z.array(Addition) }),
  }),
  additions: endpoint({
    method: 'GET',
    path: '/api/guest/:token/additions',
    part: 'nobody',
    summary: 'What became of the pictures you added',
    params: token,
    answer: z.object({ additions: z.array(Addition) }),
  }),
  takeAddition: endpoint({
    method: 'DELETE',
    path: '/api/guest/:token/additions/:id',
    part: 'nobody',
    summary: 'Take back a picture you added, as long as the keeper has not said yes',
    params: token.extend({ id: IdParam }),
    answer: z.object({ done: z.literal(true) }),
  }),
};

/** Files for guests. */
export const guestFileRoutes = [
  {
    method: 'GET',
    path: '/api/guest/:token/pictures/:id/:size',
    part: 'nobody',
    summary:
      'A shared picture: small, large, a copy as large as a screen, or at full size; nothing it says on the side',
  },
  {
    method: 'GET',
    path: '/api/guest/:token/zip',
    part: 'nobody',
    summary: 'Shared pictures as ZIP; `ids` for some of them',
  },
  { method: 'POST', path: '/api/guest/:token/uploads', part: 'nobody', summary: 'Begin to send a file (tus 1.0)' },
  { method: 'HEAD', path: '/api/guest/:token/uploads/:item', part: 'nobody', summary: 'How far a file is' },
  { method: 'PATCH', path: '/api/guest/:token/uploads/:item', part: 'nobody', summary: 'Send a file on (tus 1.0)' },
] as const;
