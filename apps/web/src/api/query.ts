import type { Answer, Api, CallInput } from '@gemmel/contract';
import { keepPreviousData, QueryClient, useQuery, type UseQueryResult } from '@tanstack/react-query';
import { useEffect } from 'react';
import { call, Told } from './client';

/** Kinds of things the server says have changed. */
export type Topic =
  | 'batches'
  | 'pictures'
  | 'events'
  | 'people'
  | 'albums'
  | 'shares'
  | 'tags'
  | 'library'
  | 'sources'
  | 'clips'
  | 'clocks'
  | 'filing';

/** Which answers go stale when something changes. */
const STALE: Record<Topic, (keyof Api)[]> = {
  batches: ['batches', 'batch', 'batchItems', 'conflicts', 'library', 'room'],
  sources: ['cards', 'card', 'ledger', 'library'],
  clips: ['playable'],
  clocks: ['clocks', 'library', 'sitting'],
  filing: ['vaultLayout'],
  pictures: [
    'skeleton',
    'count',
    'picture',
    'places',
    'positions',
    'folders',
    'ownPlaces',
    'sitting',
    'albums',
    'album',
    'tags',
    'introductions',
  ],
  events: ['events', 'event', 'sitting', 'skeleton', 'library', 'picture'],
  people: ['people', 'person', 'introductions', 'likelyFaces', 'sureness', 'events', 'picture', 'library'],
  albums: ['albums', 'album', 'picture'],
  shares: ['shares', 'library'],
  tags: ['tags'],
  library: ['library', 'troubles'],
};

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (times, error) => times < 3 && !(error instanceof Told && error.status >= 400 && error.status < 500),
      staleTime: 30_000,
      refetchOnWindowFocus: false,
    },
  },
});

/** An answer of the server, kept fresh while it is on screen. */
export function useAnswer<K extends keyof Api, T = Answer<Api[K]>>(
  name: K,
  input: CallInput<Api[K]>,
  options: { enabled?: boolean; select?: (answer: Answer<Api[K]>) => T } = {},
): UseQueryResult<T> {
  return useQuery({
    queryKey: [name, input],
    queryFn: () => call(name, input),
    placeholderData: keepPreviousData,
    ...options,
  });
}

/** Asks again for everything of these names. */
export const refresh = (...names: (keyof Api)[]): void =>
  names.forEach((name) => void queries.invalidateQueries({ queryKey: [name] }));

/** Asks again for everything that goes stale when such things change. */
export const refreshTopics = (...topics: Topic[]): void => refresh(...new Set(topics.flatMap((topic) => STALE[topic])));

/** Listens to what changes on the server and freshens what is on screen. `also` is told the topics. */
export function useProgress(on: boolean, also: (topics: Topic[]) => void): void {
  useEffect(() => {
    if (!on) return;
    const source = new EventSource('/api/progress');
    source.addEventListener('changed', (event) => {
      const topics = JSON.parse((event as MessageEvent<string>).data) as Topic[];
      refreshTopics(...topics);
      also(topics);
    });
    return () => source.close();
  }, [on, also]);
}
