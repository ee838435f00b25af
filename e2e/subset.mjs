// Copies the part of the demo household that the interface tests use: some sixty files of a few events.
import { copyFileSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const here = path.dirname(fileURLToPath(import.meta.url));
const demo = path.resolve(here, '../demo');
const out = path.join(here, 'out/demo');

/** Which pictures, by device folder and event. Clips, HEIC, scans, tablet pictures and doubles are among them. */
const wanted = (file) =>
  file.folder === 'grans-tablet' ||
  file.path.startsWith('box-of-scans/Summer') ||
  file.event === 'emil-birthday' ||
  (file.event === 'skating' && file.folder === 'martens-phone') ||
  (file.event === 'lantern-parade' && file.folder === 'ilses-phone') ||
  file.folder === 'stick';

rmSync(out, { recursive: true, force: true });
const { files } = JSON.parse(readFileSync(path.join(demo, 'truth.json'), 'utf8'));
for (const file of files.filter((f) => f.kind !== 'bad' && wanted(f))) {
  mkdirSync(path.dirname(path.join(out, file.path)), { recursive: true });
  copyFileSync(path.join(demo, file.path), path.join(out, file.path));
}
copyFileSync(path.join(demo, 'household.json'), path.join(out, 'household.json'));
