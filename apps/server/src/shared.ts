/**
 * Works something out once for all who ask for it at the same time. Who asks while it is being worked out waits for the next
 * time, which begins right after and serves everybody who came meanwhile: nobody is given what was true before they asked.
 */
export class Shared<K, V> {
  private readonly running = new Map<K, { now: Promise<V>; next: Promise<V> | null }>();

  constructor(private readonly work: (key: K) => Promise<V>) {}

  get(key: K): Promise<V> {
    const there = this.running.get(key);
    if (!there) return this.begin(key);
    return (there.next ??= there.now.then(
      () => this.begin(key),
      () => this.begin(key),
    ));
  }

  private begin(key: K): Promise<V> {
    const now = this.work(key).finally(() => {
      // Unless the next one has taken its place.
      if (this.running.get(key)?.now === now && !this.running.get(key)?.next) this.running.delete(key);
    });
    this.running.set(key, { now, next: null });
    return now;
  }
}
