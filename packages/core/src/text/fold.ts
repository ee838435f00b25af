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

/** The searchable words of a picture: its title, caption and file name, folded and joined by line feeds. */
export function searchable(title: string | null, caption: string | null, name: string): string {
  return [title ?? '', caption ?? '', name].map(fold).join('\n');
}
