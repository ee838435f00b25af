import fc from 'fast-check';
import { halves, NearHashes } from './alike';
import { hashDistance } from './likeness';

const hash = fc.bigInt({ min: 0n, max: 2n ** 64n - 1n });
/** Hashes of which many are near each other, as those of a household are. */
const near = fc
  .array(fc.tuple(fc.nat(3), fc.array(fc.nat(63), { maxLength: 8 })), { minLength: 1, maxLength: 60 })
  .chain((plans) =>
    fc
      .array(hash, { minLength: 4, maxLength: 4 })
      .map((middles) =>
        plans.map(([m, bits]) => bits.reduce((value, bit) => value ^ (1n << BigInt(bit)), middles[m]!)),
      ),
  );

describe('the nearest earlier hash', () => {
  test('is the same that counting all bits of all finds', () =>
    fc.assert(
      fc.property(
        fc.oneof(fc.array(hash, { minLength: 1, maxLength: 30 }), near),
        fc.integer({ min: 0, max: 12 }),
        (hashes, most) => {
          const index = new NearHashes(halves(hashes.map(String)), most);
          hashes.forEach((one, at) => {
            const distances = hashes.slice(0, at).map((h) => hashDistance(h, one));
            const least = Math.min(...distances);
            expect(index.nearest(at)).toBe(distances.length && least <= most ? distances.indexOf(least) : -1);
            index.add(at);
          });
        },
      ),
    ));
  test('reads big and decimal hashes alike', () => expect(halves([2n ** 63n])).toEqual(halves([`${2n ** 63n}`])));
});
