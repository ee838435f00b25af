import { THING_NAMES, type ThingSeen } from './kinds';

/** From how sure on a thing is noticed; see docs/finding.md for what that finds and what it misses. */
export const SEEN_FROM = 0.42;

/**
 * The things a net saw in a picture: it gives a map for each of the eighty, one after another, that is high where the middle of
 * one stands (Zhou, Wang, Krähenbühl, "Objects as Points", 2019). A thing is noticed once, as sure as the surest of its kind.
 */
export function thingsIn(maps: Float32Array, from = SEEN_FROM): { kind: ThingSeen; sure: number }[] {
  const n = maps.length / THING_NAMES.length;
  return THING_NAMES.flatMap((kind, c) => {
    let sure = 0;
    for (let i = c * n; i < (c + 1) * n; i++) if (maps[i]! > sure) sure = maps[i]!;
    return sure < from ? [] : [{ kind, sure: Math.round(100 * sure) / 100 }];
  });
}
