import { Redirect, Slot, usePathname } from 'expo-router';
import { useCallback, useEffect } from 'react';
import { useProgress, type Topic } from '@/api/query';
import { useMe } from '@/features/account/session';
import { goOnAfterReload } from '@/features/arrivals/sending';
import { PileDock } from '@/features/pile/PileDock';
import { usePile } from '@/state/pile';
import { staleTiles } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { Failed, Waiting } from '@/ui/State';
import { BottomBar, Rail } from './Places';

/** The frame of everything behind the door: five places, the pile, and news from the server. */
export function House() {
  const me = useMe();
  const wide = useWide();
  const path = usePathname();
  const signedIn = me.data?.signedIn ?? false;
  const load = usePile((pile) => pile.load);
  useEffect(() => {
    if (!signedIn) return;
    load().catch(() => undefined);
    goOnAfterReload().catch(() => undefined);
  }, [signedIn, load]);
  const also = useCallback((topics: Topic[]) => {
    if (topics.includes('pictures')) staleTiles();
  }, []);
  useProgress(signedIn, also);
  if (me.error) return <Failed error={me.error} again={() => void me.refetch()} />;
  if (!me.data) return <Waiting />;
  if (!signedIn) return <Redirect href="/sign-in" />;
  const alone = path.startsWith('/picture/');
  // A card has an act of its own at the bottom.
  const dock = !alone && !path.startsWith('/card/');
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: wide ? 'row' : 'column' }}>
      {wide ? <Rail /> : null}
      <main
        style={{ flex: 1, minWidth: 0, minHeight: 0, position: 'relative', display: 'flex', flexDirection: 'column' }}
      >
        <Slot />
        {dock ? <PileDock /> : null}
      </main>
      {wide || alone ? null : <BottomBar />}
    </div>
  );
}
