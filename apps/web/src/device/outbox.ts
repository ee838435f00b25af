import type { Answer, Api, CallInput, FaceAnswer, Picture, PictureSeen, Saying } from '@gemmel/contract';
import { del, entries, set } from 'idb-keyval';
import { create } from 'zustand';
import { Told } from '@/api/client';
import { recall } from './answers';
import { newId } from './newId';
import { keptPicture } from './pictures';
import { store, whenForgotten } from './stores';
import { whose } from './whose';

/** What can be said without a line: it waits here, and is sent in order when there is one. */
export const WAITS = ['change', 'ownHeart', 'comment', 'answerFaces', 'nameEvent', 'setPile'] as const;
export type Waits = (typeof WAITS)[number];
export const canWait = (name: keyof Api): name is Waits => (WAITS as readonly string[]).includes(name);

/** A face as it was when somebody named it. */
export interface FaceWas {
  id: number;
  picture: number;
  person: number | null;
}

/** Something done without a line. */
export interface Act {
  /** A name of its own, by which the server knows it should it come twice. */
  id: string;
  of: string;
  at: number;
  name: Waits;
  input: object;
  /** What was said when it was done: “4 stars given”. */
  said: string;
  was?: PictureSeen | undefined;
  faces?: FaceWas[] | undefined;
  /** The pictures as they were shown before, should it be taken back. */
  before?: Picture[] | undefined;
  /** Why it was not taken when it was sent: changed by somebody else meanwhile, gone, or refused with a reason. */
  stuck?: { why: 'changed'; theirs: string } | { why: 'gone' } | { why: 'refused'; reason: Saying | null } | undefined;
}

interface Outbox {
  acts: Act[];
  /** Whether it is known what waits. */
  read: boolean;
}

/** What waits to be sent, in order, with what was not taken. */
export const useOutbox = create<Outbox>()(() => ({ acts: [], read: false }));

whenForgotten(() => useOutbox.setState({ acts: [] }));

const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('gemmel-acts');
channel?.addEventListener('message', () => void readOutbox());

/** Reads what waits on this device. */
export async function readOutbox(): Promise<void> {
  const [of, on] = [whose(), store('acts')];
  if (of === null || !on) return useOutbox.setState({ acts: [], read: true });
  const all = (await entries<string, Act>(on).catch(() => [])).map(([, act]) => act);
  useOutbox.setState({ acts: all.filter((act) => act.of === of).sort((a, b) => a.at - b.at), read: true });
}

async function changed(): Promise<void> {
  await readOutbox();
  channel?.postMessage('changed');
}

/** Puts an act down, or puts it down again as it is now. */
export async function putDown(act: Act): Promise<void> {
  await set(act.id, act, store('acts')!);
  await changed();
}

/** Lets go of an act: it was sent, taken back, or given up. */
export async function letGo(id: string): Promise<void> {
  const on = store('acts');
  if (on) await del(id, on);
  await changed();
}

/** Says what an act said when it was done. */
export async function sayOf(id: string, said: string): Promise<void> {
  const act = useOutbox.getState().acts.find((one) => one.id === id);
  if (act) await putDown({ ...act, said });
}

let last = 0;
/** A moment that is later than all before it on this page, so that acts stay in order. */
const moment = (): number => (last = Math.max(Date.now(), last + 1));

/** What somebody saw of a picture before they said something of it; nothing for several pictures at once. */
async function seenBefore(
  { ids, change }: CallInput<Api['change']>['body'],
  pictures: readonly Picture[],
): Promise<PictureSeen | undefined> {
  if (ids.length !== 1) return undefined;
  const id = ids[0]!;
  const picture =
    pictures.find((one) => one.id === id) ?? (await recall('picture', { params: { id } })) ?? (await keptPicture(id));
  if (!picture) return undefined;
  return {
    ...(change.rating === undefined ? {} : { rating: picture.rating }),
    ...(change.title === undefined ? {} : { title: picture.title }),
    ...(change.caption === undefined ? {} : { caption: picture.caption }),
    ...(change.mark === undefined ? {} : { mark: picture.mark }),
  };
}

const FIELDS = ['rating', 'title', 'caption', 'mark'] as const;
const isOf = (act: Act, id: number, field: (typeof FIELDS)[number]): boolean => {
  if (act.name !== 'change' || act.stuck) return false;
  const { body } = act.input as CallInput<Api['change']>;
  return body.ids.length === 1 && body.ids[0] === id && body.change[field] !== undefined;
};

/** The faces of pictures that are on screen, as they are now. */
function facesNow(faces: readonly number[], pictures: readonly Picture[]): FaceWas[] {
  return pictures.flatMap((picture) =>
    picture.faces
      .filter((face) => faces.includes(face.id))
      .map((face) => ({ id: face.id, picture: picture.id, person: face.person?.id ?? null })),
  );
}

/** What the server would have answered. */
async function answerFor<K extends Waits>(name: K, input: CallInput<Api[K]>, id: string): Promise<Answer<Api[K]>> {
  const waiting = { act: null, waiting: id };
  if (name === 'answerFaces') {
    const { is } = (input as CallInput<Api['answerFaces']>).body as { is: FaceAnswer['is'] };
    const people = (await recall('people', {}))?.people ?? [];
    const said =
      typeof is !== 'object' ? is : 'person' in is ? people.find((one) => one.id === is.person)?.name : is.newPerson;
    return { ...waiting, said: said ?? '' } as unknown as Answer<Api[K]>;
  }
  if (name === 'setPile') {
    const { put = [], drop = [] } = (input as CallInput<Api['setPile']>).body as { put?: number[]; drop?: number[] };
    const before = (await recall('pile', {}))?.ids ?? [];
    const ids = [...before.filter((one) => !drop.includes(one)), ...put.filter((one) => !before.includes(one))];
    return { ...waiting, ids } as unknown as Answer<Api[K]>;
  }
  return waiting as unknown as Answer<Api[K]>;
}

/** Keeps with an act how pictures were shown before. */
export async function keepBefore(id: string, before: Picture[]): Promise<void> {
  const act = useOutbox.getState().acts.find((one) => one.id === id);
  if (act && before.length) await putDown({ ...act, before });
}

/** Keeps something until there is a line. Answers what the server would have answered. */
export async function waitWith<K extends Waits>(
  name: K,
  input: CallInput<Api[K]>,
  pictures: readonly Picture[],
): Promise<{ id: string; answer: Answer<Api[K]> }> {
  const of = whose();
  if (of === null || !store('acts')) throw new Told(null, 0);
  const act: Act = { id: newId(), of, at: moment(), name, input, said: '' };
  if (name === 'change') {
    const { body } = input as CallInput<Api['change']>;
    act.was = await seenBefore(body, pictures);
    // What is said of one picture twice before it is sent was seen as it was before the first.
    for (const field of FIELDS) {
      if (body.ids.length !== 1 || body.change[field] === undefined) continue;
      const earlier = useOutbox.getState().acts.find((one) => isOf(one, body.ids[0]!, field));
      if (!earlier) continue;
      const { body: said } = earlier.input as CallInput<Api['change']>;
      const { [field]: was, ...change } = said.change;
      void was;
      act.was = { ...act.was, [field]: earlier.was?.[field] };
      if (Object.keys(change).length)
        await set(earlier.id, { ...earlier, input: { body: { ...said, change } } }, store('acts')!);
      else await del(earlier.id, store('acts')!);
    }
  }
  if (name === 'answerFaces') {
    const { body } = input as CallInput<Api['answerFaces']>;
    act.faces = facesNow(body.faces, pictures);
  }
  await putDown(act);
  return { id: act.id, answer: await answerFor(name, input, act.id) };
}
