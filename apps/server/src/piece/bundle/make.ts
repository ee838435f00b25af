import type { PieceSettings } from '@gemmel/contract';
import { RAW_EXTENSIONS, saySpan, WORDS } from '@gemmel/core';
import { msg } from '@lingui/core/macro';
import { createHash } from 'node:crypto';
import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import { SIZES } from '../../media/pixels';
import { cleanClip, cleanFormat, cleanPhoto } from '../../media/clean';
import { originalOf } from '../../touchup/original';
import { fullView } from '../../touchup/views';
import { speechIn } from '../../words/speech';
import { giveOut, type Given } from '../giving';
import { writeImage } from '../image';
import type { Made, Making } from '../maker';
import type { PiecePicture } from '../pictures';
import { toldOf } from '../told';
import { galleryPage, type PagePicture } from './page';

type BundleMaking = Making<Extract<PieceSettings, { kind: 'bundle' }>>;

const FONTS = [
  ['@expo-google-fonts/fraunces/600SemiBold/Fraunces_600SemiBold.ttf', 'fonts/Fraunces.ttf'],
  ['@expo-google-fonts/figtree/400Regular/Figtree_400Regular.ttf', 'fonts/Figtree.ttf'],
] as const;

/** A picture's large file: sized, or its original without what it says on the side; a clip as every browser plays it. */
async function largeOf(
  { app, library, settings, parts }: BundleMaking,
  picture: PiecePicture,
): Promise<{ file: string; format: string }> {
  const row = (await app.db('pictures').where({ id: picture.id, library_id: library }).first())!;
  const original = await originalOf(app, library, picture.id);
  if (!original) throw new Error('gone');
  const clip = picture.kind === 'video';
  const raw = RAW_EXTENSIONS.has(original.format);
  const format = clip ? original.format : settings.long === null ? cleanFormat(original.format, raw) : 'jpg';
  const key = createHash('sha256')
    .update(JSON.stringify([picture.id, picture.sha, settings.long, format]))
    .digest('hex')
    .slice(0, 32);
  const file = path.join(parts, `${key}.${format}`);
  if (await stat(file).catch(() => null)) return { file, format };
  if (!clip && settings.long !== null) {
    await writeImage(
      app,
      library,
      picture.id,
      { part: null, width: settings.long, height: settings.long, quality: 86 },
      file,
    );
    return { file, format };
  }
  const shown = clip ? null : await fullView(app, row);
  const half = path.join(parts, `half-${key}.${format}`);
  if (clip) await cleanClip(original.file, half, original.format, row.codec);
  else await cleanPhoto(shown ?? original.file, half, shown ? 'jpg' : original.format, !shown && raw);
  await rename(half, file);
  return { file, format };
}

/** Makes plain pages that open from a stick, without a server: a gallery, a large view, a show. */
export async function makeBundle(making: BundleMaking): Promise<Made> {
  const { app, library, name, of, settings, parts, signal, report } = making;
  const { language, tells } = settings;
  const speech = speechIn(language);
  await mkdir(parts, { recursive: true });
  const missing: string[] = [];
  const made: ({ picture: PagePicture; files: Given[] } | null)[] = of.pictures.map(() => null);
  const digits = Math.max(3, String(of.pictures.length).length);
  const waiting = of.pictures.entries();
  let done = 0;
  const work = async () => {
    for (const [i, picture] of waiting) {
      signal.throwIfAborted();
      try {
        const { file, format } = await largeOf(making, picture);
        const small = path.join(parts, `${picture.id}-${picture.sha.slice(0, 16)}-small.jpg`);
        await writeImage(
          app,
          library,
          picture.id,
          { part: null, width: SIZES.small * 2, height: SIZES.small, quality: 80 },
          small,
        );
        // Its own name may tell when it was taken, or by whom.
        const base = String(i + 1).padStart(digits, '0');
        const page: PagePicture = {
          small: `small/${base}.jpg`,
          large: `pictures/${base}.${format}`,
          kind: picture.kind,
          ratio: picture.width / Math.max(1, picture.height),
          words: toldOf(picture, tells, language),
        };
        made[i] = {
          picture: page,
          files: [
            { file, to: page.large },
            { file: small, to: page.small },
          ],
        };
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
        signal.throwIfAborted();
        missing.push(picture.name);
      }
      report(++done, of.pictures.length * 2);
    }
  };
  await Promise.all(Array.from({ length: app.config.threads }, work));
  const there = made.filter((one) => one !== null);
  const days = of.pictures.flatMap(({ day }) => day ?? []).sort();
  const before = (at: number) => made.slice(0, at).filter((one) => one !== null).length;
  const page = path.join(parts, 'index.html');
  await writeFile(
    page,
    galleryPage({
      title: name,
      days: tells.date && days.length ? saySpan(days[0]!, days.at(-1)!, WORDS[language]) : null,
      pictures: there.map(({ picture }) => picture),
      chapters: of.chapters.map(({ at, heading, note }) => ({ at: before(at), heading, note })),
      words: {
        play: speech._(msg`Play`),
        stop: speech._(msg`Stop`),
        close: speech._(msg`Close`),
        next: speech._(msg`Next`),
        back: speech._(msg`Back`),
        save: speech._(msg`Save`),
        picture: speech._(msg`Picture`),
      },
      language,
    }),
  );
  const find = createRequire(path.join(app.config.models, 'x'));
  const files: Given[] = [
    { file: page, to: 'index.html' },
    ...FONTS.map(([font, to]) => ({ file: find.resolve(font), to })),
    ...there.flatMap((one) => one.files),
  ];
  const half = of.pictures.length;
  return {
    files: await giveOut(making, files, settings.folder, (n) =>
      report(half + Math.round((n / files.length) * half), half * 2),
    ),
    missing,
  };
}
