import { open } from 'node:fs/promises';
import { inflateSync } from 'node:zlib';

/** Texts and profiles of pictures are far smaller than this once unpacked, in bytes; nothing larger is unpacked by anybody. */
const MOST = 16_000_000;
/** Chunks that hold something packed, and how to find where it begins: behind a name, and what else a kind says before it. */
const PACKED: Readonly<Record<string, (data: Buffer) => number>> = {
  zTXt: (data) => data.indexOf(0) + 2,
  iCCP: (data) => data.indexOf(0) + 2,
  iTXt: (data) => {
    const name = data.indexOf(0);
    if (data[name + 1] !== 1) return -1;
    const language = data.indexOf(0, name + 3);
    return data.indexOf(0, language + 1) + 1;
  },
};

/**
 * Whether something said in a PNG unpacks to more than anybody would write, so that whoever reads it never ends (PNG,
 * third edition, 11.3.3). Only the heads of other chunks are looked at.
 */
export async function talksWithoutEnd(file: string): Promise<boolean> {
  const handle = await open(file);
  try {
    const head = Buffer.alloc(8);
    for (let at = 8, n = 0; n < 100_000; n++) {
      const { bytesRead } = await handle.read(head, 0, 8, at);
      if (bytesRead < 8) return false;
      const length = head.readUInt32BE(0);
      const start = PACKED[head.toString('latin1', 4, 8)];
      if (start) {
        if (length > MOST) return true;
        const data = Buffer.alloc(length);
        await handle.read(data, 0, length, at + 8);
        const from = start(data);
        try {
          if (from > 0) inflateSync(data.subarray(from), { maxOutputLength: MOST });
        } catch (error) {
          // Anything else that is wrong with it is for whoever opens the picture.
          if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') return true;
        }
      }
      at += length + 12;
    }
    return true;
  } finally {
    await handle.close();
  }
}
