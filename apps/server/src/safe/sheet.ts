import type { Language } from '@gemmel/core';
import { msg } from '@lingui/core/macro';
import { createRequire } from 'node:module';
import path from 'node:path';
import type { App } from '../context';
import type { SafePlacesRow } from '../db/tables';
import { homeOf } from '../time/home';
import { speechIn } from '../words/speech';
import { houseLibrary, secretsIn } from './places';

/** Millimetres as points. */
const mm = (n: number): number => (n * 72) / 25.4;
const FONTS = {
  text: '@expo-google-fonts/figtree/400Regular/Figtree_400Regular.ttf',
  strong: '@expo-google-fonts/figtree/600SemiBold/Figtree_600SemiBold.ttf',
  head: '@expo-google-fonts/fraunces/600SemiBold/Fraunces_600SemiBold.ttf',
} as const;
const INK = '#22302c';
const SOFT = '#5c6b66';
const JUNIPER = '#1f5c4f';
const MARIGOLD = '#c8831a';

/** What is typed for a place: for Gemmel, and for restic alone. */
export function commandsFor(row: Pick<SafePlacesRow, 'kind' | 'location'>): { gemmel: string; restic: string } {
  const quoted = /^[\w./:@-]+$/.test(row.location) ? row.location : `'${row.location.replace(/'/g, `'\\''`)}'`;
  const [, who, port, at] = row.kind === 'machine' ? (/^([^\s:/]+)(?::(\d+))?(\/.*)$/.exec(row.location) ?? []) : [];
  const repository =
    row.kind === 'bucket'
      ? `s3:${quoted}`
      : row.kind === 'machine'
        ? port
          ? `sftp://${who}:${port}/${at}`
          : `sftp:${who}:${at}`
        : quoted;
  return { gemmel: `./gemmel restore ${quoted}`, restic: `restic -r ${repository} restore latest --target pictures` };
}

/**
 * The recovery sheet: where the copies are, their pass phrases, and what to type to bring everything back, with Gemmel and without it. One
 * A4 page for up to three places; made to be printed and put away.
 */
export async function recoverySheet(app: App, library: number, language: Language): Promise<Buffer> {
  const { db } = app;
  const _ = speechIn(language)._.bind(speechIn(language));
  const { name } = (await db('libraries')
    .where('id', await houseLibrary(app))
    .first('name'))!;
  const rows = await db('safe_places').orderBy('id');
  const day = new Intl.DateTimeFormat(language, { dateStyle: 'long', timeZone: await homeOf(db, library) }).format(
    new Date(),
  );
  const find = createRequire(path.join(app.config.models, 'x'));
  const title = _(msg`Recovery sheet`);
  const { default: PDFDocument } = await import('pdfkit');
  const doc = new PDFDocument({
    size: 'A4',
    margins: { top: mm(20), bottom: mm(18), left: mm(22), right: mm(22) },
    info: { Title: `${title}: ${name}`, Author: 'Gemmel' },
    lang: language,
    tagged: true,
    displayTitle: true,
  });
  const chunks: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<void>((resolve) => doc.on('end', resolve));
  for (const [font, file] of Object.entries(FONTS)) doc.registerFont(font, find.resolve(file));
  const para = (text: string, more: { font?: keyof typeof FONTS; size?: number; colour?: string; gap?: number } = {}) =>
    doc
      .font(more.font ?? 'text')
      .fontSize(more.size ?? 10.5)
      .fillColor(more.colour ?? INK)
      .text(text, { lineGap: 2 })
      .moveDown(more.gap ?? 0.5);
  // The mark: two rings, joined.
  const [x, y, r] = [doc.page.width - mm(22) - 42, mm(20) + 12, 10.5];
  doc
    .lineWidth(3.2)
    .strokeColor(JUNIPER)
    .circle(x, y, r)
    .stroke()
    .strokeColor(MARIGOLD)
    .circle(x + 14, y, r)
    .stroke();
  doc
    .strokeColor(JUNIPER)
    .path(
      `M ${x + r * Math.cos(-1.05)} ${y + r * Math.sin(-1.05)} A ${r} ${r} 0 0 1 ${x + r * Math.cos(0.1)} ${y + r * Math.sin(0.1)}`,
    )
    .stroke();
  para(title, { font: 'head', size: 22, gap: 0.1 });
  para(`${name} · ${day}`, { colour: SOFT, gap: 0.8 });
  para(
    _(
      msg`Print this and put it where you keep what matters, away from the computer. Whoever holds it can read every picture. Without the pass phrase nobody can, and it can’t be recovered.`,
    ),
    { gap: 0.9 },
  );
  for (const row of rows) {
    const { phrase, access, secret } = secretsIn(app, row);
    const { gemmel, restic } = commandsFor(row);
    doc.lineWidth(2).strokeColor(JUNIPER);
    for (const off of [0, 4.5])
      doc
        .moveTo(mm(22), doc.y + 5 + off)
        .lineTo(mm(22) + 13, doc.y + 5 + off)
        .stroke();
    doc.text('', mm(22) + 20, doc.y);
    para(row.name, { font: 'head', size: 14, gap: 0.2 });
    doc.text('', mm(22), doc.y);
    para(_(msg`Where it is`), { font: 'strong', size: 9, colour: SOFT, gap: 0.05 });
    para(row.location);
    if (access) {
      para(_(msg`Key of the bucket, and its secret`), { font: 'strong', size: 9, colour: SOFT, gap: 0.05 });
      doc
        .font('Courier')
        .fontSize(10)
        .fillColor(INK)
        .text(`${access}\n${secret ?? ''}`)
        .moveDown(0.5);
    }
    para(_(msg`Pass phrase`), { font: 'strong', size: 9, colour: SOFT, gap: 0.05 });
    doc.font('Courier-Bold').fontSize(13).fillColor(INK).text(phrase).moveDown(0.5);
    para(_(msg`To bring everything back with Gemmel, on a fresh machine`), {
      font: 'strong',
      size: 9,
      colour: SOFT,
      gap: 0.05,
    });
    doc.font('Courier').fontSize(10).fillColor(INK).text(gemmel).moveDown(0.5);
    para(_(msg`And without Gemmel (restic is a free program that every Linux has)`), {
      font: 'strong',
      size: 9,
      colour: SOFT,
      gap: 0.05,
    });
    doc.font('Courier').fontSize(10).fillColor(INK).text(restic).moveDown(1.2);
  }
  if (rows.length === 0) para(_(msg`There is no second place yet. Add one under Safekeeping, then print this again.`));
  para(
    _(
      msg`Either way the originals come back as plain files, by year and event, and beside each what was said about it (XMP). The rest is in database.sql.`,
    ),
    { colour: SOFT },
  );
  doc.end();
  await ended;
  return Buffer.concat(chunks);
}
