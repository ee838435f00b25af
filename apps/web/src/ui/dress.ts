/** What a class decides. Of two classes that decide the same, style sheets let either win; so only one may stand. */
const SLOTS = [
  /^font-/,
  /^text-(tiny|small|body|lead|head|title|figure)$/,
  /^leading-/,
  /^text-(?!tiny|small|body|lead|head|title|figure|center|left|right)/,
  /^px-/,
  /^py-/,
  /^justify-/,
  /^min-h-/,
  /^rounded/,
];

/** A part's own classes without those that the given ones decide otherwise. */
export function dress(base: string, given: string): string {
  if (!given) return base;
  const decided = SLOTS.filter((slot) => given.split(' ').some((name) => slot.test(name)));
  const kept = base.split(' ').filter((name) => !decided.some((slot) => slot.test(name)));
  return `${kept.join(' ')} ${given}`;
}
