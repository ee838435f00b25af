import type { CardOffer } from '@gemmel/contract';
import type { App } from '../context';
import { listedFiles, listing } from './listing';
import type { Source } from './sources';

/** A card as it is offered: what it holds and how much of it is new. */
export async function offerOf(app: App, library: number, source: Source): Promise<CardOffer> {
  const files = await listedFiles(app, library, source.id);
  const device = source.device_id ? await app.db('devices').where('id', source.device_id).first('name') : undefined;
  return {
    id: source.id,
    name: source.name,
    device: device?.name ?? null,
    files: files.length,
    fresh: files.filter((file) => file.state === 'new').length,
    putOff: Boolean(source.put_off),
    listing: listing.get(source.id) ?? (source.listed_at ? null : { done: 0, total: 0 }),
  };
}

/** The cards and phones that are there as folders now. */
export async function cardOffers(app: App, library: number): Promise<CardOffer[]> {
  const sources = (await app
    .db('sources')
    .where({ library_id: library, kind: 'card', present: true })
    .whereNull('removed_at')
    .orderBy('seen_at', 'desc')) as Source[];
  const offers: CardOffer[] = [];
  for (const source of sources) offers.push(await offerOf(app, library, source));
  return offers;
}
