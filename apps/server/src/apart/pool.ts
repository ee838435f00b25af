import { fork, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import type { Ask, Told } from './host';

/** How processes for heavy work are made up. */
export interface Making {
  /** The bundled file whose exported functions they run. */
  worker: string;
  /** Processes at most. */
  most: number;
  /** How long a process waits for more to do before it ends, in ms. */
  idle: number;
}

/** What is asked of a process, and what calls it off. */
export interface Asking {
  /** The function of the worker's file. */
  name: string;
  signal?: AbortSignal | undefined;
}

interface Asked extends Ask {
  resolve: (value: unknown) => void;
  reject: (error: unknown) => void;
}

/** A process, what it is doing now, and when it will have waited long enough. */
interface Hand {
  child: ChildProcess;
  at: Asked | null;
  idle: ReturnType<typeof setTimeout> | undefined;
}

/** How a process ends that is no longer needed. */
const AWAY = 'put away';

/** What is told of work whose process has ended under it. */
export class Ended extends Error {
  /** Whether it fell over the work, and was not put away or ended from outside. */
  readonly fell: boolean;

  constructor(how: string) {
    super(`The process that did this has ended (${how})`);
    this.fell = /^SIG(ABRT|BUS|FPE|ILL|SEGV)$/.test(how);
  }
}

/**
 * Heavy work in processes of their own: pictures are unpacked, faces looked for and described there. What they take of memory goes with them
 * when there is nothing more to do, and a file that brings a decoder down brings down no more than what is being done to it. They begin
 * with the first pieces of work; each does one at a time, in the order in which they were asked for.
 */
export class Apart {
  private hands: Hand[] = [];
  private readonly queue: Asked[] = [];
  private count = 0;
  private ended = false;

  constructor(private readonly making: Making) {}

  /** The numbers of the processes that are there. */
  get pids(): number[] {
    return this.hands.flatMap(({ child }) => child.pid ?? []);
  }

  /**
   * Runs an exported function of the worker's file on a task, which is copied, as its answer is. Work that is called off while it is done
   * takes its process with it.
   * @throws what the function throws; what called it off; {@link Ended} when the process ends before the answer.
   */
  run(task: unknown, { name, signal }: Asking): Promise<unknown> {
    if (this.ended) return Promise.reject(new Ended(AWAY));
    const id = ++this.count;
    const off = () => this.callOff(id, signal?.reason);
    const answer = new Promise<unknown>((resolve, reject) => {
      signal?.throwIfAborted();
      this.queue.push({ id, name, task, resolve, reject });
      this.next();
    });
    signal?.addEventListener('abort', off);
    return answer.finally(() => signal?.removeEventListener('abort', off));
  }

  /** Ends the processes; work that is under way is not waited for. */
  async destroy(): Promise<void> {
    this.ended = true;
    for (const { reject } of this.queue.splice(0)) reject(new Ended(AWAY));
    await Promise.all(this.hands.map((hand) => this.end(hand)));
  }

  private callOff(id: number, why: unknown): void {
    const at = this.queue.findIndex((one) => one.id === id);
    const hand = this.hands.find((one) => one.at?.id === id);
    for (const one of at >= 0 ? this.queue.splice(at, 1) : []) one.reject(why);
    if (!hand) return;
    hand.at?.reject(why);
    void this.end(hand);
  }

  /** Gives what was asked for first to whoever is free. */
  private next(): void {
    while (this.queue.length) {
      const free = this.hands.find(({ at }) => at === null);
      if (!free && this.hands.length >= this.making.most) return;
      const hand = free ?? this.begin();
      clearTimeout(hand.idle);
      const { resolve, reject, ...ask } = this.queue.shift()!;
      hand.at = { ...ask, resolve, reject };
      // A process that cannot be told any more is about to be heard of as ended.
      hand.child.send(ask satisfies Ask, () => undefined);
    }
  }

  private begin(): Hand {
    const { worker, idle } = this.making;
    const child = fork(path.join(path.dirname(worker), 'apart.js'), [worker], {
      serialization: 'advanced',
      execArgv: [],
      // A session of its own, which can step back behind others.
      detached: true,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    const hand: Hand = { child, at: null, idle: undefined };
    this.hands.push(hand);
    child.on('message', (told) => {
      const { id, ...answer } = told as Told;
      if (hand.at?.id !== id) return;
      const { resolve, reject } = hand.at;
      hand.at = null;
      hand.idle = setTimeout(() => void this.end(hand), idle).unref();
      if ('error' in answer) reject(answer.error);
      else resolve(answer.value);
      this.next();
    });
    child.once('error', (error) => this.gone(hand, error.message));
    child.once('exit', (code, signal) => this.gone(hand, signal ?? `code ${code}`));
    return hand;
  }

  private gone(hand: Hand, how: string): void {
    clearTimeout(hand.idle);
    this.hands = this.hands.filter((one) => one !== hand);
    hand.at?.reject(new Ended(how));
    hand.at = null;
    this.next();
  }

  /** It owns nothing that must be put away, and what it is just loading would make a noise when it ended in order. */
  private async end(hand: Hand): Promise<void> {
    const { child } = hand;
    const exit = new Promise<void>((resolve) => child.once('exit', () => resolve()));
    this.gone(hand, AWAY);
    child.kill('SIGKILL');
    await exit;
  }
}
