import fc from 'fast-check';
import { FRAMES, filmSize, stretches } from './film';

test('slides follow each other without a gap, and last as long as they should together', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.3, max: 90, noNaN: true }), { minLength: 1, maxLength: 300 }),
      (seconds) => {
        const all = stretches(seconds.map((one) => ({ seconds: one })));
        let from = 0;
        for (const [i, one] of all.entries()) {
          expect(one.from).toBe(from);
          expect(one.frames).toBeGreaterThan(0);
          expect(one.fade).toBeLessThanOrEqual(Math.max(1, one.frames / 3));
          // What fades out goes on for no longer than it was there.
          if (i) expect(one.fade).toBeLessThanOrEqual(Math.max(1, all[i - 1]!.frames));
          from += one.frames;
        }
        const sum = seconds.reduce((a, b) => a + b, 0);
        expect(Math.abs(from / FRAMES - sum)).toBeLessThan(1 / FRAMES);
      },
    ),
  );
});

test('is as large as it says, either way', () => {
  expect(filmSize({ lines: 720, shape: 'wide' })).toEqual({ width: 1280, height: 720 });
  expect(filmSize({ lines: 1080, shape: 'upright' })).toEqual({ width: 1080, height: 1920 });
});
