import { type Api, type News, STALE } from '@gemmel/contract';

/** Answers that cost the server little; all others may be asked for again more and more rarely while much changes. */
const LIGHT: ReadonlySet<keyof Api> = new Set([
  'library',
  'picture',
  'batch',
  'playable',
  'vaultLayout',
  'acts',
  'pile',
]);
/** How soon an answer is asked for again, and how rarely at most while news keeps coming, in ms. */
const FIRST = 60;
const GAP = { light: 1000, heavy: 1500, most: 12_000 };
/** What people say of pictures changes these only where they are asked by it. */
const ASKED: readonly (keyof Api)[] = ['skeleton', 'count', 'positions'];

/** Answers of one name that have gone stale: all, those of a question, or those of some pictures. */
export interface Stale {
  name: keyof Api;
  /** Only answers about these pictures. */
  pictures: ReadonlySet<number> | null;
  /** Only answers to questions that ask for more than everything. */
  narrow: boolean;
}

interface Waiting {
  stale: Stale;
  timer: ReturnType<typeof setTimeout>;
}

/** Which answers a piece of news makes stale. */
export function staleBy({ topic, ids }: News): Stale[] {
  const pictures = ids && (topic === 'pictures' || topic === 'said') ? new Set(ids) : null;
  const all = STALE[topic].map((name): Stale => ({
    name,
    pictures: name === 'picture' ? pictures : null,
    narrow: topic === 'said' && ASKED.includes(name),
  }));
  return topic === 'said'
    ? [
        ...all,
        ...ASKED.filter((name) => !STALE.said.includes(name)).map((name): Stale => ({
          name,
          pictures: null,
          narrow: true,
        })),
      ]
    : all;
}

const both = (a: Stale, b: Stale): Stale => ({
  name: a.name,
  pictures: a.pictures && b.pictures ? new Set([...a.pictures, ...b.pictures]) : null,
  narrow: a.narrow && b.narrow,
});

/**
 * Turns news into askings: the first at once, then, while news of the same kind keeps coming, each after a longer pause, up to
 * twelve seconds, so that an import of hundreds of pictures does not ask for the whole grid with each of them.
 * `ask` is told what to ask for again. Answers with what to call with news, and with what ends it.
 */
export function freshener(ask: (stale: Stale) => void): { hear: (news: readonly News[]) => void; end: () => void } {
  const waiting = new Map<keyof Api, Waiting>();
  const asked = new Map<keyof Api, { at: number; gap: number }>();
  const later = (stale: Stale) => {
    const there = waiting.get(stale.name);
    if (there) {
      there.stale = both(there.stale, stale);
      return;
    }
    const light = LIGHT.has(stale.name);
    const last = asked.get(stale.name);
    const now = Date.now();
    const least = light ? GAP.light : GAP.heavy;
    // A quiet time as long as the pause begins anew.
    const gap = !last || now - last.at > 2 * last.gap ? least : light ? least : Math.min(GAP.most, last.gap * 2);
    const wait = last ? Math.max(FIRST, last.at + gap - now) : FIRST;
    const timer = setTimeout(() => {
      const { stale: all } = waiting.get(stale.name)!;
      waiting.delete(stale.name);
      asked.set(stale.name, { at: Date.now(), gap });
      ask(all);
    }, wait);
    waiting.set(stale.name, { stale, timer });
  };
  return {
    hear: (news) => news.flatMap(staleBy).forEach(later),
    end: () => {
      for (const { timer } of waiting.values()) clearTimeout(timer);
      waiting.clear();
    },
  };
}
