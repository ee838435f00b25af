import { fork, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import type { Ask, Told } from './host';

/** How a process for heavy work is made up. */
export interface Making {
  /** The bundled file whose exported functions its threads run. */
  worker: string;
  /** Threads at most. */
  threads: number;
  /** How long a thread, and then the process, waits for more to do before it ends, in ms. */
  idle: number;
}

interface Waiting {
  resolve: (value: unknown) => void;
  reject: (error: Error) => void;
}

/** What is told of work whose process has ended under it. */
export class Ended extends Error {
  constructor(how: string) {
    super(`The process that did this has ended (${how})`);
  }
}

/**
 * Heavy work in a process of its own, with threads: pictures are unpacked, faces looked for and described there. What it takes of memory goes
 * with it when there is nothing more to do, and a file that brings a decoder down brings down no more than what is being done just then. The
 * process begins with the first piece of work.
 */
export class Apart {
  private child: ChildProcess | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private count = 0;
  private ended = false;
  private idle: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly making: Making) {}

  /** The number of the process; null while there is none. */
  get pid(): number | null {
    return this.child?.pid ?? null;
  }

  /**
   * Runs an exported function of the worker's file on a task, which is copied, as its answer is.
   * @throws what the function throws; {@link Ended} when the process ends before the answer.
   */
  run(task: unknown, { name }: { name: string }): Promise<unknown> {
    if (this.ended) return Promise.reject(new Ended('put away'));
    clearTimeout(this.idle);
    const child = (this.child ??= this.begin());
    const id = ++this.count;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      child.send({ id, name, task } satisfies Ask, (error) => {
        if (error) this.settle(id, (one) => one.reject(error));
      });
    });
  }

  /** Ends the process; work that is under way is not waited for. */
  async destroy(): Promise<void> {
    this.ended = true;
    clearTimeout(this.idle);
    await this.end();
  }

  private begin(): ChildProcess {
    const { worker, threads, idle } = this.making;
    const child = fork(path.join(path.dirname(worker), 'apart.js'), [worker, String(threads), String(idle)], {
      serialization: 'advanced',
      execArgv: [],
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    child.on('message', (told) => {
      const { id, ...answer } = told as Told;
      this.settle(id, (one) => ('error' in answer ? one.reject(answer.error) : one.resolve(answer.value)));
    });
    const gone = (how: string) => {
      if (this.child !== child) return;
      this.child = null;
      for (const id of [...this.waiting.keys()]) this.settle(id, (one) => one.reject(new Ended(how)));
    };
    child.once('error', (error) => gone(error.message));
    child.once('exit', (code, signal) => gone(signal ?? `code ${code}`));
    return child;
  }

  private settle(id: number, how: (one: Waiting) => void): void {
    const one = this.waiting.get(id);
    if (!one) return;
    this.waiting.delete(id);
    how(one);
    if (this.waiting.size) return;
    clearTimeout(this.idle);
    this.idle = setTimeout(() => void this.end(), this.making.idle).unref();
  }

  private async end(): Promise<void> {
    const { child } = this;
    if (!child) return;
    this.child = null;
    const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
    for (const id of [...this.waiting.keys()]) this.settle(id, (one) => one.reject(new Ended('put away')));
    clearTimeout(this.idle);
    // Threads that are just loading what they need would bring it down with a noise when it ended in order; it owns nothing that must be put away.
    child.kill('SIGKILL');
    await gone;
  }
}
