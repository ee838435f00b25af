import { clashes, type Appearance } from './appearance';
import { dot, type Vector } from './vector';

/** Appearances taken to be of one person, as sums from which likenesses follow without looking at each again. */
export class LikelyPerson {
  readonly of = new Set<number>();
  /** Who it is, once somebody said it of one of the faces. */
  person: number | null = null;
  /** Goes up with every change. */
  version = 0;
  /** What {@link within} was, until something changes. */
  private known = { version: -1, usual: 0, within: 0 };
  /** The means of its appearances by their weights, added up: `scale` times `sum`, shared with the appearance while there is only one. */
  private sum: Vector | null = null;
  private scale = 1;
  private isShared = true;
  private weights = 0;
  private squares = 0;
  private own = 0;
  private cohesion = 0;
  private cohesive = 0;
  private readonly pictures = new Map<number, number>();
  private readonly occasions = new Map<string, number>();
  private readonly never = new Map<number, number>();
  private readonly told = new Map<number, number>();
  private readonly apart = new Map<number, number>();

  constructor(
    private readonly seen: readonly Appearance[],
    ...of: number[]
  ) {
    for (const a of of) this.add(a);
  }

  /** How many occasions speak, a short one less. */
  get weight(): number {
    return this.weights;
  }

  add(a: number): void {
    this.change(a, 1);
    this.of.add(a);
    this.person ??= this.seen[a]!.person;
  }

  remove(a: number): void {
    this.change(a, -1);
    this.of.delete(a);
  }

  private change(a: number, sign: 1 | -1): void {
    const one = this.seen[a]!;
    this.addTo(one, sign);
    this.weights += sign * one.weight;
    this.squares += sign * one.weight ** 2;
    this.own += sign * one.weight ** 2 * dot(one.mean, one.mean);
    if (one.cohesion !== null) {
      this.cohesion += sign * one.weight * one.cohesion;
      this.cohesive += sign * one.weight;
    }
    const count = <K>(map: Map<K, number>, key: K) => {
      const n = (map.get(key) ?? 0) + sign;
      if (n) map.set(key, n);
      else map.delete(key);
    };
    for (const picture of one.pictures) count(this.pictures, picture);
    for (const person of one.never) count(this.never, person);
    for (const id of one.told) count(this.told, id);
    for (const id of one.apart) count(this.apart, id);
    count(this.occasions, one.occasion);
    this.version++;
  }

  private addTo({ mean, weight }: Appearance, sign: 1 | -1): void {
    if (!this.sum || this.of.size === 0) {
      [this.sum, this.scale, this.isShared] = [mean, weight, true];
      return;
    }
    if (this.isShared) [this.sum, this.scale, this.isShared] = [this.sum.map((x) => x * this.scale), 1, false];
    for (let k = 0; k < mean.length; k++) this.sum[k]! += sign * weight * mean[k]!;
  }

  /** Mean likeness to another over all pairs of their appearances. */
  like(other: LikelyPerson): number {
    return (this.scale * other.scale * dot(this.sum!, other.sum!)) / (this.weights * other.weights);
  }

  /** Mean likeness to one appearance. */
  likeOf(one: Pick<Appearance, 'mean'>): number {
    return (this.scale * dot(this.sum!, one.mean)) / this.weights;
  }

  /**
   * How alike its appearances are to each other across occasions: what is seen of it, and before there is much to see what
   * its faces of one day let expect.
   * @param usual what is usual in this library.
   */
  within(usual: number): number {
    if (this.known.version === this.version && this.known.usual === usual) return this.known.within;
    const pairs = Math.max(0, (this.weights * this.weights - this.squares) / 2);
    const seen = pairs > 0.05 ? (this.scale * this.scale * dot(this.sum!, this.sum!) - this.own) / (2 * pairs) : 0;
    const early = (ACROSS * this.cohesion + usual) / (this.cohesive + 1);
    const within = (2 * early + pairs * seen) / (2 + pairs);
    this.known = { version: this.version, usual, within };
    return within;
  }

  /** Whether the two cannot be one person: two names, a name the other cannot have, said so, one picture, or clothes in turns. */
  cannotBe(other: LikelyPerson): boolean {
    if (this.person !== null && other.person !== null && this.person !== other.person) return true;
    if (this.person !== null && other.never.has(this.person)) return true;
    if (other.person !== null && this.never.has(other.person)) return true;
    for (const id of this.told.keys()) if (other.apart.has(id)) return true;
    const [few, many] = this.pictures.size < other.pictures.size ? [this, other] : [other, this];
    for (const picture of few.pictures.keys()) if (many.pictures.has(picture)) return true;
    for (const occasion of few.occasions.keys()) {
      if (!many.occasions.has(occasion)) continue;
      const there = [...many.of].filter((b) => this.seen[b]!.occasion === occasion);
      for (const a of few.of)
        if (this.seen[a]!.occasion === occasion && there.some((b) => clashes(this.seen[a]!, this.seen[b]!)))
          return true;
    }
    return false;
  }

  /** Those of its appearances that an appearance cannot be one person with. */
  against(one: Appearance): number[] {
    return [...this.of].filter((a) => clashes(this.seen[a]!, one));
  }
}

/** Faces of one day are alike for more reasons than the person: this much of it is left across occasions. */
export const ACROSS = 0.85;
