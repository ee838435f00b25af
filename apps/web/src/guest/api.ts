import type { Addition, GuestComment, GuestShare, Saying } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { sayProblem } from '@/words/problems';

/** The secret part of the link this page was opened by. */
export const token = (): string => decodeURIComponent(location.pathname.split('/')[2] ?? '');
const at = (path: string): string => `/api/guest/${encodeURIComponent(token())}${path}`;

/** Where a shared picture is found: small, as large as a screen, at full size, or a clip as browsers play it. */
export const pictureAt = (id: number, size: 'small' | 'large' | 'screen' | 'original' | 'play'): string =>
  at(`/pictures/${id}/${size}`);
/** Pictures as one ZIP; all of them, or some. */
export const zipAt = (ids: readonly number[] | null): string => at(ids ? `/zip?ids=${ids.join(',')}` : '/zip');
/** Where files are sent. */
export const uploadsAt = (): string => at('/uploads');

/** What the server refused, by its code; without one when nothing came back. */
export class Refusal extends Error {
  constructor(
    readonly saying: Saying | null,
    readonly status: number,
  ) {
    super(saying?.code ?? '');
  }
}

/** What a refusal says to people. */
export function wordsOf(error: unknown): string {
  const saying = error instanceof Refusal ? error.saying : null;
  if (!saying) return t`That didn’t get through just now. Nothing is lost; try again in a moment.`;
  return sayProblem(saying) ?? t`Something went wrong here. Nothing is lost; try again.`;
}

async function ask<T>(path: string, body?: object, method = body ? 'POST' : 'GET'): Promise<T> {
  let response: Response;
  try {
    response = await fetch(at(path), {
      method,
      ...(body ? { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } } : {}),
    });
  } catch {
    throw new Refusal(null, 0);
  }
  const told = (await response.json().catch(() => ({}))) as Partial<Saying>;
  if (!response.ok)
    throw new Refusal(told.code ? { code: told.code, params: told.params ?? {} } : null, response.status);
  return told as T;
}

export const look = (): Promise<GuestShare> => ask('');
export const enter = (body: { word?: string; name?: string }): Promise<{ name: string | null }> => ask('/enter', body);
export const heart = (id: number, on: boolean): Promise<{ hearts: number }> =>
  ask(`/pictures/${id}/heart`, { on }, 'PUT');

type Comments = { comments: GuestComment[] };
export const commentsOf = (id: number): Promise<Comments> => ask(`/pictures/${id}/comments`);
export const comment = (id: number, text: string): Promise<Comments> => ask(`/pictures/${id}/comments`, { text });
export const takeComment = (id: number): Promise<unknown> => ask(`/comments/${id}`, undefined, 'DELETE');

type Additions = { additions: Addition[] };
export const additions = (): Promise<Additions> => ask('/additions');
export const announce = (files: readonly { name: string; bytes: number }[]): Promise<Additions> =>
  ask('/additions', { files });
export const takeAddition = (item: number): Promise<unknown> => ask(`/additions/${item}`, undefined, 'DELETE');
