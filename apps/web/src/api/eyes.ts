/** The member by whose eyes a keeper looks in this tab, by number. */
const KEPT = 'gemmel-eyes';
const NAMED = 'eyes';

let eyes: string | null = null;
if (typeof window !== 'undefined') {
  const url = new URL(location.href);
  eyes = url.searchParams.get(NAMED) ?? sessionStorage.getItem(KEPT);
  if (url.searchParams.has(NAMED)) {
    url.searchParams.delete(NAMED);
    history.replaceState(history.state, '', url);
  }
  if (eyes) sessionStorage.setItem(KEPT, eyes);
}

/** What requests say of it. */
export const lentEyes = (): string | null => eyes;

const named = (path: string, whose: string): string =>
  `${path}${path.includes('?') ? '&' : '?'}${NAMED}=${encodeURIComponent(whose)}`;

/** An address of a page that shows what a member sees. */
export const withEyes = (path: string, member: number): string => named(path, String(member));

/** An address of the server, for what asks by an address alone, that says by whose eyes it is asked. */
export const throughEyes = (path: string): string => (eyes === null ? path : named(path, eyes));

/** Forgets by whose eyes this tab looks. */
export function closeEyes(): void {
  sessionStorage.removeItem(KEPT);
  eyes = null;
}

/** Looks by one's own eyes again; the page begins anew. */
export function openOwnEyes(): void {
  closeEyes();
  location.assign('/household');
}
