import { readdirSync } from 'node:fs';
import path from 'node:path';
import { api, type Endpoint } from '@gemmel/contract';
import { QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, render } from '@testing-library/react';
import { Component, type ComponentType, type ReactNode } from 'react';
import { chances, LONG, times } from '../../../packages/core/src/long.testing';
import { Maker } from '../../../packages/contract/src/made.testing';
import { queries } from '@/api/query';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { useTileStore } from '@/state/tiles';

jest.mock('expo-router', () => {
  const { PlainLink, router } = jest.requireActual<object>('./router') as { PlainLink: unknown; router: unknown };
  const given = { id: '7', token: 'abc' };
  return {
    useRouter: () => router,
    router,
    usePathname: () => '/browse',
    useLocalSearchParams: () => given,
    useGlobalSearchParams: () => given,
    useNavigation: () => ({ setOptions: () => undefined, addListener: () => () => undefined }),
    useFocusEffect: () => undefined,
    Link: PlainLink,
    Redirect: () => null,
    Slot: () => null,
    Stack: () => null,
  };
});

/**
 * Every page is opened on any answers the contract allows, and on a server that says no to everything: none of them falls, and each has
 * something to say.
 */
const random = chances(1_130);
const ROUNDS = times(1, 16);
const WHO = ['keeper', 'relative'] as const;
const APP = path.join(__dirname, '../app/(house)');
const pages = (readdirSync(APP, { recursive: true }) as string[])
  .filter((name) => name.endsWith('.tsx') && !name.endsWith('_layout.tsx'))
  .sort();

const moments = ['2026-05-16T12:00:00.000Z', '1994-07-03T09:30:00.000Z'];
const days = ['2026-05-16', '1994-07-03', '2024-02-29'];
const shas = ['00'.repeat(32), 'ab'.repeat(32)];
/** What texts of some names are, which the contract takes as any text. */
const NAMED: Record<string, readonly unknown[]> = {
  ...Object.fromEntries(
    [
      'at',
      'since',
      'until',
      'seen',
      'createdAt',
      'began',
      'ended',
      'added',
      'made',
      'when',
      'tried',
      'upTo',
      'last',
      'first',
    ].map((name) => [name, moments]),
  ),
  ...Object.fromEntries(
    ['day', 'from', 'to', 'start', 'end', 'born', 'first', 'last', 'clearUntil', 'missingSince', 'toDay'].map(
      (name) => [name, days],
    ),
  ),
  taken: ['2026-05-16T12:00:00.000', '1994-07-03T09:30:00.000'],
  sha: shas,
  sha256: shas,
  thumb: ['3OcRJYB4d3h/iIeHeEh3eIhw+j2w', ''],
  zone: ['Europe/Stockholm', 'UTC'],
  ...Object.fromEntries(['lastSeen', 'still', 'closedAt', 'latest', 'lastAt', 'looked'].map((name) => [name, moments])),
  ...Object.fromEntries(['full'].map((name) => [name, days])),
  otherTaken: ['2026-05-16T12:00:00.000'],
  edtf: ['1988-22', '1994-07'],
  about: ['1988-22'],
  country: ['SE', 'PT'],
  lat: [57.64, -33.9],
  lon: [18.29, 151.2],
  share: [0, 0.4, 1],
  colour: ['#1c5a50'],
  rating: [0, 3, 5],
  width: [40, 4000],
  height: [30, 3000],
  mime: ['image/jpeg'],
};

/** Answers that hang together, which chance does not make. */
const OWN: Partial<Record<string, (body: { ids?: number[] }) => unknown>> = {
  skeleton: () => ({
    ids: [7, 1, 1, 1],
    shapes: [150, 75, 100, 180],
    days: [
      ['2026-05-16', 3],
      [null, 1],
    ],
    events: [
      [7, 2],
      [0, 2],
    ],
    count: 4,
  }),
  positions: () => ({ ids: [7, 1], lats: [5764000, 10], lons: [1829000, 10] }),
};

/** What of an answer hangs together although the contract does not say so. */
const MEND: Partial<Record<string, (answer: never) => void>> = {
  bookLayout: ({ pages: all }: { pages: { number: number }[] }) => all.forEach((one, i) => (one.number = i)),
  facets: (answer: { sizes: { of: number }[] }) => answer.sizes.forEach((one, i) => (one.of = i % 3)),
  me: (answer: { library: object }) => (answer.library ??= { id: 1, slug: 'home', name: 'Home' }),
  run: (answer: { shots: unknown[]; best: number }) => {
    // A run is of two at least.
    if (answer.shots.length === 0) throw new Again();
  },
  shares: ({ shares }: { shares: Record<'until' | 'closedAt' | 'lastOpened', string | null>[] }) =>
    shares.forEach((share) => {
      share.until ??= '2026-12-24';
      share.closedAt ??= moments[0]!;
      share.lastOpened = moments[1]!;
    }),
};
/** An answer that no server gives. */
class Again extends Error {}

class Falls extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state = { error: null as Error | null };
  static getDerivedStateFromError(error: Error) {
    return { error };
  }
  override render() {
    return this.state.error ? <p data-testid="fallen">{String(this.state.error.stack)}</p> : this.props.children;
  }
}

const routes = (Object.entries(api) as [string, Endpoint][]).map(([name, route]) => ({
  name,
  route,
  at: new RegExp(`^${route.path.replace(/:\w+/g, '[^/]+')}$`),
}));

describe('every page', () => {
  const part: Record<string, unknown> = {};
  beforeAll(() => {
    globalThis.ResizeObserver = class {
      observe() {}
      unobserve() {}
      disconnect() {}
    };
    globalThis.Worker = class {
      postMessage() {}
      terminate() {}
      addEventListener() {}
    } as never;
    Element.prototype.scrollTo = () => undefined;
    jest.spyOn(console, 'error').mockImplementation(() => undefined);
    jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  });
  beforeEach(() => {
    queries.clear();
    usePile.setState({ ids: [7, 8], has: new Set([7, 8]), choosing: false });
    useTileStore.setState({ tiles: new Map(), version: 0 });
    useAsk.setState({ question: { all: [] }, typing: null });
  });
  afterEach(cleanup);

  /** Opens a page on a server; answers with what stands on it, once nothing more is asked. */
  async function opened(name: string, server: (route: string, body: { ids?: number[] }) => unknown): Promise<string> {
    let asked = 0;
    globalThis.fetch = jest.fn(async (at: string, init: RequestInit = {}) => {
      asked++;
      const [to] = at.split('?') as [string];
      const found = routes.find((one) => one.route.method === (init.method ?? 'GET') && one.at.test(to));
      const answer = found
        ? server(found.name, init.body ? (JSON.parse(init.body as string) as object) : {})
        : undefined;
      if (answer === undefined)
        return {
          ok: false,
          status: found ? 500 : 404,
          headers: new Map(),
          json: async () => ({ type: 'about:blank', title: 'no', status: 500, code: 'unexpected', params: {} }),
        } as never;
      return { ok: true, status: 200, headers: new Map(), json: async () => answer } as never;
    }) as never;
    // eslint-disable-next-line @typescript-eslint/no-require-imports
    const { default: Page } = require(path.join(APP, name)) as { default: ComponentType };
    const { container } = render(
      <QueryClientProvider client={queries}>
        <Falls>
          <Page />
        </Falls>
      </QueryClientProvider>,
    );
    for (let i = 0, before = -1; i < 40 && (i < 4 || before !== asked); i++) {
      before = asked;
      await act(async () => {
        await new Promise((resolve) => setTimeout(resolve, 20));
      });
    }
    return container.querySelector('[data-testid="fallen"]')?.textContent ?? '';
  }

  test.each(pages)('%s', async (name) => {
    // The short form opens it as one of them.
    for (const who of LONG ? WHO : [WHO[random() < 0.7 ? 0 : 1]!])
      for (let round = 0; round < ROUNDS; round++) {
        const maker = new Maker(random, [1, 2, 7, 8, 9], { ...NAMED, part: [who] });
        const made = new Map<string, unknown>();
        const fallen = await opened(name, (route, body) => {
          const own = OWN[route];
          if (own) return own(body);
          // Asked again, a server says the same.
          const key = `${route} ${JSON.stringify(body)}`;
          for (let i = 0; i < 50 && !made.has(key); i++) {
            const answer = maker.of(api[route as keyof typeof api].answer, 'output');
            try {
              MEND[route]?.(answer as never);
              made.set(key, answer);
            } catch (error) {
              if (!(error instanceof Again)) throw error;
            }
          }
          const answer = made.get(key);
          return route === 'me'
            ? { ...(answer as object), ...part, signedIn: true, member: { id: 1, name: 'I', part: who } }
            : answer;
        });
        expect([who, JSON.stringify([...made], null, 1).slice(0, fallen ? 6000 : 0), fallen]).toEqual([who, '', '']);
        cleanup();
        queries.clear();
      }
    expect([name, await opened(name, () => undefined)]).toEqual([name, '']);
    expect(document.body.textContent).not.toMatch(/undefined|NaN|\[object/);
  });
});
