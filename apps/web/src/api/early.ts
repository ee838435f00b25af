import type { Api } from '@gemmel/contract';

/** An answer that was asked for before the page’s own scripts were there. */
export interface Early {
  name: keyof Api;
  input: object;
  /** Null when it could not be had: then it is asked for as ever. */
  answer: Promise<unknown>;
}

/** How long such an answer is news, in ms. */
const NEWS = 10_000;

let early: Early[] = [];
let till = 0;

export function setEarly(answers: Early[]): void {
  early = answers;
  till = Date.now() + NEWS;
}

/** Takes an early answer, once; null where there is none. */
export function takeEarly(name: keyof Api, input: object): Promise<unknown> | null {
  if (early.length === 0 || Date.now() > till) return null;
  const wanted = JSON.stringify(input);
  const at = early.findIndex((one) => one.name === name && JSON.stringify(one.input) === wanted);
  return at < 0 ? null : early.splice(at, 1)[0]!.answer;
}
