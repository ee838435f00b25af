/** One step of a touch-up on a picture of the size of a phone's screen, and all of a recipe on 12 million pixels, against one plain loop. */
import { automatic, framed, lit, smaller, tiredPrint, touched, type Pixels, type Recipe } from '../packages/core/src';
import { line } from './engine';

const picture = (width: number, height: number): Pixels => ({
  width,
  height,
  data: Uint8Array.from({ length: 3 * width * height }, (_, i) => (i * 2654435761) >>> 24),
});
const phone = picture(1170, 878);
const whole = picture(4000, 3000);

/** The median of some runs, in ms. */
function timed(act: () => unknown, runs: number): number {
  act();
  const all = Array.from({ length: runs }, () => {
    const began = performance.now();
    act();
    return performance.now() - began;
  });
  return all.sort((a, b) => a - b)[runs >> 1]!;
}

/** The least any step takes: each byte is read, looked up and written. */
const floorOf = ({ data }: Pixels) => {
  const curve = Uint8Array.from({ length: 256 }, (_, i) => 255 - i);
  return () => {
    const out = new Uint8Array(data.length);
    for (let i = 0; i < data.length; i++) out[i] = curve[data[i]!]!;
    return out;
  };
};

const light: Recipe = {
  v: 1,
  light: { exposure: 30, contrast: 20, shadows: 25 },
  colour: { warmth: 10, vibrance: 15 },
};
const all: Recipe = { ...light, turn: 1, level: 180, crop: [0.1, 0.05, 0.95, 0.9] };

const floor = timed(floorOf(phone), 15);
const step = timed(() => lit(phone, light), 15);
line(
  'a step of light and colours, a phone’s screen (bound 60 ms)',
  `${step.toFixed(1)} ms, ${(step / floor).toFixed(1)} x the floor`,
);
line('a step of level and crop, a phone’s screen', `${timed(() => framed(phone, all), 9).toFixed(1)} ms`);
/** What is shown while a dial is moved; all pixels follow when it rests. */
const quick = smaller(phone, 640);
line(
  'while a dial moves: a step of level and crop (bound 60 ms)',
  `${timed(() => framed(quick, all), 9).toFixed(1)} ms`,
);
line('automatic, a phone’s screen', `${timed(() => automatic(phone), 9).toFixed(1)} ms`);
line('tired print, a phone’s screen', `${timed(() => tiredPrint(phone), 9).toFixed(1)} ms`);
const detail: Recipe = { ...light, detail: { clarity: 30, sharp: 40 } };
line('while a dial moves: a step with detail (bound 60 ms)', `${timed(() => touched(quick, detail), 9).toFixed(1)} ms`);
line('all of it with detail, a phone’s screen, at rest', `${timed(() => touched(phone, detail), 9).toFixed(1)} ms`);
const full = timed(() => touched(whole, { ...all, detail: { sharp: 40 } }), 3);
line(
  'a whole recipe, 12 million pixels (bound 2500 ms)',
  `${full.toFixed(0)} ms, ${(full / timed(floorOf(whole), 3)).toFixed(1)} x the floor`,
);
