// Assembles packages/core/src/faces/scan.wat into scanCode.ts: node scripts/build-scan.mjs (after a change of the .wat only).
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import wabt from 'wabt';

const folder = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../packages/core/src/faces');
const { parseWat } = await wabt();
const module = parseWat('scan.wat', readFileSync(path.join(folder, 'scan.wat'), 'utf8'), { simd: true });
const code = Buffer.from(module.toBinary({}).buffer).toString('base64');
writeFileSync(
  path.join(folder, 'scanCode.ts'),
  `/** scan.wat, assembled by scripts/build-scan.mjs. */\nexport const SCAN_CODE =\n  '${code}';\n`,
);
