import { reason, type Saying } from '@gemmel/contract';
import { type Pace, paced, secondsLeft } from '@gemmel/core';
import { call, Told } from '@/api/client';
import { fingerprint, Unreadable } from './fingerprint';
import { release } from './keeping';
import { upload, type Going } from './upload';
import type { Found } from './walk';

/** A file in the queue; `before` when some of it may have arrived already. */
export interface Queued {
  item: number;
  found: Found;
  before: boolean;
}

/** How a batch's sending stands. */
export interface Progress {
  state: 'sending' | 'paused' | 'lost' | 'full' | 'done';
  total: number;
  /** Files that need nothing more: sent, here already, or not readable. */
  done: number;
  /** Files whose fingerprint is known. */
  checked: number;
  bytes: number;
  bytesDone: number;
  bytesPerSecond: number | null;
  secondsLeft: number | null;
  unread: { path: string; reason: Saying }[];
}

/** So many files of all batches are on their way at once. */
const LANES = 4;
/** Fingerprints are told in handfuls. */
const HANDFUL = 24;
/** How long to wait before a lost connection or a full disk is tried again, in ms. */
const AGAIN = { lost: 4000, full: 15_000 };

let lanes = 0;
const atDoor: (() => void)[] = [];
async function lane(): Promise<() => void> {
  while (lanes >= LANES) await new Promise<void>((resolve) => atDoor.push(resolve));
  lanes++;
  return () => {
    lanes--;
    atDoor.shift()?.();
  };
}

const isSidecar = (path: string) => /\.xmp$/i.test(path);

/**
 * Carries the files of one batch to the server: tells their fingerprints first, sends what is not there, holds when it is
 * told to, and goes on by itself after a lost connection or a full disk.
 */
export class Courier {
  private toCheck: Queued[];
  private ready: Queued[] = [];
  private readonly going = new Map<Queued, Going>();
  private readonly sent = new Map<number, number>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running: Promise<void> | null = null;
  private finished: number[] = [];
  private wake: (() => void)[] = [];
  private pace: Pace | null = null;
  readonly progress: Progress;

  constructor(
    readonly batch: number,
    queue: readonly Queued[],
    private readonly told: (progress: Progress) => void,
  ) {
    // What was said beside a picture goes first, so that the picture need not wait for it.
    this.toCheck = [...queue].sort((a, b) => Number(isSidecar(b.found.path)) - Number(isSidecar(a.found.path)));
    this.progress = {
      state: 'paused',
      total: queue.length,
      done: 0,
      checked: 0,
      bytes: queue.reduce((sum, one) => sum + one.found.file.size, 0),
      bytesDone: 0,
      bytesPerSecond: null,
      secondsLeft: null,
      unread: [],
    };
  }

  /** Begins, or goes on. */
  run(): void {
    clearTimeout(this.timer);
    if (this.progress.state === 'sending' || this.progress.state === 'done') return;
    this.set({ state: 'sending' });
    const before = this.running ?? Promise.resolve();
    this.running = before.then(async () => {
      await Promise.all([this.check(), ...Array.from({ length: LANES }, () => this.carry())]);
      await this.flush();
      if (this.progress.state === 'sending' && this.toCheck.length + this.ready.length === 0)
        this.set({ state: 'done' });
    });
  }

  /** Holds: what has arrived stays. */
  hold(state: 'paused' | 'lost' | 'full' = 'paused'): void {
    if (this.progress.state === 'done' || (state !== 'paused' && this.progress.state !== 'sending')) return;
    clearTimeout(this.timer);
    this.set({ state });
    for (const one of this.going.values()) one.hold();
    this.nudge();
    if (state !== 'paused') this.timer = setTimeout(() => this.run(), AGAIN[state]);
  }

  private set(change: Partial<Progress>): void {
    Object.assign(this.progress, change);
    const now = Date.now();
    if (!this.pace || now - this.pace.at >= 500) {
      this.pace = paced(this.pace, now, this.progress.bytesDone);
      this.progress.bytesPerSecond = this.pace.perSecond === null ? null : Math.round(this.pace.perSecond);
      this.progress.secondsLeft = secondsLeft(this.pace, this.progress.bytes - this.progress.bytesDone);
    }
    this.told({ ...this.progress });
  }

  private nudge(): void {
    const all = this.wake;
    this.wake = [];
    all.forEach((go) => go());
  }

  private ended(one: Queued): void {
    this.finished.push(one.item);
    this.sent.set(one.item, one.found.file.size);
    this.set({ done: this.progress.done + 1, bytesDone: this.bytesDone() });
    if (this.finished.length >= HANDFUL) void this.flush();
  }

  private async flush(): Promise<void> {
    const items = this.finished;
    this.finished = [];
    await release(this.batch, items);
  }

  private bytesDone(): number {
    let sum = 0;
    for (const bytes of this.sent.values()) sum += bytes;
    return sum;
  }

  private unread(one: Queued, reason: Saying): void {
    this.set({ unread: [...this.progress.unread, { path: one.found.path, reason }] });
    this.ended(one);
  }

  /** Works out fingerprints, a handful at a time, and lets through what is not there yet. */
  private async check(): Promise<void> {
    while (this.progress.state === 'sending' && this.toCheck.length) {
      const handful = this.toCheck.slice(0, HANDFUL);
      const prints: { item: number; sha256: string }[] = [];
      const unreadable = new Set<Queued>();
      for (const one of handful) {
        if (this.progress.state !== 'sending') return;
        try {
          const sha256 = await fingerprint(one.found.file);
          if (sha256) prints.push({ item: one.item, sha256 });
        } catch (error) {
          if (!(error instanceof Unreadable)) throw error;
          unreadable.add(one);
        }
      }
      let known = new Set<number>();
      try {
        if (prints.length)
          known = new Set((await call('fingerprints', { params: { id: this.batch }, body: { prints } })).known);
      } catch (error) {
        if (error instanceof Told && error.status >= 400 && error.status < 500) known = new Set();
        else return this.hold('lost');
      }
      this.toCheck = this.toCheck.slice(handful.length);
      for (const one of handful) {
        if (unreadable.has(one)) this.unread(one, reason('unreadable'));
        else if (known.has(one.item)) this.ended(one);
        else this.ready.push(one);
      }
      this.set({ checked: this.progress.checked + handful.length });
      this.nudge();
    }
  }

  /** Sends one file after another, as long as there are any. */
  private async carry(): Promise<void> {
    while (this.progress.state === 'sending') {
      const one = this.ready.shift();
      if (!one) {
        if (this.toCheck.length === 0) return;
        await new Promise<void>((resolve) => this.wake.push(resolve));
        continue;
      }
      const leave = await lane();
      try {
        if (!(await this.send(one))) this.ready.unshift({ ...one, before: true });
      } finally {
        leave();
      }
    }
  }

  /** Sends one file; false when it has to be gone on with later. */
  private async send(one: Queued): Promise<boolean> {
    if (this.progress.state !== 'sending') return false;
    const going = upload(one.item, one.found.file, one.before, (bytes) => {
      this.sent.set(one.item, bytes);
      this.set({ bytesDone: this.bytesDone() });
    });
    this.going.set(one, going);
    const outcome = await going.done;
    this.going.delete(one);
    switch (outcome.how) {
      case 'sent':
      case 'over':
        this.ended(one);
        return true;
      case 'refused':
        this.unread(one, outcome.reason);
        return true;
      case 'held':
        return false;
      default:
        this.hold(outcome.how);
        return false;
    }
  }
}
