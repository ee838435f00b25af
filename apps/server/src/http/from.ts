import { getConnInfo } from '@hono/node-server/conninfo';
import type { Context, Next } from 'hono';
import { BlockList, isIP } from 'node:net';
import type { Vars } from './guard';

/** Where a request comes from, and how. */
export interface From {
  /** The address of whoever asks. */
  address: string;
  /** Whether their way here is encrypted from their side. */
  secure: boolean;
  /** The name in their address line, with its port. */
  host: string;
}

/** Addresses of private networks (RFC 1918, RFC 4193) and of this machine, by the words proxies are told by. */
const NAMED: Record<string, readonly string[]> = {
  loopback: ['127.0.0.0/8', '::1/128'],
  private: ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', 'fc00::/7'],
};

const plain = (address: string): string => address.replace(/^::ffff:/i, '').replace(/^\[|\]$/g, '');
const family = (address: string): 'ipv4' | 'ipv6' => (isIP(address) === 6 ? 'ipv6' : 'ipv4');

/** The proxies that are believed: addresses, networks such as `10.0.0.0/8`, or `loopback` and `private`. @throws for anything else. */
export function proxies(said: readonly string[]): BlockList {
  const list = new BlockList();
  for (const one of said.flatMap((word) => NAMED[word.trim()] ?? [word.trim()])) {
    const [address = '', bits] = one.split('/');
    if (!isIP(address) || (bits !== undefined && !/^\d{1,3}$/.test(bits))) throw new RangeError(one);
    if (bits === undefined) list.addAddress(address, family(address));
    else list.addSubnet(address, Number(bits), family(address));
  }
  return list;
}

const socketOf = (c: Context): string => {
  try {
    return plain(getConnInfo(c).remote.address ?? 'unknown');
  } catch {
    return 'unknown'; // called without a socket, in tests
  }
};

/**
 * Notes where each request comes from. What a proxy says of it (`X-Forwarded-For`, `-Proto`, `-Host`) counts only where the connection
 * comes from one that is believed; of the addresses on the way the last one that is no such proxy is whoever asks.
 */
export function noteFrom(trusted: BlockList) {
  const isTrusted = (address: string) => isIP(address) !== 0 && trusted.check(address, family(address));
  return async (c: Context<Vars>, next: Next): Promise<void> => {
    const url = new URL(c.req.url);
    const socket = socketOf(c);
    const from: From = {
      address: socket,
      secure: url.protocol === 'https:',
      host: c.req.header('host') ?? url.host,
    };
    if (isTrusted(socket)) {
      const way = (c.req.header('x-forwarded-for') ?? '')
        .split(',')
        .map((one) => plain(one.trim()))
        .filter((one) => isIP(one));
      from.address = way.reverse().find((one) => !isTrusted(one)) ?? way.at(-1) ?? socket;
      const proto = c.req.header('x-forwarded-proto')?.split(',').pop()?.trim().toLowerCase();
      if (proto) from.secure = proto === 'https';
      from.host = c.req.header('x-forwarded-host')?.split(',').pop()?.trim() ?? from.host;
    }
    c.set('from', from);
    await next();
  };
}

/**
 * Whether a request was made on this machine itself: what a proxy passes on that is not believed does not count, wherever that
 * proxy runs.
 */
export const isLocal = (c: Context<Vars>): boolean => {
  const { address } = c.get('from');
  if (!/^127\.|^::1$/.test(address)) return false;
  return socketOf(c) !== address || (!c.req.header('x-forwarded-for') && !c.req.header('forwarded'));
};

/** Where a request comes from. */
export const fromOf = (c: Context): From => (c as Context<Vars>).get('from');
