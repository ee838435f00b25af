/** The library this tab shows, by its slug; null for the one the account has belonged to longest. */
const KEPT = 'gemmel-library';
/** How an address names it: the same as a request does. */
const NAMED = 'in';

let named: string | null = null;
if (typeof window !== 'undefined') {
  // A link from elsewhere says which library it leads into; the tab keeps to it, whatever another tab shows.
  const url = new URL(location.href);
  named = url.searchParams.get(NAMED) ?? sessionStorage.getItem(KEPT);
  if (url.searchParams.has(NAMED)) {
    url.searchParams.delete(NAMED);
    history.replaceState(history.state, '', url);
  }
  if (named) sessionStorage.setItem(KEPT, named);
}

export const namedLibrary = (): string | null => named;

/** Shows a library in this tab from now on; null forgets. */
export function nameLibrary(slug: string | null): void {
  named = slug;
  if (slug === null) sessionStorage.removeItem(KEPT);
  else sessionStorage.setItem(KEPT, slug);
}

/** An address of the server that names the tab's library, for what asks by an address alone: pictures, files, the stream of news. */
export const inLibrary = (path: string): string =>
  named === null ? path : `${path}${path.includes('?') ? '&' : '?'}${NAMED}=${encodeURIComponent(named)}`;

/**
 * Has links that are opened elsewhere (a new tab, a copied address) say which library they lead into, when this tab shows a named one.
 * Ends when it is called.
 */
export function nameLinks(): () => void {
  const pressed = (event: Event) => {
    const link = (event.target as Element | null)?.closest?.('a[href^="/"]');
    const at = link?.getAttribute('href');
    if (named !== null && at && !at.startsWith('/api/') && !new URLSearchParams(at.split('?')[1]).has(NAMED))
      link!.setAttribute('href', inLibrary(at));
  };
  const events = ['pointerdown', 'keydown', 'contextmenu'] as const;
  for (const one of events) window.addEventListener(one, pressed, true);
  return () => events.forEach((one) => window.removeEventListener(one, pressed, true));
}
