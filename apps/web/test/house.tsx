import { configure, render } from '@testing-library/react';
import { QueryClientProvider } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { queries } from '@/api/query';
import { useAsk } from '@/state/ask';
import { useSteps } from '@/state/acts';
import { usePile } from '@/state/pile';
import { useTileStore } from '@/state/tiles';
import { useToast } from '@/state/toast';
import { Toast } from '@/ui/Toast';

// A busy machine may take longer than a second over what is drawn at once.
configure({ asyncUtilTimeout: 8000 });

/** What a page asked of the server. */
export interface Asked {
  path: string;
  method: string;
  body: unknown;
}

/** An answer to a request: a value, or what is made of the request; a number is an error of that status. */
export type Answers = Record<string, unknown | ((asked: Asked) => unknown)>;

const EMPTY: Answers = {
  'GET /api/people': { people: [], circles: [] },
  'GET /api/tags': { tags: [] },
  'GET /api/events': { events: [] },
  'GET /api/albums': { albums: [] },
  'GET /api/marks': { marks: [] },
  'GET /api/pins': { pins: [] },
  'GET /api/batches': { batches: [] },
  'GET /api/places': { places: [] },
  'GET /api/shares': { shares: [] },
  'GET /api/troubles': { troubles: [] },
  'GET /api/introductions': { groups: [], total: 0, faces: 0 },
  'POST /api/count': { count: 0 },
  'POST /api/skeleton': { ids: [], shapes: [], days: [], events: [], count: 0 },
  'POST /api/tiles': { tiles: [] },
  'POST /api/acts/900/undo': { act: 901, back: 1, left: 0, gone: [] },
  'POST /api/acts/901/undo': { act: 902, back: 1, left: 0, gone: [] },
  // The pile is kept a moment later, perhaps when the next page is shown already.
  'PUT /api/pile': ({ body }: Asked) => ({ ids: (body as { put?: number[] }).put ?? [] }),
};

/** Shows part of the application as if a server gave these answers; answers with what was asked of it. */
export function show(part: ReactNode, answers: Answers = {}) {
  const asked: Asked[] = [];
  const all = { ...EMPTY, ...answers };
  queries.clear();
  usePile.setState({ ids: [], has: new Set(), choosing: false });
  useTileStore.setState({ tiles: new Map(), version: 0 });
  useToast.setState({ note: null });
  useSteps.setState({ done: [], undone: [] });
  useAsk.setState({ question: { all: [] }, typing: null });
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  globalThis.fetch = jest.fn(async (path: string, init: RequestInit = {}) => {
    const method = init.method ?? 'GET';
    const one: Asked = { path, method, body: init.body ? JSON.parse(init.body as string) : undefined };
    asked.push(one);
    const given = all[`${method} ${path}`];
    const answer = typeof given === 'function' ? (given as (a: Asked) => unknown)(one) : given;
    if (answer === undefined || typeof answer === 'number')
      return {
        ok: false,
        status: answer ?? 404,
        json: async () => ({ title: `The server says no to ${path}.` }),
      } as Response;
    // What changes something is an act.
    const told = method === 'GET' ? answer : { act: 900, ...(answer as object) };
    return { ok: true, status: 200, json: async () => told } as Response;
  }) as never;
  const page = render(
    <QueryClientProvider client={queries}>
      {part}
      <Toast />
    </QueryClientProvider>,
  );
  /** What was asked of one route, in order. */
  const of = (method: string, path: string) => asked.filter((a) => a.method === method && a.path === path);
  return { ...page, asked, of };
}

export { moves, PlainLink, router } from './router';
