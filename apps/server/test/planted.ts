import { vaultFolder } from '@gemmel/core';
import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { App } from '../src/context';

const shaOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest();

/**
 * Puts pictures straight into a library's rows and vault, some with a clip beside them, each with a sidecar, over twenty events.
 * Names come twice within a day, so that running numbers are needed wherever they go.
 * @param bytesOf what is in the file of each. @returns what each is called, `picture 7`.
 */
export async function plant(
  app: App,
  root: string,
  many: number,
  bytesOf: (i: number) => Promise<Buffer> = async (i) => Buffer.from(`picture ${i} ${'x'.repeat(200)}`),
): Promise<Map<number, string>> {
  const { db } = app;
  const content = new Map<number, string>();
  const events: number[] = [];
  for (let e = 0; e < 20; e++) {
    const day = `2026-${String(1 + (e % 12)).padStart(2, '0')}-16`;
    const title = e % 4 ? `Day ${e}: rain/shine` : null;
    events.push(
      (await db('events').insert({ library_id: 1, title, start_day: day, end_day: day, made_by: 'hand' }))[0]!,
    );
  }
  for (let i = 0; i < many; i++) {
    const e = i % 20;
    const day = `2026-${String(1 + (e % 12)).padStart(2, '0')}-16`;
    const folder = vaultFolder(day, null);
    const name = `IMG_${String(i % 40).padStart(4, '0')}.jpg`;
    const at = path.join(folder, `${i} ${name}`);
    mkdirSync(path.join(root, folder), { recursive: true });
    const bytes = await bytesOf(i);
    writeFileSync(path.join(root, at), bytes);
    writeFileSync(path.join(root, `${at}.xmp`), `said of ${i}`);
    const [id] = await db('pictures').insert({
      library_id: 1,
      sha256: shaOf(bytes),
      kind: 'photo',
      format: 'jpg',
      name,
      vault_path: at,
      bytes: bytes.length,
      width: 4,
      height: 3,
      taken_local: `${day} 12:00:00`,
      day,
      taken_source: 'camera',
      taken_certainty: 0.9,
      event_id: events[e],
      event_by_hand: true,
      words: '',
      thumb: Buffer.alloc(0),
      verified_at: db.raw('UTC_TIMESTAMP(3)'),
    });
    content.set(id!, `picture ${i}`);
    if (i % 5 === 0) {
      const clip = Buffer.from(`clip of ${i}`);
      writeFileSync(path.join(root, `${at}.mov`), clip);
      await db('picture_files').insert({
        library_id: 1,
        picture_id: id!,
        role: 'clip',
        sha256: shaOf(clip),
        name: name.replace('.jpg', '.mov'),
        vault_path: `${at}.mov`,
        format: 'mov',
        bytes: clip.length,
      });
    }
  }
  return content;
}
