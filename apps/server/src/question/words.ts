import { searchable, wordsOf } from '@gemmel/core';
import { chunks } from '../context';
import type { Db } from '../db/open';
import { setMany } from '../db/setMany';

interface Row {
  id: number;
  title: string | null;
  caption: string | null;
  name: string;
  original_name: string | null;
  seen_words: string | null;
  words: string;
}

const COLUMNS = ['id', 'title', 'caption', 'name', 'original_name', 'seen_words', 'words'] as const;

/** Words as they are kept backwards, for finding those that end alike. */
const backwards = (word: string): string => [...word].reverse().join('');

/**
 * Has search read some pictures again, in the transaction that changes what they say: title, caption, the names of the file,
 * comments, and words seen in the picture. What a picture says is kept whole, for phrases, and word by word, each an entry of an
 * index of our own: MariaDB's text index would not see a word before its transaction ends, parts words in another way than
 * questions are asked in, and cannot tell which words are one letter off.
 */
export async function readAgain(db: Db, library: number, ids: readonly number[]): Promise<void> {
  for (const some of chunks(
    [...new Set(ids)].sort((a, b) => a - b),
    1000,
  )) {
    const rows = (await db('pictures')
      .where('library_id', library)
      .whereIn('id', some)
      .select([...COLUMNS])) as Row[];
    const comments = new Map<number, string[]>();
    for (const { picture_id, text } of await db('comments')
      .where('library_id', library)
      .whereIn('picture_id', some)
      .orderBy('id')
      .select('picture_id', 'text'))
      comments.set(picture_id, [...(comments.get(picture_id) ?? []), text]);
    const now = rows.map((row) => ({
      ...row,
      now: searchable([
        row.title,
        row.caption,
        row.name,
        row.original_name === row.name ? null : row.original_name,
        ...(comments.get(row.id) ?? []),
        row.seen_words,
      ]),
    }));
    const other = now.filter((row) => row.now !== row.words);
    await setMany(
      db,
      library,
      'pictures',
      other.map((row) => ({ id: row.id, set: { words: row.now } })),
    );
    await writeWords(
      db,
      library,
      other.map((row) => {
        const [before, after] = [new Set(wordsOf(row.words)), wordsOf(row.now)];
        return {
          id: row.id,
          gone: [...before].filter((word) => !after.includes(word)),
          came: after.filter((word) => !before.has(word)),
        };
      }),
    );
  }
}

/** Writes the words of a picture that has just come in, whose `words` say them. */
export const firstWords = (db: Db, library: number, id: number, words: string): Promise<void> =>
  writeWords(db, library, [{ id, gone: [], came: wordsOf(words) }]);

async function writeWords(
  db: Db,
  library: number,
  rows: readonly { id: number; gone: readonly string[]; came: readonly string[] }[],
): Promise<void> {
  for (const { id, gone } of rows)
    if (gone.length)
      await db('picture_words').where({ library_id: library, picture_id: id }).whereIn('word', gone).delete();
  const came = rows.flatMap(({ id, came: words }) =>
    words.map((word) => ({ library_id: library, word, picture_id: id })),
  );
  if (came.length === 0) return;
  for (const some of chunks(came, 1000)) await db('picture_words').insert(some).onConflict().ignore();
  // Those that are known are not written again: two that bring pictures in would wait for each other.
  const words = [...new Set(came.map(({ word }) => word))].sort();
  for (const some of chunks(words, 1000)) {
    const known = new Set(
      (await db('known_words').where('library_id', library).whereIn('word', some).select('word')).map((r) => r.word),
    );
    const fresh = some.filter((word) => !known.has(word));
    if (fresh.length)
      await db('known_words')
        .insert(fresh.map((word) => ({ library_id: library, word, back: backwards(word) })))
        .onConflict()
        .ignore();
  }
}

/** What LIKE takes for any text and any letter is taken for itself. */
export const literally = (text: string): string => text.replace(/[%_=]/g, '=$&');

/** Whether a word of some picture begins so, and which words of pictures are one letter off. */
export async function spokenOf(db: Db, library: number, word: string): Promise<{ begins: boolean; near: string[] }> {
  const said = (column: 'word' | 'back', start: string) =>
    db('known_words as k')
      .where('k.library_id', library)
      .whereRaw(`k.${column} LIKE ? ESCAPE '='`, [`${literally(start)}%`])
      .whereExists(
        db('picture_words as w').whereRaw('w.library_id = k.library_id AND w.word = k.word').select(db.raw('1')),
      );
  const begins = await said('word', word).first('k.word');
  if (begins) return { begins: true, near: [] };
  // One wrong letter leaves the first half or the second as it is.
  const half = Math.floor((word.length - 1) / 2);
  const near = new Set<string>();
  const lengths = [word.length - 1, word.length + 1] as const;
  for (const [column, start] of [
    ['word', word.slice(0, half)],
    ['back', backwards(word.slice(word.length - half))],
  ] as const)
    for (const row of await said(column, start)
      .whereRaw('CHAR_LENGTH(k.word) BETWEEN ? AND ?', [...lengths])
      .select('k.word'))
      near.add(row.word as string);
  return { begins: false, near: [...near] };
}
