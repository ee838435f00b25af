import { createHash } from 'node:crypto';
import { mkdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { deserialize, serialize } from 'node:v8';
import { writeWhole } from '../files/whole';
import { Apart, type Asking, type Making } from './pool';

/** Tasks whose answer hangs on the bytes of one file and on what is asked of it, and on nothing else. */
const OF_A_FILE = new Set(['describe', 'faceShots', 'glass', 'observe', 'prepare', 'read', 'seek', 'things']);

/** What was answered, and the files that were written on the way, by what follows their common beginning. */
interface Kept {
  answer: unknown;
  written: Record<string, Uint8Array>;
}

/** What such tasks have in common. */
interface OfAFile {
  file: string;
  /** The picture a camera put inside a negative: a file of its own. */
  inside?: { file: string } | null;
  /** Path of the derived files, without what their names end with. */
  derived?: string;
}

const ENDINGS = ['-small.webp', '-large.jpg'];

/**
 * Processes for heavy work in a run of many programs that take the same pictures in over and over: what was made of a picture is kept in
 * a folder of that run and not made again by the next. Only tests ask for it (`GEMMEL_SEEN`); a household's Gemmel never does.
 */
export class Once extends Apart {
  constructor(
    making: Making,
    private readonly folder: string,
  ) {
    super(making);
  }

  override async run(task: unknown, asked: Asking): Promise<unknown> {
    const at = OF_A_FILE.has(asked.name) ? await this.placeOf(task as OfAFile, asked.name) : null;
    if (!at) return super.run(task, asked);
    const { derived } = task as OfAFile;
    const there = await readFile(at).catch(() => null);
    if (there) {
      const { answer, written } = deserialize(there) as Kept;
      if (derived) await mkdir(path.dirname(derived), { recursive: true });
      for (const [ending, data] of Object.entries(written)) await writeWhole(`${derived}${ending}`, data);
      return answer;
    }
    const answer = await super.run(task, asked);
    const written: Kept['written'] = {};
    // What was wrong with a file, or could not be opened, is found anew.
    if (!answer || (derived && !(answer as { ok?: boolean }).ok)) return answer;
    if (derived) for (const ending of ENDINGS) written[ending] = await readFile(`${derived}${ending}`);
    await mkdir(this.folder, { recursive: true });
    await writeWhole(at, serialize({ answer, written } satisfies Kept));
    return answer;
  }

  /** Where the answer to a task is kept; null when its file is not there. */
  private async placeOf({ file, inside, derived: _, ...rest }: OfAFile, name: string): Promise<string | null> {
    const hash = createHash('sha256').update(name);
    try {
      hash.update(await readFile(file));
      if (inside) hash.update(await readFile(inside.file));
    } catch {
      return null;
    }
    return path.join(
      this.folder,
      hash.update(JSON.stringify({ ...rest, inside: inside && { ...inside, file: '' } })).digest('hex'),
    );
  }
}
