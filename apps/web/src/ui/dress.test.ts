import { dress } from './dress';

describe('dress', () => {
  test('a given colour, size or padding takes the place of the part’s own', () => {
    expect(dress('font-sans text-body text-ink', 'text-card')).toBe('font-sans text-body text-card');
    expect(dress('font-sans text-body text-ink', 'text-small font-bold')).toBe('text-ink text-small font-bold');
    expect(dress('min-h-button px-4 py-2', 'px-0')).toBe('min-h-button py-2 px-0');
  });
  test('what decides something else stays', () => {
    expect(dress('text-ink', 'text-center mt-2')).toBe('text-ink text-center mt-2');
    expect(dress('a b', '')).toBe('a b');
  });
});
