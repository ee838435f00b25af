import type { BookLayout } from '@gemmel/contract';
import type { App } from '../../context';
import { notFound } from '../../problem';
import { editsTag, keptPiece } from '../pieces';
import { pieceOf, type PiecePicture } from '../pictures';
import { bytesOf, laidOut } from './make';

const look = ({ id, sha }: PiecePicture) => ({ id, sha });

/** The pages of a book as they are laid out just now, and everything they are drawn from. @throws when the piece is no book. */
export async function layoutOf(app: App, library: number, id: number): Promise<BookLayout> {
  const { row, source, settings, edits } = await keptPiece(app, library, id);
  if (settings.kind !== 'book') throw notFound('page');
  const of = await pieceOf(app, library, source);
  const { content, plan } = await laidOut(app, library, {
    of,
    name: row.name,
    settings,
    edits,
    language: settings.language,
  });
  const placed = new Set(plan.pages.flatMap(({ pictures }) => pictures.map((one) => one.id)));
  if (plan.cover.picture) placed.add(plan.cover.picture.id);
  return {
    pages: plan.pages.map((page) => ({
      ...page,
      pictures: [...page.pictures],
      texts: page.texts.map((text) => ({ ...text, lines: [...text.lines] })),
    })),
    cover: { ...plan.cover, texts: plan.cover.texts.map((text) => ({ ...text, lines: [...text.lines] })) },
    chapters: content.of.chapters.map(({ key, title, words }) => ({
      key,
      title,
      words,
      map: content.maps.get(key) ?? null,
    })),
    looks: of.pictures.flatMap(({ id: one, sha, width, height }) =>
      placed.has(one) ? [{ id: one, sha, ratio: width / Math.max(1, height) }] : [],
    ),
    captions: [...content.of.captions].map(([one, caption]) => ({ id: one, caption })),
    doubles: content.doubles.map(look),
    out: content.out.map(look),
    edits,
    seen: editsTag(row.edits),
    bytes: Math.round(bytesOf(plan)),
  };
}
