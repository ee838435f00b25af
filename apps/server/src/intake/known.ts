import { reason } from '@gemmel/contract';
import type { App } from '../context';
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
