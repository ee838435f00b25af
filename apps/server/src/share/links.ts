import { createCipheriv, createDecipheriv, createHmac, hkdfSync, randomBytes } from 'node:crypto';
import { hashOf, newToken } from '../account/links';
import type { App } from '../context';

const IV = 12;
const TAG = 16;
const keyOf = (app: App): Buffer =>
  Buffer.from(hkdfSync('sha256', app.config.secrets.links, '', 'links of shares', 32));

/** Seals a link's token with the server's own key (AES-256-GCM): a stolen database alone opens no share. */
export function seal(app: App, token: string): Buffer {
  const iv = randomBytes(IV);
  const cipher = createCipheriv('aes-256-gcm', keyOf(app), iv);
  return Buffer.concat([iv, cipher.update(token, 'utf8'), cipher.final(), cipher.getAuthTag()]);
}

/** The token that was sealed; null when it was sealed with another key, or is spoilt. */
export function unseal(app: App, sealed: Buffer | null): string | null {
  if (!sealed || sealed.length <= IV + TAG) return null;
  try {
    const decipher = createDecipheriv('aes-256-gcm', keyOf(app), sealed.subarray(0, IV));
    decipher.setAuthTag(sealed.subarray(-TAG));
    return `${decipher.update(sealed.subarray(IV, -TAG)).toString('utf8')}${decipher.final().toString('utf8')}`;
  } catch {
    return null;
  }
}

/** What the database keeps of a new random link. */
export function newLink(app: App): { token_hash: Buffer; sealed: Buffer } {
  const token = newToken();
  return { token_hash: hashOf(token), sealed: seal(app, token) };
}

/** Links were once made from the key and the share's number. */
const earlier = (app: App, id: number): string =>
  createHmac('sha256', app.config.secrets.links).update(`share ${id}`).digest('base64url');

/**
 * Keeps links of before as they are, and gives shares a new link when the key theirs was sealed with was lost: the old ones lead nowhere
 * then. Answers whether there were such. Safe to repeat.
 */
export async function renewLinks(app: App): Promise<boolean> {
  const { db } = app;
  const rows = await db('shares').whereNotNull('token_hash').select('id', 'token_hash', 'sealed');
  let lost = false;
  for (const { id, token_hash, sealed } of rows) {
    const token = sealed ? unseal(app, sealed) : earlier(app, id);
    const right = token !== null && hashOf(token).equals(token_hash!);
    if (right && sealed) continue;
    lost ||= !right;
    await db('shares')
      .where({ id, token_hash: token_hash! })
      .update(right ? { sealed: seal(app, token) } : newLink(app));
  }
  // Links of named people whose seal is lost are given anew by hand: whoever had one is told by the keeper.
  for (const { id, sealed } of await db('share_guests').whereNotNull('token_hash').select('id', 'sealed'))
    if (unseal(app, sealed) === null) {
      lost = true;
      await db('share_guests').where('id', id).update(newLink(app));
    }
  return lost;
}
