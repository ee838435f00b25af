import {
  PROBLEMS,
  problemTitle,
  reasonTitle,
  type Gone,
  type ProblemCode,
  type ProblemParams,
  type Saying,
} from '@gemmel/contract';
import type { ContentfulStatusCode } from 'hono/utils/http-status';

/** A request that is refused (RFC 9457), told as a code with what it speaks of; whoever reads puts it into words. */
export class Refused extends Error {
  readonly status: ContentfulStatusCode;

  constructor(readonly saying: Saying) {
    super(problemTitle(saying));
    this.status = PROBLEMS[saying.code as ProblemCode][0] as ContentfulStatusCode;
  }
}

/** A refusal by its code. */
export const refused = <C extends ProblemCode>(
  code: C,
  ...[params]: keyof ProblemParams<C> extends never ? [] : [ProblemParams<C>]
): Refused => new Refused({ code, params: params ?? {} });

/** Something that is asked for is not there. */
export const notFound = (thing: Gone): Refused => refused('gone', { thing });

/** Work that failed for a reason that can be told. */
export class Failed extends Error {
  constructor(readonly saying: Saying) {
    super(reasonTitle(saying));
  }
}

/** The longest text of an error nobody foresaw that is kept, in characters. */
const MOST = 300;

/** Why something failed, as it is kept: what the error says itself, or its own text where nobody foresaw it. */
export function sayingOf(error: unknown): Saying {
  if (error instanceof Refused || error instanceof Failed) return error.saying;
  const why = error instanceof Error ? error.message : String(error);
  return { code: 'unexpected', params: { why: why.slice(0, MOST) } };
}

/** Reads what was kept as JSON; null when there is none. */
export function sayingIn(kept: string | null): Saying | null {
  return kept === null ? null : (JSON.parse(kept) as Saying);
}
