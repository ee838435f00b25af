import { execFile } from 'node:child_process';
import { rename, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { stringify } from 'csv-stringify/sync';
import type { MadeFile } from '@gemmel/contract';
import { splitExtension } from '@gemmel/core';
import { fileName, type Made, type Making } from '../maker';
import { drawSheet } from '../book/pdf';
import { fileOfPlaced, printFile, writePlaced } from '../printed';
import { sheetsOf, type SheetsSettings } from './of';

const run = promisify(execFile);
/** Pixels to an inch of pictures that go to a shop. */
const DENSE = 300;

/** Makes prints, a collage, a card or a calendar: one PDF, or a picture of each sheet. With prints goes a list of what is to be printed. */
export async function makeSheets(making: Making<SheetsSettings>): Promise<Made> {
  const { app, library, name, of, settings, to, parts, signal, report } = making;
  const { sheets, left } = await sheetsOf(app, library, of, settings);
  const placed = sheets.flatMap(({ pictures }) => pictures);
  const all = placed.length + sheets.length;
  const missing = await writePlaced(making, placed, (done) => report(done, all));
  const looks = new Map(of.pictures.map((picture) => [picture.id, picture]));
  for (const id of left) missing.add(looks.get(id)!.name);
  const base = fileName(name);
  const about = { title: name, language: settings.language, models: app.config.models };
  const pdf = path.join(settings.as === 'pdf' ? to : parts, `${base}.pdf`);
  let done = placed.length;
  await printFile(pdf, about, false, async (paper) => {
    for (const sheet of sheets) {
      signal.throwIfAborted();
      await drawSheet(paper, sheet, fileOfPlaced(making));
      report(++done, all);
    }
  });
  const files: MadeFile[] = [];
  if (settings.as === 'pdf')
    files.push({ name: `${base}.pdf`, bytes: (await stat(pdf)).size, pages: sheets.length, seconds: null });
  else {
    const digits = String(sheets.length).length;
    for (const [i, sheet] of sheets.entries()) {
      signal.throwIfAborted();
      const [only] = sheet.pictures;
      const number = String(i + 1).padStart(Math.max(3, digits), '0');
      const called =
        settings.kind === 'prints' && settings.paper === 'own' && only
          ? fileName(
              `${number} ${settings.size} ${settings.copies}x ${settings.finish} ${splitExtension(looks.get(only.id)!.name)[0]}`,
            )
          : `${base} ${number}`;
      const half = path.join(parts, `sheet-${i}`);
      await run(
        'pdftoppm',
        [
          '-jpeg',
          '-jpegopt',
          'quality=92',
          '-r',
          String(DENSE),
          '-f',
          String(i + 1),
          '-l',
          String(i + 1),
          '-singlefile',
          pdf,
          half,
        ],
        { signal },
      );
      await rename(`${half}.jpg`, path.join(to, `${called}.jpg`));
      files.push({
        name: `${called}.jpg`,
        bytes: (await stat(path.join(to, `${called}.jpg`))).size,
        pages: null,
        seconds: null,
      });
    }
  }
  if (settings.kind === 'prints' && settings.size !== 'contact') {
    const rows = sheets.flatMap((sheet, i) => {
      const names = [...new Set(sheet.pictures.map(({ id }) => looks.get(id)!.name))];
      return settings.as === 'jpg' && settings.paper === 'own'
        ? [[files[i]!.name, settings.size, settings.copies, settings.finish]]
        : names.map((one) => [
            `${base}.pdf, ${i + 1}: ${one}`,
            settings.size,
            sheet.pictures.filter(({ id }) => looks.get(id)!.name === one).length,
            settings.finish,
          ]);
    });
    const list = `${base}.csv`;
    await writeFile(path.join(to, list), stringify([['file', 'size', 'copies', 'paper'], ...rows]));
    files.push({ name: list, bytes: (await stat(path.join(to, list))).size, pages: null, seconds: null });
  }
  return { files, missing: [...missing] };
}
