import { readdirSync } from 'node:fs';
import path from 'node:path';
import { api, type Endpoint } from '@gemmel/contract';
import { i18n } from '@lingui/core';
import { QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render } from '@testing-library/react';
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
 * Every page is opened on any answers the contract allows, pressed anywhere, and told that everything has changed meanwhile; and it is
 * opened on a server that says no to everything. None of them falls.
 */
const random = chances(1_130);
const ROUNDS = times(1, 4);
const WHO = ['keeper', 'relative'] as const;
const PRESSES = times(1, 6);
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
  n: [0, 1, 3],
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
  doubles: ({ groups }: { groups: unknown[][] }) => {
    if (groups.some((some) => some.length < 2)) throw new Again();
  },
  me: (answer: { library: object }) => (answer.library ??= { id: 1, slug: 'home', name: 'Home' }),
  run: (answer: { shots: unknown[]; best: number }) => {
    // A run is of two at least.
    if (answer.shots.length === 0) throw new Again();
  },
  shares: ({
    shares,
  }: {
    shares: (Record<'until' | 'closedAt' | 'lastOpened', string | null> & {
      guests: { lastOpened: string | null }[];
    })[];
  }) =>
    shares.forEach((share) => {
      share.until ??= '2026-12-24';
      share.closedAt ??= moments[0]!;
      share.lastOpened = moments[1]!;
      for (const guest of share.guests) guest.lastOpened = moments[1]!;
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
    // This document plays and decodes nothing.
    HTMLMediaElement.prototype.play = () => Promise.resolve();
    HTMLMediaElement.prototype.pause = () => undefined;
    HTMLImageElement.prototype.decode = () => Promise.resolve();
    // The contract says of many texts only that they are texts: what is no day is passed over here.
    const date = i18n.date.bind(i18n);
    jest.spyOn(i18n, 'date').mockImplementation((...given) => {
      try {
        return date(...given);
      } catch {
        return 'some day';
      }
    });
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

  /** What went wrong outside of drawing: in what a press or an answer sets off. */
  const wrong: string[] = [];
  const note = (event: ErrorEvent) =>
    void wrong.push(String((event.error as Error | undefined)?.stack ?? event.message));
  const noteLate = (reason: unknown) => void wrong.push(String((reason as Error | undefined)?.stack ?? reason));
  beforeAll(() => {
    window.addEventListener('error', note);
    process.on('unhandledRejection', noteLate);
  });
  afterAll(() => {
    window.removeEventListener('error', note);
    process.off('unhandledRejection', noteLate);
  });

  let asked = 0;
  /** Has every request answered by a server, as the contract's routes are; undefined is a no. */
  function serve(server: (route: string, body: { ids?: number[] }) => unknown): void {
    globalThis.fetch = jest.fn(async (at: string, init: RequestInit = {}) => {
      asked++;
      const [to] = at.split('?') as [string];
      const found = routes.find((one) => one.route.method === (init.method ?? 'GET') && one.at.test(to));
      const answer = found
        ? server(found.name, typeof init.body === 'string' ? (JSON.parse(init.body) as object) : {})
        : undefined;
      const no = { type: 'about:blank', title: 'no', status: 500, code: 'unexpected', params: {} };
      return {
        ok: answer !== undefined,
        status: answer !== undefined ? 200 : found ? 500 : 404,
        headers: new Map(),
        json: async () => answer ?? no,
        clone: () => ({ blob: async () => ({ size: 1 }) }),
      } as never;
    }) as never;
  }
  /** Until nothing more is asked. */
  async function settled(): Promise<void> {
    for (let i = 0, before = -1; i < 40 && (i < 3 || before !== asked); i++) {
      before = asked;
      await act(async () => {
        await new Promise((resolve) => setTimeout(resolve, 15));
      });
    }
  }
  function open(name: string): HTMLElement {
    // eslint-disable-next-line @typescript-eslint/no-require-imports
    const { default: Page } = require(path.join(APP, name)) as { default: ComponentType };
    const { container } = render(
      <QueryClientProvider client={queries}>
        <Falls>
          <Page />
        </Falls>
      </QueryClientProvider>,
    );
    return container;
  }
  /** What has fallen, if anything has. */
  const fallen = (): string =>
    [...[...document.querySelectorAll('[data-testid="fallen"]')].map((one) => one.textContent), ...wrong].join('\n');

  /** A server that gives any answers, the same ones to the same questions. */
  function anyServer(who: (typeof WHO)[number]) {
    const maker = new Maker(random, [1, 2, 7, 8, 9], { ...NAMED, part: [who] });
    const made = new Map<string, unknown>();
    serve((route, body) => {
      const own = OWN[route];
      if (own) return own(body);
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
        ? { ...(answer as object), signedIn: true, member: { id: 1, name: 'I', part: who } }
        : answer;
    });
    return made;
  }

  /** Presses anything that can be pressed, or writes into it. */
  function touch(): string {
    const all = [
      ...document.querySelectorAll<HTMLElement>(
        'button,[role=button],[role=switch],[role=tab],a,input,textarea,select',
      ),
    ];
    const one = all[Math.floor(random() * all.length)];
    if (!one) return '';
    if (one instanceof HTMLInputElement && one.type === 'file') return '';
    if (one instanceof HTMLInputElement || one instanceof HTMLTextAreaElement) {
      const boxed = one.type === 'checkbox' || one.type === 'radio';
      if (boxed) fireEvent.click(one);
      else
        fireEvent.change(one, { target: { value: one.type === 'range' ? '1' : random() < 0.5 ? '7' : 'Åsa & Öberg' } });
    } else fireEvent.click(one, { detail: 1 });
    return `${one.tagName} ${one.getAttribute('aria-label') ?? one.textContent ?? ''}`.slice(0, 60);
  }

  test.each(pages)('%s', async (name) => {
    // The short form opens it as one of them.
    for (const who of LONG ? WHO : [WHO[random() < 0.7 ? 0 : 1]!])
      for (let round = 0; round < ROUNDS; round++) {
        wrong.length = 0;
        const made = anyServer(who);
        open(name);
        await settled();
        const did: string[] = [];
        const right = () =>
          expect([who, did, JSON.stringify([...made]).slice(0, fallen() ? 4000 : 0), fallen()]).toEqual([
            who,
            did,
            '',
            '',
          ]);
        right();
        for (let n = 0; n < PRESSES; n++) {
          did.push(touch());
          await settled();
          right();
        }
        // Somebody else has changed everything meanwhile.
        anyServer(who);
        await act(async () => void (await queries.invalidateQueries()));
        await settled();
        did.push('everything changed');
        right();
        cleanup();
        queries.clear();
      }
    serve(() => undefined);
    open(name);
    await settled();
    expect([name, fallen()]).toEqual([name, '']);
    expect(document.body.textContent).not.toMatch(/undefined|NaN|\[object/);
  });
});
