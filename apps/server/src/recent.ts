/** Remembers the latest answers for a short while; the oldest go first. */
export class Recent<K, V> {
  private readonly kept = new Map<K, { value: V; until: number }>();

  constructor(
    private readonly most: number,
    private readonly seconds: number,
    private readonly now: () => number = Date.now,
  ) {}

  get(key: K): V | undefined {
    const found = this.kept.get(key);
    if (!found || found.until < this.now()) return undefined;
    return found.value;
  }

  set(key: K, value: V): void {
    this.kept.delete(key);
    this.kept.set(key, { value, until: this.now() + this.seconds * 1000 });
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value as K);
  }

  forget(key: K): void {
    this.kept.delete(key);
  }
}
