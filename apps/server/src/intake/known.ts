import { reason } from '@gemmel/contract';
import { whyBinned, type Met } from '../bin/met';
import type { App } from '../context';
import { holdForPhone } from '../gather/heldFile';
import { discard } from '../vault/vault';
import { mendWith } from '../vault/whole';
import { finishItem, type Item } from './items';
import { takeBack } from './placed';

/** Ends an item whose bytes the library has; should what is stored be damaged or gone, this copy puts it right. */
export async function alreadyHere(app: App, library: number, item: Item, file: string, picture: number): Promise<void> {
  const mended = await mendWith(app, library, item.sha256!, file);
  await takeBack(app, library, item, file);
  await discard(file);
  await finishItem(app, library, item, 'known', {
    picture_id: picture,
    mended: mended > 0,
    reason: mended ? reason('already-here-mended') : reason('already-here'),
  });
}

/** Ends an item whose bytes somebody has binned: it is not taken in again unasked. Should what lies in the bin be damaged, this puts it right. */
export async function leaveInBin(app: App, library: number, item: Item, file: string, met: Met): Promise<void> {
  if (!met.gone) await mendWith(app, library, item.sha256!, file);
  await takeBack(app, library, item, file);
  if (!(await holdForPhone(app, item.id, file))) await discard(file);
  await finishItem(app, library, item, 'skipped', { reason: whyBinned(met) });
}
