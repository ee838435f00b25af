import type { Box } from '../faces/geometry';

/** A face in a shot of a run. */
export interface ShotFace {
  /** Who it is: one number for one person in all shots of the run. */
  who: number;
  /** Left, top, right and bottom in fractions of the picture. */
  box: Box;
  /** How open its eyes are; see `eyesOpen`. Null where it is not known. */
  eyes: number | null;
  /** How sharp it is: the variance of the Laplacian of its upright crop. Null where it is not known. */
  sharp: number | null;
  /** How far it is turned away: 0 looks at the camera, 1 is a profile. Null where it is not known. */
  turn: number | null;
}

/** A shot of a run, as far as it matters for which is the best. */
export interface RunShot {
  sharp: number | null;
  pixels: number;
  /** Whether it was noticed to be too dark or too bright. */
  exposure: 'dark' | 'bright' | null;
  faces: readonly ShotFace[];
  /** What people already said of it. */
  rating: number;
  favourite: boolean;
  albums: number;
}

/** What speaks for a shot, or against one. `who` is whom it is about: the number of a face's person. */
export type ShotReason =
  | { why: 'said' | 'album' | 'sharp' | 'blurred' | 'light' | 'dark' | 'bright' | 'large' | 'everybody' }
  | { why: 'eyes' | 'shut' | 'sharper' | 'turned' | 'away' | 'cut' | 'missing'; who: number };

/** How good each shot of a run is, the best of them, and why. */
export interface Choice {
  best: number;
  scores: readonly number[];
  /** What speaks for the best. */
  reasons: readonly ShotReason[];
  /** What speaks against each of the others. */
  against: readonly (readonly ShotReason[])[];
}

/**
 * Eyes are as good as open from this share of how open they are in the sharp shot in which they are most so, and shut below the other:
 * seconds apart, open eyes measure within 8 % of each other, shut ones 13 to 53 % less (bursts of the made-up household).
 */
const OPEN = 0.93;
const SHUT = 0.84;
/** A face or picture with less than this share of the sharpness of the sharpest is blurred beside it. */
const SOFT = 0.45;
/** A face turned further than the one that looks best at the camera by this is turned away. */
const TURNED = 0.3;
/** A face this near the edge of its picture, in fractions, is cut off. */
const EDGE = 0.004;

const cutOff = ([x1, y1, x2]: Box): boolean => x1 <= EDGE || x2 >= 1 - EDGE || y1 <= EDGE;
const area = ([x1, y1, x2, y2]: Box): number => (x2 - x1) * (y2 - y1);

/** What of one face in one shot is good or bad beside the same face in the others, from 0 to 1 each. */
interface Judged {
  who: number;
  weight: number;
  shut: boolean;
  open: number;
  soft: boolean;
  sharp: number;
  away: boolean;
  cut: boolean;
}

/**
 * Proposes the best shot of a run: everybody's eyes open, sharp where the faces are, looking at the camera, nobody cut off or missing,
 * light, size, and what people already said of it. Each face is held against the same person's in the other shots. Nothing is decided
 * by it. @throws never; an empty run has no best (-1).
 */
export function chooseShot(shots: readonly RunShot[]): Choice {
  const whos = [...new Set(shots.flatMap((shot) => shot.faces.map((face) => face.who)))];
  const most = (who: number, of: (face: ShotFace) => number | null): number | null => {
    const all = shots
      .flatMap((shot) => shot.faces.filter((face) => face.who === who).map(of))
      .filter((v) => v !== null);
    return all.length ? Math.max(...all) : null;
  };
  const largest = new Map(whos.map((who) => [who, most(who, (face) => area(face.box)) ?? 0]));
  const biggest = Math.max(1e-9, ...largest.values());
  const judged = shots.map((shot) =>
    whos.map((who): Judged | null => {
      const face = shot.faces.find((one) => one.who === who);
      if (!face) return null;
      const sharpest = most(who, (f) => f.sharp) ?? 0;
      const share = (f: ShotFace) => (f.sharp === null || sharpest <= 0 ? 1 : Math.min(1, f.sharp / sharpest));
      const sharp = share(face);
      // In a blurred face lids cannot be told from light.
      const openest = most(who, (f) => (share(f) < SOFT ? null : f.eyes)) ?? 0;
      const open = face.eyes === null || openest <= 0 || sharp < SOFT ? 1 : Math.min(1, face.eyes / openest);
      const straightest = -(most(who, (f) => (f.turn === null ? null : -f.turn)) ?? 0);
      return {
        who,
        // Whoever is large in the picture counts more, but nobody counts for nothing.
        weight: 0.35 + 0.65 * Math.sqrt((largest.get(who) ?? 0) / biggest),
        shut: open < SHUT,
        open,
        soft: sharp < SOFT,
        sharp,
        away: face.turn !== null && face.turn - straightest > TURNED,
        cut: cutOff(face.box),
      };
    }),
  );
  const sharpest = Math.max(1e-9, ...shots.map((shot) => shot.sharp ?? 0));
  const pixels = Math.max(1, ...shots.map((shot) => shot.pixels));
  const softPicture = (shot: RunShot) => shot.sharp !== null && shot.sharp < SOFT * sharpest;
  const scores = shots.map((shot, i) => {
    let score = 0;
    // What people said counts, but stars that were given before the others were seen do not open an eye.
    score += 1.6 * (shot.rating / 5) + (shot.favourite ? 1.2 : 0) + Math.min(2, shot.albums) * 0.5;
    for (const face of judged[i]!) {
      if (!face) {
        score -= 1.2;
        continue;
      }
      const closed = Math.min(1, Math.max(0, (OPEN - face.open) / (OPEN - 0.73)));
      score += face.weight * (-3 * closed + (face.soft ? -2 : 0.8 * face.sharp));
      if (face.away) score -= 0.8 * face.weight;
      if (face.cut) score -= 0.7 * face.weight;
    }
    const soft = Math.log2(Math.max(0.05, (shot.sharp ?? sharpest) / sharpest));
    // Where there are faces, they are what must be sharp.
    score += (whos.length ? 0.5 : 1) * soft - (softPicture(shot) ? (whos.length ? 1 : 2) : 0);
    if (shot.exposure) score -= 0.8;
    score += 0.25 * Math.log2(Math.max(0.05, shot.pixels / pixels));
    return score;
  });
  const best = scores.reduce((top, score, i) => (top < 0 || score > scores[top]! + 1e-9 ? i : top), -1);
  return { best, scores, ...wordsFor(shots, judged, best, softPicture) };
}

/** What there is to say for the best shot, and against the others. */
function wordsFor(
  shots: readonly RunShot[],
  judged: readonly (readonly (Judged | null)[])[],
  best: number,
  softPicture: (shot: RunShot) => boolean,
): Pick<Choice, 'reasons' | 'against'> {
  const against = shots.map((shot, i): ShotReason[] => {
    if (i === best) return [];
    const found: ShotReason[] = [];
    const faces = judged[i]!;
    // Of a blurred shot nothing else can be said for sure.
    if (softPicture(shot)) return [{ why: 'blurred' }];
    for (const face of faces) if (face?.shut) found.push({ why: 'shut', who: face.who });
    for (const face of faces) if (face?.soft) found.push({ why: 'sharper', who: face.who });
    for (const face of faces) if (face?.away) found.push({ why: 'away', who: face.who });
    for (const face of faces) if (face?.cut) found.push({ why: 'cut', who: face.who });
    if (shot.exposure) found.push({ why: shot.exposure });
    return found;
  });
  if (best < 0) return { reasons: [], against };
  const top = shots[best]!;
  const others = shots.filter((_, i) => i !== best);
  const reasons: ShotReason[] = [];
  if (others.some((shot) => shot.rating < top.rating || (top.favourite && !shot.favourite)))
    reasons.push({ why: 'said' });
  else if (others.some((shot) => shot.albums < top.albums)) reasons.push({ why: 'album' });
  const mine = judged[best]!.filter((face) => face !== null);
  const some = (test: (face: Judged) => boolean) =>
    judged.some((faces, i) => i !== best && faces.some((face) => face && test(face)));
  if (mine.length && mine.every((face) => !face.shut) && some((face) => face.shut)) reasons.push({ why: 'everybody' });
  if (!softPicture(top) && others.some(softPicture)) reasons.push({ why: 'sharp' });
  else {
    const front = [...mine]
      .sort((a, b) => b.weight - a.weight)
      .find((face) => {
        const theirs = judged.filter((_, i) => i !== best).map((faces) => faces.find((one) => one?.who === face.who));
        return !face.soft && theirs.length > 0 && theirs.every((one) => !one || one.sharp < face.sharp * 0.85);
      });
    if (front) reasons.push({ why: 'sharper', who: front.who });
  }
  const turned = mine.find(
    (face) => !face.away && judged.some((faces) => faces.some((one) => one?.who === face.who && one.away)),
  );
  if (turned) reasons.push({ why: 'turned', who: turned.who });
  const whole = mine.find(
    (face) => !face.cut && judged.some((faces) => faces.some((one) => one?.who === face.who && one.cut)),
  );
  if (whole) reasons.push({ why: 'cut', who: whole.who });
  if (!top.exposure && others.some((shot) => shot.exposure)) reasons.push({ why: 'light' });
  if (others.length && others.every((shot) => shot.pixels < 0.7 * top.pixels)) reasons.push({ why: 'large' });
  return { reasons, against };
}
