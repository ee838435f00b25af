import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { z } from 'zod';
import type { Value } from '../act/kept';
import type { BookHead } from './book';

/** A book cannot be read: it is no book, of a newer Gemmel, or was cut. */
export class NoBook extends Error {}

const Head = z.object({
  gemmel: z.literal('library'),
  version: z.literal(1),
  schema: z.string().regex(/^\d{4}_\w+$/),
  slug: z.string().regex(/^[a-z0-9][a-z0-9-]{0,60}$/),
  name: z.string().min(1).max(200),
  written: z.string().max(40),
  news: z.number().int().nonnegative(),
});
const Columns = z.object({ columns: z.array(z.string().regex(/^\w+$/)).min(1), binary: z.array(z.string()) });

/** A table of a book as it begins, and one of its rows. */
export type BookPart = { table: string; columns: readonly string[] } | { row: Record<string, Value> };

/**
 * Reads a book a line at a time: first its head, then each table as it begins and its rows, in order. Bytes come as bytes.
 * @throws NoBook for what is none, or is not whole.
 */
export async function* readBook(file: string): AsyncGenerator<{ head: BookHead } | BookPart> {
  const lines = createInterface({ input: createReadStream(file, { highWaterMark: 1 << 20 }), crlfDelay: Infinity });
  let table: { columns: readonly string[]; binary: ReadonlySet<string> } | null = null;
  let begun = false;
  let ended = false;
  try {
    for await (const raw of lines) {
      const line = raw.replace(/,$/, '');
      if (!begun) {
        yield { head: Head.parse(JSON.parse(`${line.replace(/,?"tables":\{$/, '')}}`)) };
        begun = true;
      } else if (line === '}}') ended = true;
      else if (line === ']}') table = null;
      else if (table && line.startsWith('[')) {
        const values = JSON.parse(line) as Value[];
        if (values.length !== table.columns.length) throw new NoBook('row');
        const row: Record<string, Value> = {};
        for (const [i, name] of table.columns.entries()) {
          const value = values[i]!;
          row[name] =
            value !== null && table.binary.has(name) ? Buffer.from(String(value), 'base64') : (value as Value);
        }
        yield { row };
      } else if (line.startsWith('"')) {
        const [, name, rest] = /^"(\w+)":(\{.*"rows":\[)$/.exec(line) ?? [];
        if (!name || !rest) throw new NoBook('table');
        const { columns, binary } = Columns.parse(JSON.parse(`${rest}]}`));
        table = { columns, binary: new Set(binary) };
        yield { table: name, columns };
      } else if (line) throw new NoBook('line');
    }
  } catch (error) {
    if (error instanceof SyntaxError || error instanceof z.ZodError) throw new NoBook(error.message);
    throw error;
  } finally {
    lines.close();
  }
  if (!ended) throw new NoBook('cut');
}

/** The head of a book; null when there is none, or none that can be read. */
export async function headOfBook(file: string): Promise<BookHead | null> {
  try {
    for await (const part of readBook(file)) return 'head' in part ? part.head : null;
  } catch {
    // Told as none.
  }
  return null;
}
