import { fetchFirst } from './first';

/**
 * Runs while the page's scripts are still coming: asks at once who is signed in, and for what the page will show first. What comes back is handed on
 * by `device/begin`.
 */
(() => {
  const { pathname, search } = location;
  const asked = (at: string): Promise<unknown> =>
    fetch(at).then(
      (answer) => (answer.ok ? (answer.json() as Promise<unknown>) : null),
      () => null,
    );
  let oldestFirst = false;
  // What stands in another order, or under people, places or folders, is asked for by the page.
  let usual = true;
  const named: string[] = [];
  let library = '';
  try {
    const { state = {} } = JSON.parse(localStorage.getItem('gemmel-look') ?? '{}') as {
      state?: { oldestFirst?: boolean; sort?: string; headed?: string };
    };
    oldestFirst = state.oldestFirst ?? false;
    usual = (state.sort ?? 'date') === 'date' && /^(?:event|day|month|none)$/.test(state.headed ?? 'event');
    const query = new URLSearchParams(search);
    for (const [key, kept] of [
      ['in', 'gemmel-library'],
      ['eyes', 'gemmel-eyes'],
    ] as const) {
      const value = query.get(key) ?? sessionStorage.getItem(kept);
      if (value) named.push(`${key}=${encodeURIComponent(value)}`);
      if (key === 'in') library = named[0] ?? '';
    }
  } catch {
    // This browser keeps nothing: then the page begins as it does for anybody.
  }
  const at = (path: string, ...more: string[]) => {
    const query = [...more, ...named].join('&');
    return asked(query ? `${path}?${query}` : path);
  };
  if (/^\/(?:s|show|invite|password|sign-in)(?:\/|$)/.test(pathname)) return;
  const opening = pathname === '/browse' && usual ? at('/api/opening', `oldestFirst=${oldestFirst}`) : null;
  void opening?.then((one) => fetchFirst((one as { tiles: { sha: string }[] } | null)?.tiles ?? [], library));
  (globalThis as { gemmelAhead?: object }).gemmelAhead = { me: at('/api/me'), opening, oldestFirst };
})();
