import { chooseShot, type RunShot, type ShotFace } from './best';

const face = (who: number, more: Partial<ShotFace> = {}): ShotFace => ({
  who,
  box: [0.3, 0.2, 0.5, 0.5],
  eyes: 0.27,
  sharp: 300,
  turn: 0.1,
  ...more,
});
const shot = (faces: readonly ShotFace[] = [face(1)], more: Partial<RunShot> = {}): RunShot => ({
  sharp: 400,
  pixels: 12_000_000,
  exposure: null,
  faces,
  rating: 0,
  favourite: false,
  albums: 0,
  ...more,
});

describe('the best shot of a run', () => {
  test('nobody blinks in it, and it says so', () => {
    const { best, reasons, against } = chooseShot([
      shot([face(1), face(2, { eyes: 0.15 })]),
      shot([face(1), face(2)]),
      shot([face(1, { eyes: 0.2 }), face(2)]),
    ]);
    expect(best).toBe(1);
    expect(reasons).toContainEqual({ why: 'everybody' });
    expect(against[0]).toEqual([{ why: 'shut', who: 2 }]);
    expect(against[2]).toEqual([{ why: 'shut', who: 1 }]);
  });
  test('lids that tremble within what open eyes do decide nothing', () => {
    expect(chooseShot([shot([face(1, { eyes: 0.26 })]), shot([face(1, { eyes: 0.27 })])]).against[1]).toEqual([]);
  });
  test('a blurred shot is not the best, however wide its eyes seem', () => {
    const { best, reasons, against } = chooseShot([
      shot([face(1, { sharp: 20, eyes: 0.4 })], { sharp: 15 }),
      shot([face(1)]),
    ]);
    expect(best).toBe(1);
    expect(reasons).toContainEqual({ why: 'sharp' });
    expect(against[0]).toEqual([{ why: 'blurred' }]);
  });
  test('sharp where the faces are beats sharp elsewhere', () => {
    const { best, reasons } = chooseShot([
      shot([face(1, { sharp: 100 })], { sharp: 500 }),
      shot([face(1, { sharp: 320 })], { sharp: 380 }),
    ]);
    expect(best).toBe(1);
    expect(reasons).toContainEqual({ why: 'sharper', who: 1 });
  });
  test('whoever looks at the camera, is in it whole and is there at all is better', () => {
    expect(chooseShot([shot([face(1, { turn: 0.7 })]), shot([face(1)])])).toMatchObject({
      best: 1,
      reasons: [{ why: 'turned', who: 1 }],
    });
    expect(chooseShot([shot([face(1, { box: [0, 0.2, 0.1, 0.5] })]), shot([face(1)])])).toMatchObject({
      best: 1,
      reasons: [{ why: 'cut', who: 1 }],
    });
    expect(chooseShot([shot([face(1)]), shot([face(1), face(2)])]).best).toBe(1);
  });
  test('stars tell between equals, and do not open an eye', () => {
    expect(chooseShot([shot(), shot(undefined, { rating: 4 })])).toMatchObject({ best: 1, reasons: [{ why: 'said' }] });
    expect(chooseShot([shot(), shot([face(1, { eyes: 0.14 })], { rating: 5 })]).best).toBe(0);
    expect(chooseShot([shot(), shot(undefined, { albums: 1 })])).toMatchObject({
      best: 1,
      reasons: [{ why: 'album' }],
    });
  });
  test('light and size tell where there is nobody', () => {
    expect(chooseShot([shot([], { exposure: 'dark' }), shot([])])).toMatchObject({
      best: 1,
      reasons: [{ why: 'light' }],
    });
    expect(chooseShot([shot([], { pixels: 3_000_000 }), shot([])])).toMatchObject({
      best: 1,
      reasons: [{ why: 'large' }],
    });
    expect(chooseShot([])).toMatchObject({ best: -1, reasons: [], against: [] });
  });
});
