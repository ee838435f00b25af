import type { Receipt } from '@gemmel/contract';
import { Receipt as ReceiptShape } from '@gemmel/contract';
import { openAsBlob } from 'node:fs';
import type { App } from '../../context';
import { refused } from '../../problem';
import { keptPiece, madeFile, pieceById } from '../pieces';

/** How long a shop may take to answer, in ms. */
const PATIENCE = 60_000;

/**
 * Sends prints that were made to the shop: the list of what is to be printed, and the files themselves; keeps its receipt. @throws when there is
 * no shop, nothing has been made, or it does not answer.
 */
export async function orderPrints(app: App, library: number, id: number): Promise<Receipt> {
  const { settings } = await keptPiece(app, library, id);
  if (!app.config.shop) throw refused('no-shop');
  const { made } = await pieceById(app, library, id);
  if (settings.kind !== 'prints' || !made || !made.files.length) throw refused('nothing-to-order');
  const order = new FormData();
  for (const { name } of made.files) {
    const file = await madeFile(app, library, id, name);
    order.append(name.endsWith('.csv') ? 'list' : 'prints', await openAsBlob(file), name);
  }
  const answer = await fetch(app.config.shop, {
    method: 'POST',
    body: order,
    signal: AbortSignal.timeout(PATIENCE),
  }).catch(() => null);
  const receipt = answer?.ok ? ReceiptShape.safeParse(await answer.json().catch(() => null)) : null;
  if (!receipt?.success) throw refused('shop-silent');
  await app
    .db('piece_files')
    .where({ piece_id: id, library_id: library })
    .update({ receipt: JSON.stringify(receipt.data) });
  app.changed(library, 'making');
  return receipt.data;
}
