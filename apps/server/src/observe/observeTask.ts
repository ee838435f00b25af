import { measure, noticedIn } from '@gemmel/core';
import sharp from 'sharp';

/** What a thread is asked: the derived small picture, and how large the picture is. */
export interface ObserveTask {
  file: string;
  width: number;
  height: number;
}

/** What is noticed of a picture that came in before anybody looked; null when its small size is not there. */
export async function observeTask({ file, width, height }: ObserveTask) {
  try {
    const { data, info } = await sharp(file)
      .removeAlpha()
      .toColourspace('srgb')
      .raw()
      .toBuffer({ resolveWithObject: true });
    return noticedIn(measure({ width: info.width, height: info.height, data }), { width, height });
  } catch {
    return null;
  }
}
