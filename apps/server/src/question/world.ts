import { todayIn } from '../time/home';
import { forgivable, hear, nodes, type Question, type World } from '@gemmel/core';
import type { Db } from '../db/open';
import { folderTree } from '../folder/folders';
import { tagTree } from '../tag/tags';
import { alikeIn } from './look';
import { namesOf } from './named';
import { spokenOf } from './words';

/** What a question needs to know that lies outside the pictures: the trees, what its texts mean here, what looks like what. */
export async function worldOf(db: Db, library: number, question: Question): Promise<World> {
  const parts = [...nodes(question)];
  const [tagParent, folderParent] = await Promise.all([
    parts.some((q) => 'tag' in q || 'text' in q) ? tagTree(db, library) : new Map<number, number | null>(),
    parts.some((q) => 'folder' in q || 'text' in q) ? folderTree(db, library) : new Map<number, number | null>(),
  ]);
  const texts = [...new Set(parts.flatMap((q) => ('text' in q ? [q.text] : [])))];
  const heard = new Map<string, ReturnType<typeof hear>>();
  if (texts.length) {
    const { named } = await namesOf(db, library);
    for (const text of texts) {
      const word = forgivable(text);
      const spoken = word === null ? undefined : await spokenOf(db, library, word);
      heard.set(text, hear(text, named, { tagParent, folderParent }, spoken));
    }
  }
  const alike = parts.some((q) => 'like' in q) ? await alikeIn(db, library, question) : new Map<number, Set<number>>();
  return { today: await todayIn(db, library), tagParent, folderParent, heard, alike };
}
