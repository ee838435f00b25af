/** A process of {@link Apart}: does what it is asked, by the functions of the worker's file it is given, behind everything else. */
import { stepBack } from './behind';

/** A piece of work, by the name of the function that does it. */
export interface Ask {
  id: number;
  name: string;
  task: unknown;
}

/** What came of it. */
export type Told = { id: number; value: unknown } | { id: number; error: Error };

stepBack(process.pid);

type Work = (task: unknown) => unknown;

// Whoever stops Gemmel at a terminal stops all its processes at once: this one ends when it is told to, or when whoever asks is gone.
process.on('SIGINT', () => undefined);
process.on('SIGTERM', () => undefined);
process.on('disconnect', () => process.kill(process.pid, 'SIGKILL'));

const works = import(process.argv[2]!) as Promise<Record<string, Work>>;

async function answer({ id, name, task }: Ask): Promise<Told> {
  try {
    const work = (await works)[name];
    if (!work) throw new Error(`There is no work called “${name}”`);
    return { id, value: await work(task) };
  } catch (error) {
    return { id, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

// Whoever asked may be going just now.
process.on('message', (ask: Ask) => void answer(ask).then((told) => process.connected && process.send!(told, () => 0)));
