import { z } from 'zod';
import { endpoint } from './endpoint';
import * as s from './shapes';

/** A password somebody chooses. */
export const Password = z.string().min(10, 'a password needs at least ten characters').max(200);
const Email = z.email().max(200);
const id = z.object({ id: s.IdParam });
const token = z.object({ token: z.string().max(100) });

export const Member = z.object({
  id: s.Id,
  name: z.string(),
  part: s.InPart,
  email: z.string(),
  since: z.string(),
  /** When they were here last, in any library; null before the first time. */
  seen: z.string().nullable(),
});
export type Member = z.infer<typeof Member>;

export const Invite = z.object({
  id: s.Id,
  name: z.string(),
  email: z.string().nullable(),
  part: s.InPart,
  state: z.enum(['open', 'over', 'accepted', 'revoked']),
  until: z.string(),
});
export type Invite = z.infer<typeof Invite>;

/** An invitation with its link, which is told this once. */
const Link = z.object({
  invite: Invite,
  path: z.string(),
  /** Whether it went out by e-mail. */
  sent: z.boolean(),
});

/** What an invitation says to whoever holds its link. */
export const Invited = z.object({
  library: z.string(),
  from: z.string(),
  name: z.string(),
  email: z.string().nullable(),
  part: s.InPart,
  until: z.string(),
});
export type Invited = z.infer<typeof Invited>;

/** A place where an account is signed in. */
export const SignedIn = z.object({
  id: s.Id,
  /** Whether it is the one that asks. */
  here: z.boolean(),
  device: z
    .object({
      browser: z.string().nullable(),
      system: z.string().nullable(),
      kind: z.enum(['phone', 'tablet', 'computer']),
    })
    .nullable(),
  since: z.string(),
  seen: z.string(),
});
export type SignedIn = z.infer<typeof SignedIn>;

/** A passkey: what a telephone, a computer or a stick opens the door with instead of a password. */
export const Passkey = z.object({ id: s.Id, name: z.string(), since: z.string(), used: z.string().nullable() });
export type Passkey = z.infer<typeof Passkey>;

/** What browser and house say to each other about passkeys, in the words of that standard. */
const Told = z.record(z.string(), z.unknown());

/** What becomes of what somebody wrote when they go. */
const Leaving = z.strictObject({ said: z.enum(['stays', 'goes']) });

/** Accounts, who belongs to a library, and how they come in. */
export const accountApi = {
  changeAccount: endpoint({
    method: 'PATCH',
    path: '/api/me',
    part: 'account',
    summary: 'Change your name, or your address with your password',
    body: z.strictObject({
      name: s.Title.optional(),
      email: Email.optional(),
      password: z.string().max(200).optional(),
    }),
    answer: s.Me,
  }),
  changePassword: endpoint({
    method: 'PUT',
    path: '/api/me/password',
    part: 'account',
    summary: 'Set a new password; you stay signed in here alone',
    body: z.strictObject({ old: z.string().max(200), password: Password }),
    answer: s.Done,
  }),
  signedIn: endpoint({
    method: 'GET',
    path: '/api/me/places',
    part: 'account',
    summary: 'Where you are signed in',
    answer: z.object({ places: z.array(SignedIn) }),
  }),
  signOutAt: endpoint({
    method: 'DELETE',
    path: '/api/me/places/:id',
    part: 'account',
    summary: 'Sign out at another place',
    params: id,
    answer: s.Done,
  }),
  signOutElsewhere: endpoint({
    method: 'DELETE',
    path: '/api/me/places',
    part: 'account',
    summary: 'Sign out everywhere but here',
    answer: s.Done,
  }),
  beginSecond: endpoint({
    method: 'POST',
    path: '/api/me/second',
    part: 'account',
    summary: 'Begin a second step at the door: a secret for an application that makes one-time codes',
    body: z.strictObject({ password: z.string().max(200) }),
    answer: z.object({ secret: z.string(), uri: z.string() }),
  }),
  confirmSecond: endpoint({
    method: 'POST',
    path: '/api/me/second/confirm',
    part: 'account',
    summary: 'Make the second step good by its first code; answers with codes for the day the telephone is lost',
    body: z.strictObject({ code: z.string().max(20) }),
    answer: z.object({ codes: z.array(z.string()) }),
  }),
  endSecond: endpoint({
    method: 'POST',
    path: '/api/me/second/end',
    part: 'account',
    summary: 'End the second step',
    body: z.strictObject({ password: z.string().max(200) }),
    answer: s.Done,
  }),
  passkeys: endpoint({
    method: 'GET',
    path: '/api/me/passkeys',
    part: 'account',
    summary: 'Your passkeys',
    answer: z.object({ passkeys: z.array(Passkey) }),
  }),
  beginPasskey: endpoint({
    method: 'POST',
    path: '/api/me/passkeys/begin',
    part: 'account',
    summary: 'Begin a passkey: what the browser is told to make one (WebAuthn’s creation options)',
    body: z.strictObject({ password: z.string().max(200) }),
    answer: Told,
  }),
  addPasskey: endpoint({
    method: 'POST',
    path: '/api/me/passkeys',
    part: 'account',
    summary: 'Keep a passkey that the browser has made',
    body: z.strictObject({ name: z.string().trim().min(1).max(80), response: Told }),
    answer: z.object({ passkeys: z.array(Passkey) }),
  }),
  endPasskey: endpoint({
    method: 'DELETE',
    path: '/api/me/passkeys/:id',
    part: 'account',
    summary: 'Forget a passkey',
    params: id,
    answer: z.object({ passkeys: z.array(Passkey) }),
  }),
  beginPasskeySignIn: endpoint({
    method: 'POST',
    path: '/api/sign-in/passkey/begin',
    part: 'nobody',
    summary: 'What the browser is told to sign somebody in by a passkey (WebAuthn’s request options)',
    answer: Told,
  }),
  signInByPasskey: endpoint({
    method: 'POST',
    path: '/api/sign-in/passkey',
    part: 'nobody',
    summary: 'Sign in by a passkey',
    body: z.strictObject({ response: Told }),
    answer: s.Me,
  }),
  leave: endpoint({
    method: 'POST',
    path: '/api/leave',
    part: 'relative',
    summary: 'Leave this library',
    body: Leaving,
    answer: s.Me,
  }),
  makeLibrary: endpoint({
    method: 'POST',
    path: '/api/libraries',
    part: 'keeper',
    summary: 'Make another library, with you as its keeper',
    body: z.strictObject({ name: s.Title, language: s.Language.optional() }),
    answer: s.Me,
  }),
  members: endpoint({
    method: 'GET',
    path: '/api/members',
    part: 'keeper',
    summary: 'Who belongs to this library, and who is invited',
    answer: z.object({ members: z.array(Member), invites: z.array(Invite) }),
  }),
  changeMember: endpoint({
    method: 'PATCH',
    path: '/api/members/:id',
    part: 'keeper',
    summary: 'Give a member another part or name',
    params: id,
    body: z.strictObject({ part: s.InPart.optional(), name: s.Title.optional() }),
    answer: s.Done,
  }),
  removeMember: endpoint({
    method: 'POST',
    path: '/api/members/:id/remove',
    part: 'keeper',
    summary: 'Let a member go',
    params: id,
    body: Leaving,
    answer: s.Done,
  }),
  resetMember: endpoint({
    method: 'POST',
    path: '/api/members/:id/password',
    part: 'keeper',
    summary: 'A link by which a member sets a new password',
    params: id,
    answer: z.object({ path: z.string() }),
  }),
  invite: endpoint({
    method: 'POST',
    path: '/api/invites',
    part: 'keeper',
    summary: 'Invite somebody by a link',
    body: z.strictObject({ name: s.Title, email: Email.optional(), part: s.InPart }),
    answer: Link,
  }),
  renewInvite: endpoint({
    method: 'POST',
    path: '/api/invites/:id/renew',
    part: 'keeper',
    summary: 'A new link for an invitation, instead of the old one',
    params: id,
    answer: Link,
  }),
  revokeInvite: endpoint({
    method: 'DELETE',
    path: '/api/invites/:id',
    part: 'keeper',
    summary: 'Take an invitation back',
    params: id,
    answer: s.Done,
  }),
  invited: endpoint({
    method: 'GET',
    path: '/api/invite/:token',
    part: 'nobody',
    summary: 'What an invitation says',
    params: token,
    answer: Invited,
  }),
  acceptInvite: endpoint({
    method: 'POST',
    path: '/api/invite/:token',
    part: 'nobody',
    summary: 'Accept an invitation with a new account, or as who is signed in',
    params: token,
    body: z.strictObject({
      account: z
        .strictObject({ name: s.Title, email: Email, password: Password, language: s.Language.optional() })
        .nullable(),
    }),
    answer: s.Me,
  }),
  resetOf: endpoint({
    method: 'GET',
    path: '/api/password/:token',
    part: 'nobody',
    summary: 'Whose password a link sets',
    params: token,
    answer: z.object({ name: z.string(), email: z.string() }),
  }),
  useReset: endpoint({
    method: 'POST',
    path: '/api/password/:token',
    part: 'nobody',
    summary: 'Set a new password by a link',
    params: token,
    body: z.strictObject({ password: Password }),
    answer: s.Me,
  }),
};
