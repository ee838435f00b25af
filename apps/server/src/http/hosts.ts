import type { Context, Next } from 'hono';
import { hostname, networkInterfaces } from 'node:os';
import type { App } from '../context';
import { refused } from '../problem';
import { fromOf } from './from';

/** How long the machine's addresses are remembered, in ms: a router may give it another. */
const FRESH = 10_000;

const isLoopback = (name: string): boolean =>
  name === 'localhost' || name === '::1' || /^127(\.\d{1,3}){3}$/.test(name);

/** Whether an address of a connection is this machine itself. */
export const fromHere = (address: string): boolean => isLoopback(address.replace(/^::ffff:/i, ''));

/** The name in a `Host` header: without its port and the brackets of IPv6, in small letters; '' when there is none in it. */
export function nameIn(host: string): string {
  const m = /^(?:\[([0-9a-f:.]+)\]|([^:[\]]*))(?::\d{1,5})?$/i.exec(host.trim());
  return (m?.[1] ?? m?.[2] ?? '').toLowerCase().replace(/\.$/, '');
}

/** Names and addresses this machine goes by. */
function ownNames(): Set<string> {
  const own = hostname().toLowerCase();
  const [first] = own.split('.');
  const names = new Set([own, `${own}.local`, `${first}.local`, first!]);
  for (const list of Object.values(networkInterfaces()))
    for (const { address } of list ?? []) names.add(address.toLowerCase().split('%')[0]!);
  return names;
}

/** Names that were given as addresses are remembered for so long, in ms. */
const GIVEN_FRESH = 5000;

/** The names of addresses that were given to libraries: they are this machine's own. */
class GivenNames {
  private names = new Set<string>();
  private until = 0;

  constructor(private readonly app: App) {}

  async has(name: string): Promise<boolean> {
    if (this.names.has(name)) return true;
    if (Date.now() < this.until) return false;
    this.until = Date.now() + GIVEN_FRESH;
    const rows = await this.app
      .db('libraries')
      .whereNotNull('address')
      .select('address')
      .catch(() => []);
    this.names = new Set(rows.map(({ address }) => nameIn(new URL(address!).host)));
    return this.names.has(name);
  }
}

/**
 * Answers only to names that are this machine's: a page elsewhere could otherwise have its own name lead here and read what
 * a browser of the house may see (DNS rebinding). Whoever is refused is told how to have a name let in.
 */
export function onlyOwnNames(app: App) {
  const { config } = app;
  const addresses = new GivenNames(app);
  let names = new Set<string>();
  let until = 0;
  // Listening everywhere is no name.
  const given = new Set(
    [...config.names, config.host.toLowerCase()].filter((name) => !['0.0.0.0', '::'].includes(name)),
  );
  const isOwn = (name: string): boolean => {
    if (isLoopback(name) || given.has(name)) return true;
    if (Date.now() > until) {
      names = ownNames();
      until = Date.now() + FRESH;
    }
    return names.has(name);
  };
  return async (c: Context, next: Next): Promise<void> => {
    const name = nameIn(fromOf(c).host);
    if (!isOwn(name) && !(await addresses.has(name)))
      throw refused('unknown-host', {
        name: name.slice(0, 100),
        setting: JSON.stringify({ names: [name.slice(0, 100)] }),
      });
    await next();
  };
}
