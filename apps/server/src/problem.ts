import type { ContentfulStatusCode } from 'hono/utils/http-status';

/** An error that is told to people as it stands: a status and one plain sentence (RFC 9457). */
export class Refused extends Error {
  constructor(
    readonly status: ContentfulStatusCode,
    message: string,
    readonly detail?: string,
  ) {
    super(message);
  }
}

export const notFound = (what: string): Refused => new Refused(404, `${what} is no longer here.`);
