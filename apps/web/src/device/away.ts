import type { Answer, Api, CallInput, Picture, ShowSlide, Skeleton } from '@gemmel/contract';
import {
  EVERYTHING,
  matches,
  narrow,
  nodes,
  parse,
  type PictureFacts,
  type Question,
  searchable,
  WORDS,
  type World,
} from '@gemmel/core';
import { recall, recallTiles } from './answers';
import { keptThings } from './kept';
import { allKept, type KeptPicture, keptPicture, keptPictures } from './pictures';

/** What a question can't ask of a picture on this device, because only the library knows it. */
const UNKNOWN = ['device', 'added', 'like', 'saidBy', 'changed', 'near'] as const;

/** Whether a question can be answered from what a device keeps. */
export const isSimple = (question: Question): boolean =>
  ![...nodes(question)].some(
    (one) =>
      UNKNOWN.some((name) => name in one) ||
      ('has' in one && one.has === 'double') ||
      ('lacks' in one && one.lacks === 'double'),
  );

/** A kept picture as a question asks about it. */
export function factsOf(picture: Picture): PictureFacts {
  const { takenSpan, taken } = picture;
  const counted = picture.faces.filter(({ state }) => state === 'named' || state === 'waiting');
  return {
    id: picture.id,
    kind: picture.kind,
    day: taken?.slice(0, 10) ?? null,
    span: takenSpan && { exact: takenSpan.exact, from: takenSpan.from, to: takenSpan.to },
    rating: picture.rating,
    favourite: picture.favourite,
    people: [...new Set(picture.faces.flatMap(({ person }) => person?.id ?? []))],
    faces: counted.length,
    unnamed: picture.faces.filter(({ state }) => state === 'waiting').length,
    tags: picture.tags.map(({ id }) => id),
    event: picture.event?.id ?? null,
    albums: picture.albums.map(({ id }) => id),
    batch: picture.batch?.id ?? null,
    device: null,
    added: '',
    hasDouble: picture.alike !== null,
    country: picture.where?.country ?? null,
    region: picture.where?.region ?? null,
    place: picture.where?.place ?? null,
    position: picture.position,
    ownPlace: picture.ownPlace?.id ?? null,
    folder: picture.folder?.id ?? null,
    title: picture.title,
    caption: picture.caption,
    comments: picture.comments.length,
    mark: picture.mark,
    observed: picture.observed,
    camera: picture.camera,
    lens: picture.lens,
    format: picture.format,
    width: picture.width,
    height: picture.height,
    moment: taken,
    saidBy: [],
    changed: null,
    words: searchable([
      picture.title,
      picture.caption,
      picture.name,
      picture.seenWords,
      ...picture.comments.map(({ text }) => text),
      ...picture.tags.map(({ name }) => name),
      ...picture.faces.map(({ person }) => person?.name),
      picture.event?.title,
      picture.where?.place,
    ]),
  };
}

async function world(): Promise<World> {
  const tags = (await recall('tags', {}))?.tags ?? [];
  const folders = (await recall('folders', {}))?.folders ?? [];
  return {
    today: new Date().toISOString().slice(0, 10),
    tagParent: new Map(tags.map(({ id, parent }) => [id, parent])),
    folderParent: new Map(folders.map(({ id, parent }) => [id, parent])),
  };
}

/** The kept pictures that answer a question, newest first. */
export async function answering(question: Question, oldestFirst = false): Promise<KeptPicture[]> {
  const around = await world();
  const found = (await allKept()).filter(({ picture }) => matches(question, factsOf(picture), around));
  const at = ({ picture }: KeptPicture) => picture.taken ?? '';
  found.sort((a, b) => at(b).localeCompare(at(a)) || b.picture.id - a.picture.id);
  return oldestFirst ? found.reverse() : found;
}

/** Runs of the same in a row, with how many. */
function runsOf<T>(items: readonly T[], same: (a: T, b: T) => boolean): [T, number][] {
  const runs: [T, number][] = [];
  for (const item of items) {
    const last = runs.at(-1);
    if (last && same(last[0], item)) last[1]++;
    else runs.push([item, 1]);
  }
  return runs;
}

/** Pictures in the columns a grid is laid out from. */
export function columnsOf(pictures: readonly KeptPicture[]): Skeleton {
  const ids = pictures.map(({ picture }) => picture.id);
  return {
    ids: ids.map((id, i) => id - (ids[i - 1] ?? 0)),
    shapes: pictures.map(({ picture }) => Math.round((100 * picture.width) / Math.max(1, picture.height))),
    days: runsOf(
      pictures.map(({ tile }) => ({ day: tile.day, about: tile.about })),
      (a, b) => a.day === b.day && a.about === b.about,
    ).map(([{ day, about }, n]) => (about === null ? [day, n] : [day, n, about])),
    events: runsOf(
      pictures.map(({ picture }) => picture.event?.id ?? 0),
      (a, b) => a === b,
    ),
    count: ids.length,
  };
}

function slideOf({ picture, tile }: KeptPicture): ShowSlide {
  return {
    id: picture.id,
    sha: picture.sha,
    thumb: picture.thumb,
    kind: picture.kind,
    seconds: picture.seconds,
    taken: picture.taken,
    takenSpan: picture.takenSpan,
    title: tile.title,
    caption: picture.caption,
    place: picture.where?.place ? { name: picture.where.place, country: picture.where.country } : null,
    names: [...new Set(picture.faces.flatMap(({ person }) => person?.name ?? []))],
    faces: picture.faces.map(({ box }) => box),
  };
}

/** What typed words ask for, by the names this device knows. */
async function typed({ typed: text, question: base, language }: CallInput<Api['ask']>['body']) {
  const question = (base ?? EVERYTHING) as Question;
  const [people, tags, events, albums, places, own] = await Promise.all([
    recall('people', {}),
    recall('tags', {}),
    recall('events', {}),
    recall('albums', {}),
    recall('places', {}),
    recall('ownPlaces', {}),
  ]);
  const { question: part } = parse(
    text,
    {
      people: (people?.people ?? []).flatMap((one) => [
        { id: one.id, name: one.name },
        ...(one.nickname ? [{ id: one.id, name: one.nickname }] : []),
      ]),
      tags: (tags?.tags ?? []).map(({ id, name }) => ({ id, name })),
      events: (events?.events ?? []).flatMap(({ id, title }) => (title ? [{ id, name: title }] : [])),
      albums: (albums?.albums ?? []).map(({ id, name }) => ({ id, name })),
      own: (own?.places ?? []).map(({ id, name }) => ({ id, name })),
      places: (places?.places ?? []).flatMap(({ country, region, place }) =>
        place ? [{ name: place, country, place, region: region ?? undefined }] : [],
      ),
    },
    WORDS[language],
    new Date().toISOString().slice(0, 10),
  );
  const asked = narrow(question, part);
  const found = isSimple(asked) ? await answering(asked) : [];
  return {
    question: asked,
    pictures: found.length,
    first: found.slice(0, 100).map(({ picture }) => picture.id),
    completions: [],
  };
}

/** What a thing that is kept needs, as it was answered when it was kept. */
async function ofKept(name: string, input: object): Promise<unknown> {
  const wanted = JSON.stringify(input);
  for (const { answers } of await keptThings())
    for (const [of, asked, answer] of answers) if (of === name && JSON.stringify(asked) === wanted) return answer;
  return undefined;
}

/** What is asked with a question. */
interface Asked {
  body: { question: Question; oldestFirst?: boolean };
}

/** Answers from what this device keeps; undefined for what it can't know. */
export async function answerAway<K extends keyof Api>(
  name: K,
  input: CallInput<Api[K]>,
): Promise<Answer<Api[K]> | undefined> {
  const seen = (await recall(name, input)) ?? (await ofKept(name, input));
  if (seen !== undefined && name !== 'slides') return seen as Answer<Api[K]>;
  const given = async (): Promise<unknown> => {
    switch (name) {
      case 'tiles':
      case 'tilesAtOnce': {
        const { ids } = (input as CallInput<Api['tiles']>).body;
        const kept = await keptPictures(ids);
        const rest = new Set(ids);
        for (const { tile } of kept) rest.delete(tile.id);
        const tiles = [...kept.map(({ tile }) => tile), ...(await recallTiles([...rest]))];
        return name === 'tiles' ? { tiles } : { tiles, smalls: tiles.map(() => null) };
      }
      case 'picture':
        return keptPicture(Number((input as CallInput<Api['picture']>).params.id));
      case 'skeleton': {
        const { question, oldestFirst } = (input as Asked).body;
        return isSimple(question) ? columnsOf(await answering(question, oldestFirst)) : undefined;
      }
      case 'count': {
        const { question } = (input as Asked).body;
        return isSimple(question) ? { count: (await answering(question)).length } : undefined;
      }
      case 'ask':
        return typed((input as CallInput<Api['ask']>).body);
      case 'slides': {
        const { ids } = (input as CallInput<Api['slides']>).body;
        const slides = (await keptPictures(ids)).map(slideOf);
        return slides.length ? { slides } : seen;
      }
      case 'playable':
        return { state: 'ready' };
      default:
        return undefined;
    }
  };
  return (await given()) as Answer<Api[K]> | undefined;
}
