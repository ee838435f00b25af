/** Runs and doubles of 100 000 pictures from nothing, and of one more, against one plain look at every picture. */
import {
  bitsApart,
  findDoubles,
  findRuns,
  halves,
  MIRROR_BITS,
  mirroredHash,
  NEAR_BITS,
  NearHashes,
  type ShotFacts,
} from '../packages/core/src';
import { line } from './engine';

const MANY = 100_000;
let state = 7;
const random = () => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return state / 2 ** 32;
};
const START = Date.UTC(2010, 0, 1);

/** Three in ten follow within seconds, one in twenty is a copy of one before. */
const shots: ShotFacts[] = [];
let at = START;
while (shots.length < MANY) {
  const last = shots[shots.length - 1];
  const draw = random();
  const near = last && draw < 0.35;
  const copy = last && draw >= 0.35 && draw < 0.4 ? shots[Math.floor(random() * shots.length)]! : null;
  at += near ? 1000 + random() * 4000 : 60_000 + random() * 4_000_000;
  const from = copy ?? (near ? last : null);
  const flips = from ? Math.floor(random() * 5) : 0;
  let [high, low] = from ? [from.high, from.low] : [Math.floor(random() * 2 ** 32), Math.floor(random() * 2 ** 32)];
  for (let i = 0; i < flips; i++)
    if (random() < 0.5) high = (high ^ (1 << Math.floor(random() * 32))) >>> 0;
    else low = (low ^ (1 << Math.floor(random() * 32))) >>> 0;
  shots.push({
    id: shots.length + 1,
    high,
    low,
    width: copy ? 1600 : 4000,
    height: copy ? 1200 : 3000,
    format: 'jpg',
    stem: `IMG_${shots.length}`,
    device: copy ? null : 1 + Math.floor(random() * 3),
    at: copy ? null : at,
    lat: null,
    lon: null,
    colour: [0.5, 0.5, 0.5],
    people: from?.people ?? [1 + Math.floor(random() * 20)],
  });
}

const since = (began: number) => performance.now() - began;
let began = performance.now();
let sum = 0;
for (const shot of shots) sum += bitsApart(shot, shots[0]!) + shot.stem.length;
const floor = since(began);
const order = [...shots].sort((a, b) => b.width - a.width || a.id - b.id);
began = performance.now();
const kept = findDoubles(order);
const doubles = since(began);
const skip = new Set<number>();
order.forEach((shot, i) => {
  if (kept[i]! >= 0) skip.add(shot.id - 1);
});
began = performance.now();
const runs = findRuns(shots, skip);
const ran = since(began);
line(
  `${MANY} pictures from nothing (bound 20 s)`,
  `${((doubles + ran) / 1000).toFixed(1)} s: doubles ${(doubles / 1000).toFixed(1)}, runs ${(ran / 1000).toFixed(1)}; ${((doubles + ran) / Math.max(1, floor)).toFixed(0)} x one look at every picture; ${skip.size} doubles, ${runs.length} runs`,
);
const index = new NearHashes(halves(shots.map(({ high, low }) => (BigInt(high) << 32n) | BigInt(low))), NEAR_BITS);
shots.forEach((_, i) => index.add(i));
const times = Array.from({ length: 500 }, () => {
  const one = shots[Math.floor(random() * MANY)]!;
  const start = performance.now();
  index.within(one);
  index.within(mirroredHash(one), MIRROR_BITS);
  return since(start);
}).sort((a, b) => a - b);
line(
  'the like of one more (bound 20 ms)',
  `${times[250]!.toFixed(2)} ms in the middle, ${times[475]!.toFixed(2)} at the 95th percentile`,
);
if (sum < 0) console.log(sum);
