import { Redirect, Slot, usePathname } from 'expo-router';
import { useCallback, useEffect } from 'react';
import type { News } from '@gemmel/contract';
import { nameLinks } from '@/api/library';
import { useProgress } from '@/api/query';
import { NoLibrary } from '@/features/account/NoLibrary';
import { useMe } from '@/features/account/session';
import { goOnAfterReload, takeGiven } from '@/features/arrivals/sending';
import { MakingHost } from '@/features/piece/MakingHost';
import { Carried } from '@/features/pile/Carried';
import { PileDock } from '@/features/pile/PileDock';
import { redoLast, undoLast } from '@/state/acts';
import { usePile } from '@/state/pile';
import { staleTiles } from '@/state/tiles';
import { useLying, useWide } from '@/state/wide';
import { Mishap } from '@/ui/Mishap';
import { Failed, Waiting } from '@/ui/State';
import { AwayLine } from '@/features/device/AwayLine';
import { goOnHere } from '@/device/begin';
import { whenBack } from '@/device/line';
import { startWorker } from '@/device/worker';
import { Looking } from '@/features/sight/Looking';
import { BottomBar, Rail } from './Places';

/** Ctrl or ⌘ with Z takes back what was done last in this tab, step by step; with shift, or with Y, it is done again. */
function useSteppingKeys(on: boolean): void {
  useEffect(() => {
    if (!on) return;
    const pressed = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      if (!(event.ctrlKey || event.metaKey) || event.altKey || (key !== 'z' && key !== 'y')) return;
      // What is being written takes its own words back.
      if ((event.target as HTMLElement).closest('input,textarea,select')) return;
      event.preventDefault();
      void (key === 'y' || event.shiftKey ? redoLast() : undoLast());
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [on]);
}

/** The frame of everything behind the door: five places, the pile, and news from the server. */
export function House() {
  const me = useMe();
  const wide = useWide();
  const lying = useLying();
  const path = usePathname();
  const signedIn = me.data?.signedIn ?? false;
  const part = me.data?.member?.part;
  const inside = part !== undefined;
  const load = usePile((pile) => pile.load);
  useEffect(() => {
    if (!inside) return;
    load().catch(() => undefined);
    startWorker();
    const goOn = async () => {
      if (part === 'relative') return (await import('@/features/parlour/adding')).addGiven();
      await goOnAfterReload();
      await takeGiven();
    };
    goOn().catch(() => undefined);
    // What this device keeps waits until the first page stands.
    const later = setTimeout(() => void goOnHere().catch(() => undefined), 2000);
    const noMore = whenBack(async () => {
      await load();
      await goOn();
    });
    return () => {
      clearTimeout(later);
      noMore();
    };
  }, [inside, part, load]);
  const also = useCallback(
    (news: readonly News[] | null) => {
      if (!news) staleTiles();
      for (const { topic, ids } of news ?? []) if (topic === 'said' || topic === 'pictures') staleTiles(ids);
      if (!news || news.some(({ topic }) => topic === 'pile')) load().catch(() => undefined);
    },
    [load],
  );
  useProgress(inside, also);
  useSteppingKeys(inside);
  useEffect(nameLinks, []);
  if (me.error) return <Failed error={me.error} again={() => void me.refetch()} />;
  if (!me.data) return <Waiting />;
  if (!signedIn) return <Redirect href="/sign-in" />;
  if (!me.data.member) return <NoLibrary />;
  // A relative begins in the parlour; Arrivals are the keeper's.
  if (me.data.member.part === 'relative' && path === '/arrivals') return <Redirect href="/parlour" />;
  const alone =
    path.startsWith('/picture/') ||
    path.startsWith('/touch-up/') ||
    path === '/going' ||
    (lying && path === '/browse/map');
  // A card has an act of its own at the bottom.
  const dock = !alone && !path.startsWith('/card/');
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: wide ? 'row' : 'column' }}>
      {wide ? <Rail /> : null}
      <main
        style={{ flex: 1, minWidth: 0, minHeight: 0, position: 'relative', display: 'flex', flexDirection: 'column' }}
      >
        <Looking />
        <AwayLine />
        <Mishap at={path}>
          <Slot />
        </Mishap>
        {dock ? <PileDock /> : null}
      </main>
      {wide ? <Carried /> : null}
      <MakingHost />
      {wide || alone ? null : <BottomBar />}
    </div>
  );
}
