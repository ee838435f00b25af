import { scoreOf, type Question, type Scored } from '@gemmel/core';
import type { App } from '../context';
import { hanging } from '../picture/under';
import { worldOf } from './world';

/** Of more pictures than this nobody looks for the best match: then they stand by time. */
const MOST = 5000;

/** The texts a question asks for, without those that it leaves out. */
function textsOf(question: Question): string[] {
  if ('not' in question) return [];
  if ('all' in question || 'any' in question)
    return ('all' in question ? question.all : question.any).flatMap((part) => textsOf(part));
  return 'text' in question ? [question.text] : [];
}

/** How well each picture answers the texts of a question; null when there are none, or too many pictures. */
export async function scoresOf(
  app: App,
  library: number,
  question: Question,
  ids: readonly number[],
): Promise<Map<number, number> | null> {
  const texts = textsOf(question);
  if (texts.length === 0 || ids.length > MOST) return null;
  const { db } = app;
  const { heard } = await worldOf(db, library, question);
  const list = async (
    table: 'picture_tags' | 'faces' | 'album_pictures',
    column: string,
  ): Promise<Map<number, number[]>> => {
    const rows = await hanging<{ picture: number; of: number }>(
      ids,
      (some) =>
        db(table as 'picture_tags')
          .where((q) => void (some && q.whereIn('picture_id', some)))
          .whereNotNull(column)
          .select('picture_id as picture', `${column} as of`) as unknown as PromiseLike<
          { picture: number; of: number }[]
        >,
    );
    const of = new Map<number, number[]>();
    for (const row of rows) of.set(row.picture, [...(of.get(row.picture) ?? []), row.of]);
    return of;
  };
  const [pictures, comments, tags, people, albums] = await Promise.all([
    hanging(ids, (some) =>
      db('pictures')
        .where('library_id', library)
        .where((q) => void (some && q.whereIn('id', some)))
        .select(
          'id',
          'title',
          'caption',
          'name',
          'original_name',
          'seen_words',
          'event_id',
          'folder_id',
          'own_place_id',
          'country',
          'region',
          'place',
        ),
    ),
    hanging(ids, (some) =>
      db('comments')
        .where('library_id', library)
        .where((q) => void (some && q.whereIn('picture_id', some)))
        .select('picture_id', 'text'),
    ),
    list('picture_tags', 'tag_id'),
    list('faces', 'person_id'),
    list('album_pictures', 'album_id'),
  ]);
  const said = new Map<number, string[]>();
  for (const { picture_id, text } of comments) said.set(picture_id, [...(said.get(picture_id) ?? []), text]);
  return new Map(
    pictures.map((row) => {
      const picture: Scored = {
        title: row.title,
        caption: row.caption,
        files: [row.name, row.original_name],
        comments: said.get(row.id) ?? [],
        seenWords: row.seen_words,
        tags: tags.get(row.id) ?? [],
        people: people.get(row.id) ?? [],
        albums: albums.get(row.id) ?? [],
        event: row.event_id,
        folder: row.folder_id,
        ownPlace: row.own_place_id,
        country: row.country,
        region: row.region,
        place: row.place,
      };
      return [row.id, texts.reduce((sum, text) => sum + scoreOf(heard!.get(text)!, picture), 0)];
    }),
  );
}
