import { t } from '@lingui/core/macro';
import { type Answer, api, type Api, type CallInput, type Endpoint, type Problem, type Saying } from '@gemmel/contract';
import { sayProblem } from '@/words/problems';
import { lentEyes } from './eyes';
import { takeEarly } from './early';
import { inLibrary, namedLibrary } from './library';

/** How long an error waits for its sentence, in ms. */
const PATIENCE = 1500;
/** Fetches all sentences, unless they are there; see `words/speak`. */
const wordsHere = (): Promise<void> =>
  (globalThis as { gemmelWords?: () => Promise<void> }).gemmelWords?.().catch(() => undefined) ?? Promise.resolve();

/** An error the server told by its code, or the lack of an answer. `status` is 0 when nothing came back. */
export class Told extends Error {
  constructor(
    readonly saying: Saying | null,
    readonly status: number,
    /** What it says in English, should this page not know its code. */
    title?: string,
  ) {
    super(title ?? saying?.code ?? '');
  }
}

let token: string | null = null;

/** The session's own token, sent back with everything that changes something. */
export const sessionToken = (): string | null => token;
export const setSessionToken = (value: string | null): void => void (token = value);

/** What an error says to people. */
export function wordsOf(error: unknown): string {
  const told = error instanceof Told ? error : null;
  if (told?.status === 0)
    return t`This needs a connection, and Gemmel can’t be reached right now. Nothing is lost; try again in a moment.`;
  const said = told?.saying && sayProblem(told.saying);
  if (said) return said;
  return error instanceof Error && error.message
    ? error.message
    : t`Something went wrong here. Nothing is lost; try again.`;
}

/** Sends a request and answers with the response; errors come as {@link Told}. */
export async function send(path: string, init: RequestInit): Promise<Response> {
  let response: Response;
  const library = namedLibrary();
  const eyes = lentEyes();
  try {
    response = await fetch(path, {
      ...init,
      headers: {
        ...init.headers,
        ...(token ? { 'x-gemmel-token': token } : {}),
        ...(library ? { 'x-gemmel-library': library } : {}),
        ...(eyes ? { 'x-gemmel-eyes': eyes } : {}),
      },
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new Told(null, 0);
  }
  if (response.ok) return response;
  const problem = (await response.json().catch(() => null)) as Partial<Problem> | null;
  const saying = problem?.code ? { code: problem.code, params: problem.params ?? {} } : null;
  // What went wrong is among the sentences that first pages do not speak: they are there before anybody says it.
  await Promise.race([wordsHere(), new Promise((resolve) => setTimeout(resolve, PATIENCE))]);
  throw new Told(saying, response.status, problem?.title);
}

type Loose = { params?: Record<string, unknown>; query?: Record<string, unknown>; body?: unknown };

/** What a page does when the server can't be reached: it answers from what the device keeps, or keeps what was said until there is a line. */
export interface Without {
  reached: () => void;
  lost: () => void;
  /** Notes what was answered; answers when it has been noted who is signed in. */
  noted: (name: keyof Api, input: object, answer: unknown) => Promise<void> | undefined;
  /** Undefined for what only the server can do. */
  instead: (name: keyof Api, input: object, reads: boolean) => Promise<unknown>;
  /** Whether it is known that nothing can be reached. */
  away: () => boolean;
}
let without: Without | null = null;
export const setWithout = (how: Without): void => void (without = how);

/** Calls a route of the contract's table by its name. `signal` calls it off; `once` names an act that may have been sent before. */
export async function call<K extends keyof Api>(
  name: K,
  input: CallInput<Api[K]>,
  signal?: AbortSignal,
  { once }: { once?: string } = {},
): Promise<Answer<Api[K]>> {
  const route = api[name] as Endpoint;
  const reads = route.method === 'GET' || route.reads === true;
  const given = async () => (await without?.instead(name, input, reads)) as Answer<Api[K]> | undefined;
  if (without?.away() && !once) {
    const kept = await given();
    if (kept !== undefined) return kept;
  }
  try {
    const early = reads ? ((await takeEarly(name, input)) as Answer<Api[K]> | null) : null;
    const answer = early ?? (await ask<Answer<Api[K]>>(route, input, signal, once));
    without?.reached();
    if (reads) await without?.noted(name, input, answer);
    return answer;
  } catch (error) {
    if (!(error instanceof Told) || error.status !== 0) throw error;
    without?.lost();
    const kept = once ? undefined : await given();
    if (kept === undefined) throw error;
    return kept;
  }
}

/** What changes something and has not been answered yet. */
const going = new Set<Promise<unknown>>();
/** When everything that changes something has been answered. */
export const sentAll = async (): Promise<void> => void (await Promise.allSettled(going));

function ask<A>(route: Endpoint, input: object, signal?: AbortSignal, once?: string): Promise<A> {
  const asking = askOnce<A>(route, input, signal, once);
  if (route.method !== 'GET' && !route.reads) {
    going.add(asking);
    void asking.catch(() => undefined).finally(() => going.delete(asking));
  }
  return asking;
}

async function askOnce<A>(route: Endpoint, input: object, signal?: AbortSignal, once?: string): Promise<A> {
  const { params, query = {}, body } = input as Loose;
  const path = route.path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(String(params?.[key])));
  const asked = new URLSearchParams(
    Object.entries(query).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]])),
  ).toString();
  const response = await send(asked ? `${path}?${asked}` : path, {
    method: route.method,
    ...(signal ? { signal } : {}),
    headers: {
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...(once ? { 'x-gemmel-once': once } : {}),
    },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const answer = (await response.json()) as A;
  if (typeof answer === 'object' && answer && 'token' in answer && 'signedIn' in answer)
    setSessionToken((answer as { token: string | null }).token);
  return answer;
}

/** Where a picture's smaller sizes, its original and a face's portrait are found. */
export const smallOf = (sha: string): string => inLibrary(`/api/derived/${sha}/small`);
export const largeOf = (sha: string): string => inLibrary(`/api/derived/${sha}/large`);
export const originalOf = (id: number): string => inLibrary(`/api/pictures/${id}/original`);
/** The same, to be saved. */
export const savedOf = (id: number): string => inLibrary(`/api/pictures/${id}/original?save`);
/** A picture at full size as it is shown. */
export const shownOf = (id: number): string => inLibrary(`/api/pictures/${id}/shown`);
export const portraitOf = (face: number): string => inLibrary(`/api/faces/${face}/portrait`);
/** A few silent seconds of a clip, a clip as browsers play it, and a file kept beside a picture. */
export const movingOf = (sha: string): string => inLibrary(`/api/derived/${sha}/moving`);
export const playOf = (id: number): string => inLibrary(`/api/pictures/${id}/play`);
/** A piece of the household's music. */
export const musicOf = (id: number): string => inLibrary(`/api/music/${id}/file`);
export const besideOf = (id: number, file: number): string => inLibrary(`/api/pictures/${id}/files/${file}`);
/** A small view of a file on a card. */
export const glanceOf = (source: number, file: number): string =>
  inLibrary(`/api/sources/${source}/files/${file}/thumb`);
