import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';

let kept: Buffer | null = null;

/** The ICC profile of sRGB (IEC 61966-2-1), as it ships with the package that writes PDFs. */
export const srgbProfile = (models: string): Buffer =>
  (kept ??= readFileSync(
    path.join(path.dirname(createRequire(path.join(models, 'x')).resolve('pdfkit')), 'data/sRGB_IEC61966_2_1.icc'),
  ));
