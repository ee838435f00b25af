/**
 * Folds text for searching: canonical decomposition without its marks (Unicode NFKD), lower case, one space between
 * words. Both the predicate and the database search this form, so that they can never disagree about accents.
 */
export function fold(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/\s+/gu, ' ')
    .trim();
}
