import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { Link, usePathname, useRouter } from 'expo-router';
import { useEffect } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { badge } from '@/device/install';
import { useMe } from '@/features/account/session';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { Icon, type IconName } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { sayBytes, sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import { Pins } from '../pin/Pins';
import { READY_MADE } from '../question/readyMade';
import { SIZE } from '@/ui/tokens';

interface HousePlace {
  href: '/arrivals' | '/browse' | '/pile' | '/albums' | '/sharing' | '/parlour' | '/household';
  name: MessageDescriptor;
  icon: IconName;
  also: string[];
}

const PLACES: HousePlace[] = [
  {
    href: '/arrivals',
    name: msg`Arrivals`,
    icon: 'inbox',
    also: [
      '/introductions',
      '/household',
      '/batch',
      '/card',
      '/devices',
      '/sitting',
      '/done',
      '/bin',
      '/runs',
      '/news',
      '/safekeeping',
      '/libraries',
      '/storage',
      '/device',
    ],
  },
  { href: '/browse', name: msg`Browse`, icon: 'browse', also: ['/person', '/picture'] },
  { href: '/pile', name: msg`Pile`, icon: 'pile', also: [] },
  { href: '/albums', name: msg`Albums`, icon: 'album', also: [] },
  { href: '/sharing', name: msg`Sharing`, icon: 'send', also: [] },
];

/** The places of a relative: nothing of the keeper's tools is among them. */
const FOR_RELATIVES: HousePlace[] = [
  { href: '/parlour', name: msg`Parlour`, icon: 'heart', also: [] },
  { href: '/browse', name: msg`Browse`, icon: 'browse', also: ['/person', '/picture'] },
  { href: '/albums', name: msg`Albums`, icon: 'album', also: [] },
  { href: '/pile', name: msg`Pile`, icon: 'pile', also: [] },
  { href: '/household', name: msg`You`, icon: 'circle', also: ['/made-of', '/news', '/device'] },
];

/** The places somebody has. */
const usePlaces = (): HousePlace[] => (useMe().data?.member?.part === 'relative' ? FOR_RELATIVES : PLACES);

/** What waits or is in hand at a place: a number to show beside its name. */
function useCounts() {
  const library = useAnswer('library', {}).data;
  const pile = usePile((p) => p.ids.length);
  const waiting = library ? library.batchesWaiting + library.unnamedEvents + library.introductions + library.cards : 0;
  useEffect(() => badge(library?.arriving || waiting), [library, waiting]);
  return {
    library,
    '/arrivals': library?.arriving || waiting,
    '/browse': 0,
    '/pile': pile,
    '/albums': 0,
    '/sharing': library?.openShares ?? 0,
    '/parlour': 0,
    '/household': 0,
  };
}

const here = (path: string, place: HousePlace) =>
  [place.href, ...place.also].some((start) => path === start || path.startsWith(`${start}/`));

/** The five places under the thumb. */
export function BottomBar() {
  const path = usePathname();
  const counts = useCounts();
  const places = usePlaces();
  return (
    <nav
      aria-label={t`Places`}
      style={{
        display: 'flex',
        background: 'rgb(var(--card))',
        borderTop: '1px solid rgb(var(--line))',
        paddingBottom: 'env(safe-area-inset-bottom)',
      }}
    >
      {places.map((place) => {
        const on = here(path, place);
        const n = place.href === '/sharing' ? 0 : counts[place.href];
        return (
          <Link
            key={place.href}
            href={place.href}
            aria-current={on ? 'page' : undefined}
            className="flex-1"
            style={{
              display: 'flex',
              flexDirection: 'column',
              alignItems: 'center',
              gap: SIZE.hair,
              paddingTop: 10,
              paddingBottom: 12,
              minWidth: 0,
            }}
          >
            <View>
              <Icon name={place.icon} size={23} tone={on ? 'juniper' : 'soft'} />
              {n ? (
                <View
                  className={`absolute -top-1.5 left-4 min-w-5 items-center rounded-full px-1.5 ${place.href === '/pile' ? 'bg-juniper' : 'bg-marigold'}`}
                >
                  <Words kind="tiny" className="font-bold text-card">
                    {n > 999 ? '999+' : n}
                  </Words>
                </View>
              ) : null}
            </View>
            <Words kind="tiny" className={on ? 'font-bold text-juniper' : ''} numberOfLines={1}>
              {i18n._(place.name)}
            </Words>
          </Link>
        );
      })}
    </nav>
  );
}

/** The questions kept at hand, in the rail. They are put in order and renamed on Arrivals and behind their page's dots. */
function RailPins() {
  const pins = useAnswer('pins', {}).data?.pins ?? [];
  if (pins.length === 0) return null;
  return (
    <View className="mt-6 px-3">
      <Words kind="small" className="mb-1">{t`At hand`}</Words>
      <Pins heading={false} />
    </View>
  );
}

/** The places at the left of a wide screen, ready-made questions, and the library's state. */
export function Rail() {
  const path = usePathname();
  const router = useRouter();
  const counts = useCounts();
  const set = useAsk((ask) => ask.set);
  const may = useMe().data?.member?.part !== 'relative';
  const keeper = useMe().data?.member?.part === 'keeper';
  const library = counts.library;
  const places = usePlaces();
  return (
    <nav
      aria-label={t`Places`}
      style={{
        width: 196,
        flexShrink: 0,
        background: 'rgb(var(--card))',
        borderRight: '1px solid rgb(var(--line))',
        display: 'flex',
        flexDirection: 'column',
        padding: '20px 14px',
        overflowY: 'auto',
      }}
    >
      <View className="mb-7 flex-row items-center gap-2.5 px-2">
        <Rings size={34} />
        <Words className="font-serif text-head">Gemmel</Words>
      </View>
      <View className="gap-1">
        {places.map((place) => {
          // What was done has a line of its own here.
          const on = path !== '/done' && path !== '/safekeeping' && here(path, place);
          const n = counts[place.href];
          return (
            <Link
              key={place.href}
              href={place.href}
              aria-current={on ? 'page' : undefined}
              className={`rounded-small ${on ? 'bg-mist' : ''}`}
              style={{
                display: 'flex',
                alignItems: 'center',
                gap: 13,
                paddingVertical: 10,
                paddingHorizontal: 12,
                minHeight: SIZE.touch,
              }}
            >
              <Icon name={place.icon} size={19} tone={on ? 'juniper' : 'ink'} />
              <Words className={`flex-1 ${on ? 'font-semi text-juniper' : ''}`}>{i18n._(place.name)}</Words>
              {n ? (
                <Words kind="small" className={on ? 'text-ink' : ''}>
                  {place.href === '/sharing' ? plural(n, { one: '# open', other: '# open' }) : sayNumber(n)}
                </Words>
              ) : null}
            </Link>
          );
        })}
      </View>
      <RailPins />
      {may ? <Words kind="small" className="mb-1 mt-6 px-3">{t`Ready-made questions`}</Words> : null}
      {(may ? READY_MADE : []).map(({ name, question }) => (
        <button
          key={name.id}
          onClick={() => {
            set(question);
            router.push('/browse');
          }}
          style={{
            all: 'unset',
            cursor: 'pointer',
            padding: '6px 12px',
            minHeight: 24,
            flexShrink: 0,
            borderRadius: 8,
          }}
          className="focus-visible:outline"
        >
          <Words className="text-small">{i18n._(name)}</Words>
        </button>
      ))}
      <View className="mt-auto gap-0.5 px-3 pt-6">
        {keeper ? (
          <Link href="/safekeeping" aria-current={path === '/safekeeping' ? 'page' : undefined} className="mb-3">
            <Words
              className={`text-small ${path === '/safekeeping' ? 'font-semi text-juniper' : ''}`}
            >{t`Safekeeping`}</Words>
          </Link>
        ) : null}
        {may ? (
          <Link href="/done" aria-current={path === '/done' ? 'page' : undefined} className="mb-3">
            <Words
              className={`text-small ${path === '/done' ? 'font-semi text-juniper' : ''}`}
            >{t`What was done`}</Words>
          </Link>
        ) : null}
        {library ? (
          <Link
            href="/household"
            aria-label={t`${library.name}: household and settings`}
            style={{ display: 'flex', flexDirection: 'column' }}
          >
            <Words kind="tiny" className="font-semi">
              {library.name}
            </Words>
            <Words kind="tiny">{`${plural(library.pictures, { one: '# picture', other: '# pictures' })} · ${sayBytes(library.bytes)}`}</Words>
            <Words kind="tiny" className="font-semi text-juniper">
              {library.arriving
                ? t`${sayNumber(library.arriving)} coming in`
                : library.safe
                  ? t`Safe in two places`
                  : t`All stored`}
            </Words>
          </Link>
        ) : null}
      </View>
    </nav>
  );
}
