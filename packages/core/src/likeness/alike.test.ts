import fc from 'fast-check';
import { halves, nearestBefore } from './alike';
import { hashDistance } from './likeness';

const hash = fc.bigInt({ min: 0n, max: 2n ** 64n - 1n });

describe('the nearest earlier hash', () => {
  test('is the same that counting all bits finds', () =>
    fc.assert(
      fc.property(fc.array(hash, { minLength: 1, maxLength: 30 }), fc.integer({ min: 0, max: 64 }), (hashes, most) => {
        const at = hashes.length - 1;
        const distances = hashes.slice(0, at).map((h) => hashDistance(h, hashes[at]!));
        const least = Math.min(...distances);
        const found = nearestBefore(halves(hashes.map(String)), at, most);
        expect(found).toBe(distances.length && least <= most ? distances.indexOf(least) : -1);
      }),
    ));
  test('reads big and decimal hashes alike', () => expect(halves([2n ** 63n])).toEqual(halves([`${2n ** 63n}`])));
});
