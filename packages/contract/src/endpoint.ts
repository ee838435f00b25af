import type { z } from 'zod';

/**
 * A member's part, from the one who runs everything to somebody who is not signed in; `account` is signed in, whatever library they
 * belong to.
 */
export type Part = 'keeper' | 'helper' | 'relative' | 'account' | 'nobody';

/** One route of the interface: what goes in, what comes out, and the least part that may call it. */
export interface Endpoint<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  A extends z.ZodType = z.ZodType,
> {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** With `:name` for parameters. */
  path: string;
  summary: string;
  part: Part;
  /** True for what only reads, though it is asked by POST: a question does not fit into an address. */
  reads?: true;
  /** True for answers that are files for the most part, which get no smaller by being packed. */
  packed?: true;
  params?: P;
  query?: Q;
  body?: B;
  answer: A;
}

/** Declares an endpoint; only there to keep its types. */
export function endpoint<
  P extends z.ZodType<unknown>,
  Q extends z.ZodType<unknown>,
  B extends z.ZodType<unknown>,
  A extends z.ZodType,
>(e: Endpoint<P, Q, B, A>): Endpoint<P, Q, B, A> {
  return e;
}

type Out<T> = T extends z.ZodType<infer O> ? O : undefined;
type In<T> = T extends z.ZodType ? z.input<T> : undefined;
type Known<T> = unknown extends T ? object : T;

/** What a handler is given once its input has been checked. */
export type HandlerInput<E extends Endpoint> = {
  params: Known<Out<NonNullable<E['params']>>>;
  query: Known<Out<NonNullable<E['query']>>>;
  body: Known<Out<NonNullable<E['body']>>>;
};

/** What a caller must give. */
export type CallInput<E extends Endpoint> = (unknown extends In<NonNullable<E['params']>>
  ? object
  : { params: In<NonNullable<E['params']>> }) &
  (unknown extends In<NonNullable<E['query']>> ? object : { query?: In<NonNullable<E['query']>> }) &
  (unknown extends In<NonNullable<E['body']>> ? object : { body: In<NonNullable<E['body']>> });

/** What comes back. */
export type Answer<E extends Endpoint> = Out<E['answer']>;
