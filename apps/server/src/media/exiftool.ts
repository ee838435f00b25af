import { ExifTool } from 'exiftool-vendored';
import exiftoolPath from 'exiftool-vendored.pl';

let tool: ExifTool | null = null;

/** The one helper process that reads and clears metadata. */
export const exiftool = () => (tool ??= new ExifTool({ exiftoolPath, maxProcs: 2, taskTimeoutMillis: 20_000 }));

/** How long the helper may take for one file before it is given up and started afresh. */
const PATIENCE = 40_000;

/** The helper is stuck or gone, which says nothing about the file: the work is to be tried again. */
export class ToolTrouble extends Error {}

/** Has the helper do something, and replaces it when it does not answer. */
export async function withExiftool<T>(work: (tool: ExifTool) => Promise<T>, patience = PATIENCE): Promise<T> {
  const mine = exiftool();
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stuck = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      if (tool === mine) tool = null;
      void mine.end(false).catch(() => undefined);
      reject(new ToolTrouble('The reader of metadata did not answer; it is started afresh.'));
    }, patience);
  });
  try {
    return await Promise.race([work(mine), stuck]);
  } finally {
    clearTimeout(timer);
  }
}

/** Whether the helper answers at all. */
export const answers = (): Promise<boolean> =>
  withExiftool((helper) => helper.version()).then(
    () => true,
    () => false,
  );

/** Ends the helper process. */
export async function endMetadata(): Promise<void> {
  await tool?.end();
  tool = null;
}
