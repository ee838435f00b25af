import type { Api, CallInput, Picture, Tile } from '@gemmel/contract';
import { queries } from '@/api/query';
import { useTileStore } from '@/state/tiles';
import { recall, remember, rememberTiles } from './answers';
import { keptPicture, keepPicture } from './pictures';
import type { Waits } from './outbox';

/** A picture as it will be once something is said of it. */
async function changedBy(picture: Picture, { change }: CallInput<Api['change']>['body']): Promise<Picture> {
  const known = (await recall('tags', {}))?.tags ?? [];
  const given = [
    ...(change.giveTags ?? []).flatMap((id) => known.find((tag) => tag.id === id) ?? []),
    ...(change.addTags ?? []).map((name, i) => known.find((tag) => tag.name === name) ?? { id: -1 - i, name }),
  ].map(({ id, name }) => ({ id, name }));
  const tags = picture.tags.filter(
    (tag) => !change.removeTags?.includes(tag.id) && !given.some((one) => one.name === tag.name),
  );
  return {
    ...picture,
    ...(change.rating === undefined ? {} : { rating: change.rating }),
    ...(change.favourite === undefined ? {} : { favourite: change.favourite }),
    ...(change.title === undefined ? {} : { title: change.title || null }),
    ...(change.caption === undefined ? {} : { caption: change.caption || null }),
    ...(change.mark === undefined ? {} : { mark: change.mark }),
    tags: [...tags, ...given],
  };
}

const tileOf = (tile: Tile, picture: Picture): Tile => ({
  ...tile,
  rating: picture.rating,
  favourite: picture.favourite,
  title: picture.title,
  tags: picture.tags.map(({ name }) => name),
});

/** Shows a picture as it will be, wherever this device shows it; answers with it as it was, where it is known. */
async function show(id: number, change: (picture: Picture) => Picture | Promise<Picture>): Promise<Picture[]> {
  const key = ['picture', { params: { id } }];
  const picture =
    queries.getQueryData<Picture>(key) ?? (await recall('picture', { params: { id } })) ?? (await keptPicture(id));
  const { tiles, version } = useTileStore.getState();
  if (!picture) return [];
  const next = await change(picture);
  queries.setQueryData(key, next);
  remember('picture', { params: { id } }, next);
  await keepPicture(next);
  const tile = tiles.get(id);
  if (!tile) return [picture];
  const shown = tileOf(tile, next);
  tiles.set(id, shown);
  rememberTiles([shown]);
  useTileStore.setState({ version: version + 1 });
  return [picture];
}

/** The pictures on screen, or seen on this page. */
export const picturesAtHand = (): Picture[] =>
  queries
    .getQueriesData<Picture>({ queryKey: ['picture'] })
    .flatMap(([, picture]) => (picture && 'faces' in picture ? [picture] : []));

async function faces({ faces: some, odd = [], is }: CallInput<Api['answerFaces']>['body']): Promise<Picture[]> {
  const people = (await recall('people', {}))?.people ?? [];
  const person =
    typeof is !== 'object'
      ? null
      : 'person' in is
        ? (people.find((one) => one.id === is.person) ?? null)
        : { id: -1, name: is.newPerson };
  const named = (id: number) => some.includes(id) && !odd.includes(id);
  const before: Picture[] = [];
  for (const picture of picturesAtHand())
    if (picture.faces.some((face) => named(face.id)))
      before.push(
        ...(await show(picture.id, (one) => ({
          ...one,
          faces: one.faces.map((face) =>
            !named(face.id)
              ? face
              : {
                  ...face,
                  state: typeof is === 'object' ? 'named' : is === 'later' || is === 'unnamed' ? 'waiting' : is,
                  person: person && { id: person.id, name: person.name },
                  namedBy: person ? 'hand' : null,
                  likely: null,
                },
          ),
        }))),
      );
  return before;
}

/** How many pictures are remembered as they were: more are said at once by whoever knows what they do. */
const MOST = 50;

/** Shows what will be once something that waits has been sent; answers with pictures as they were. */
export async function foresee<K extends Waits>(name: K, input: CallInput<Api[K]>): Promise<Picture[]> {
  if (name === 'change') {
    const { body } = input as CallInput<Api['change']>;
    const before: Picture[] = [];
    for (const id of body.ids) before.push(...(await show(id, (picture) => changedBy(picture, body))));
    return before.slice(0, MOST);
  }
  if (name === 'ownHeart') {
    const { params, body } = input as CallInput<Api['ownHeart']>;
    return show(Number(params.id), (picture) => ({ ...picture, loved: { ...picture.loved, mine: body.on } }));
  }
  if (name === 'answerFaces') return faces((input as CallInput<Api['answerFaces']>).body);
  if (name === 'nameEvent') {
    const { params, body } = input as CallInput<Api['nameEvent']>;
    const events = await recall('events', {});
    if (!events) return [];
    const next = {
      ...events,
      events: events.events.map((one) => (one.id === Number(params.id) ? { ...one, title: body.title } : one)),
    };
    queries.setQueryData(['events', {}], next);
    remember('events', {}, next);
  }
  return [];
}

/** Shows pictures again as they were. */
export async function showAgain(before: readonly Picture[]): Promise<void> {
  for (const picture of before) await show(picture.id, () => picture);
}
