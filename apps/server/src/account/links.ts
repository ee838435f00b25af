import { createHash, randomBytes } from 'node:crypto';

/** The secret part of a link: 256 random bits. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What the database keeps of it. */
export const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();
