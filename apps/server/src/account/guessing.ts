import { createHmac, timingSafeEqual } from 'node:crypto';
import { Refused, refused } from '../problem';
import { FailLimit } from './limit';

/** Wrong words for one address from one place: whoever mistypes. */
const PAIR = { most: 10, minutes: 5 };
/** Wrong words from one place, whatever the address: one who tries many. */
const PLACE = { most: 60, minutes: 5 };
/** Wrong words for one address, wherever from: many who try one. */
const ADDRESS = { most: 60, minutes: 15 };

/** What tells that somebody guessed. */
const WRONG: ReadonlySet<string> = new Set(['wrong-password', 'wrong-code', 'wrong-code-second', 'password-not-yours']);

/** Somebody at the sign-in page: where they come from, whom they say they are, and the mark of a browser that was let in before. */
export interface Trying {
  place: string;
  address: string;
  mark: string | undefined;
}

/**
 * Decides who may try to sign in. A browser that was let in before carries a mark and has its tries to itself, so that
 * others' guessing at an address or behind the same router never keeps the right person out (device cookies, as OWASP
 * describes them).
 */
export class Guessing {
  private readonly pairs = new FailLimit(PAIR);
  private readonly places = new FailLimit(PLACE);
  private readonly addresses = new FailLimit(ADDRESS);

  constructor(private readonly secret: string) {}

  private sign(address: string): string {
    return createHmac('sha256', this.secret).update(`let in before ${address}`).digest('base64url');
  }

  /** The mark of a browser that an address was let in from. */
  markFor(address: string): string {
    return this.sign(address);
  }

  private isKnown({ address, mark }: Trying): boolean {
    const own = Buffer.from(this.sign(address));
    const given = Buffer.from(mark ?? '');
    return own.length === given.length && timingSafeEqual(own, given);
  }

  private keys(who: Trying): [FailLimit, string][] {
    const mine = `${who.place} ${who.address}`;
    if (this.isKnown(who)) return [[this.pairs, `known ${mine}`]];
    return [
      [this.pairs, mine],
      [this.places, who.place],
      [this.addresses, who.address],
    ];
  }

  /**
   * Lets somebody try. A try counts from its beginning, so that many at one moment are no more than one after another, and
   * is taken back when it was not wrong.
   */
  async attempt<T>(who: Trying, act: () => Promise<T>): Promise<T> {
    const keys = this.keys(who);
    const begun: [FailLimit, string][] = [];
    const pardon = () => Promise.all(begun.map(([limit, key]) => limit.pardon(key)));
    for (const [limit, key] of keys) {
      if (await limit.begin(key)) begun.push([limit, key]);
      else {
        await pardon();
        throw refused('too-many-tries');
      }
    }
    try {
      const done = await act();
      await pardon();
      await keys[0]![0].clear(keys[0]![1]);
      return done;
    } catch (error) {
      if (!(error instanceof Refused && WRONG.has(error.saying.code))) await pardon();
      throw error;
    }
  }
}
