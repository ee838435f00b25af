import { channels, dark, light, pairs } from './tokens';

/** Relative luminance and contrast, as WCAG 2.2 defines them. */
function luminance(hex: string): number {
  const [r, g, b] = channels(hex)
    .split(' ')
    .map((c) => Number(c) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
function contrast(a: string, b: string): number {
  const [x, y] = [luminance(a), luminance(b)].sort((m, n) => n - m) as [number, number];
  return (x + 0.05) / (y + 0.05);
}

describe.each([
  ['paper', light],
  ['evening', dark],
])('text on its ground, %s', (_, scheme) => {
  test.each(pairs)('%s on %s meets AA', (text, ground) => {
    expect(contrast(scheme[text], scheme[ground])).toBeGreaterThanOrEqual(4.5);
  });
});
