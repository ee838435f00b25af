/** The process of {@link Apart}: hands what it is asked to threads, and tells what they answer. Given the worker's file, its threads, and how long they wait. */
import { Piscina } from 'piscina';

/** A piece of work, by the name of the function that does it. */
export interface Ask {
  id: number;
  name: string;
  task: unknown;
}

/** What came of it. */
export type Told = { id: number; value: unknown } | { id: number; error: Error };

const [filename, threads, idle] = process.argv.slice(2);
const pool = new Piscina({
  filename: filename!,
  minThreads: 0,
  maxThreads: Number(threads),
  idleTimeout: Number(idle),
  concurrentTasksPerWorker: 1,
});

// Whoever stops Gemmel at a terminal stops all its processes at once: this one ends when it is told to, or when whoever asks is gone.
process.on('SIGINT', () => undefined);
process.on('SIGTERM', () => undefined);
process.on('disconnect', () => process.kill(process.pid, 'SIGKILL'));

process.on('message', (ask) => {
  const { id, name, task } = ask as Ask;
  void pool
    .run(task, { name })
    .then(
      (value): Told => ({ id, value: value as unknown }),
      (error: unknown): Told => ({ id, error: error instanceof Error ? error : new Error(String(error)) }),
    )
    .then((told) => process.connected && process.send!(told));
});
