/** A description of a face: numbers of unit length, compared by their cosine. */
export type Vector = Float32Array;

/** Dot product; for unit vectors their cosine. */
export function dot(a: Vector, b: Vector): number {
  // Four sums at once, so that one addition need not wait for the one before.
  let s0 = 0;
  let s1 = 0;
  let s2 = 0;
  let s3 = 0;
  const whole = a.length - (a.length % 4);
  for (let i = 0; i < whole; i += 4) {
    s0 += a[i]! * b[i]!;
    s1 += a[i + 1]! * b[i + 1]!;
    s2 += a[i + 2]! * b[i + 2]!;
    s3 += a[i + 3]! * b[i + 3]!;
  }
  for (let i = whole; i < a.length; i++) s0 += a[i]! * b[i]!;
  return s0 + s1 + (s2 + s3);
}

/** Scales a vector to unit length, in place. A vector of zeros stays as it is. */
export function unit(v: Vector): Vector {
  let sum = 0;
  for (const x of v) sum += x * x;
  const k = sum > 0 ? 1 / Math.sqrt(sum) : 1;
  for (let i = 0; i < v.length; i++) v[i]! *= k;
  return v;
}

/**
 * The mean description of a library with one vote a person, so that whoever is photographed most does not become the
 * middle; shrunk towards zero by n / (n + 50) for n people or groups, since few voices say little.
 */
export function meanDescription(groups: readonly (readonly Vector[])[], length: number): Vector {
  const mean = new Float32Array(length);
  let votes = 0;
  for (const group of groups) {
    if (group.length === 0) continue;
    votes++;
    for (const v of group) for (let i = 0; i < length; i++) mean[i]! += v[i]! / group.length;
  }
  const k = votes ? 1 / votes : 0;
  const weight = votes / (votes + 50);
  for (let i = 0; i < length; i++) mean[i]! *= k * weight;
  return mean;
}

/** A copy of `v` with the library's mean taken out, at unit length again. */
export function centred(v: Vector, mean: Vector): Vector {
  const result = new Float32Array(v.length);
  for (let i = 0; i < v.length; i++) result[i] = v[i]! - mean[i]!;
  return unit(result);
}

/**
 * Joins the two descriptions of one face into one vector whose dot product is the weighted mean of theirs.
 * Both must be of unit length; `weightA` is the share of the first.
 */
export function joined(a: Vector, b: Vector, weightA = 0.6): Vector {
  const result = new Float32Array(a.length + b.length);
  const ka = Math.sqrt(weightA);
  const kb = Math.sqrt(1 - weightA);
  for (let i = 0; i < a.length; i++) result[i] = a[i]! * ka;
  for (let i = 0; i < b.length; i++) result[a.length + i] = b[i]! * kb;
  return result;
}
