import { type Answer, type Api, type CallInput, type News, STALE, type Topic } from '@gemmel/contract';
import { keepPreviousData, QueryClient, useQuery, type UseQueryResult } from '@tanstack/react-query';
import { useEffect } from 'react';
import { call, Told } from './client';
import { throughEyes } from './eyes';
import { inLibrary } from './library';
import { freshener, type Stale } from './freshen';
import { shareBefore } from './share';

/** Whether the server said no, rather than failed or could not be reached. */
const isRefusal = (error: Error): boolean => error instanceof Told && error.status >= 400 && error.status < 500;

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // What was refused is refused again; and a line that is lost is watched: everything is asked anew when it is back.
      retry: (times, error) => times < 3 && !(error instanceof Told && error.status < 500),
      staleTime: 30_000,
      refetchOnWindowFocus: false,
      // Without a line, answers come from what the device keeps.
      networkMode: 'always',
      structuralSharing: shareBefore,
    },
  },
});

/** An answer of the server, kept fresh while it is on screen. Once it is there it stays until another is, or asking anew is refused. */
export function useAnswer<K extends keyof Api, T = Answer<Api[K]>>(
  name: K,
  input: CallInput<Api[K]>,
  options: { enabled?: boolean; select?: (answer: Answer<Api[K]>) => T } = {},
): UseQueryResult<T> {
  const answer = useQuery({
    queryKey: [name, input],
    queryFn: ({ signal }) => call(name, input, signal),
    placeholderData: keepPreviousData,
    ...options,
  });
  if (answer.data === undefined || !answer.error || isRefusal(answer.error)) return answer;
  return { ...answer, error: null } as unknown as UseQueryResult<T>;
}

/** Asks again for everything of these names. */
export const refresh = (...names: (keyof Api)[]): void =>
  names.forEach((name) => void queries.invalidateQueries({ queryKey: [name] }));

/** Asks again for everything that goes stale when such things change. */
export const refreshTopics = (...topics: Topic[]): void => refresh(...new Set(topics.flatMap((topic) => STALE[topic])));

interface Input {
  params?: { id?: number };
  body?: { question?: object };
}

/** Asks again for what has gone stale of one name. */
function askAgain({ name, pictures, narrow }: Stale): void {
  void queries.invalidateQueries({
    queryKey: [name],
    predicate: ({ queryKey: [, input], state }) => {
      // What has gone does not come back by being asked for.
      if (state.error instanceof Told && state.error.status === 404) return false;
      const { params, body } = (input ?? {}) as Input;
      if (pictures && params?.id !== undefined && !pictures.has(params.id)) return false;
      return !(narrow && JSON.stringify(body?.question) === '{"all":[]}');
    },
  });
}

/** Forgets all answers about something that is no longer there, so that nobody asks for it again. */
export const forget = <K extends keyof Api>(name: K, id: number): void =>
  queries.removeQueries({
    queryKey: [name],
    predicate: ({ queryKey: [, input] }) => (input as Input | undefined)?.params?.id === id,
  });

/** How old the first answers of a page can be when it begins to listen, in ms; the server looks no further back. */
const OVER = 10_000;
/** How long to wait before listening again when the server would not have it, in ms. */
const AGAIN = 5000;

/**
 * Listens to what changes on the server and freshens what is on screen. `also` is told the news; null when so much was missed
 * that everything may have changed.
 */
export function useProgress(on: boolean, also: (news: readonly News[] | null) => void): void {
  useEffect(() => {
    if (!on) return;
    const fresh = freshener(askAgain);
    let source: EventSource;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const everything = () => {
      void queries.invalidateQueries();
      also(null);
    };
    const open = (again: boolean) => {
      const over = Math.ceil(Math.min(OVER, performance.now()));
      source = new EventSource(throughEyes(inLibrary(`/api/progress?over=${over}`)));
      // What was told while nobody listened is not known: also when it took more than one try to be heard at all, as on a page that was
      // opened without a line.
      let missed = again;
      let greeted = false;
      source.addEventListener('hello', () => {
        if (missed) everything();
        missed = false;
        greeted = true;
      });
      source.addEventListener('changed', (event) => {
        const news = JSON.parse((event as MessageEvent<string>).data) as News[];
        fresh.hear(news);
        also(news);
      });
      source.addEventListener('everything', everything);
      // A cut line is taken up again by the browser, where it was left; an answer that says no is not.
      source.addEventListener('error', () => {
        if (!greeted) missed = true;
        if (source.readyState === EventSource.CLOSED) timer = setTimeout(() => open(true), AGAIN);
      });
    };
    open(false);
    return () => {
      clearTimeout(timer);
      fresh.end();
      source.close();
    };
  }, [on, also]);
}
