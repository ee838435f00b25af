import { t } from '@lingui/core/macro';
import { Slot, usePathname } from 'expo-router';
import { useWide } from '@/state/wide';
import { ShelfTree } from './ShelfTree';

/** Albums on a wide screen have the tree of shelves at the left. */
export function AlbumsFrame() {
  const wide = useWide();
  const path = usePathname();
  const [, album] = /^\/albums\/(\d+)/.exec(path) ?? [];
  const [, shelf] = /^\/albums\/shelf\/(\d+)/.exec(path) ?? [];
  if (!wide) return <Slot />;
  return (
    <div style={{ flex: 1, minHeight: 0, display: 'flex' }}>
      <aside
        aria-label={t`Albums and shelves`}
        style={{
          width: 336,
          flexShrink: 0,
          overflowY: 'auto',
          borderRight: '1px solid rgb(var(--line))',
          paddingBottom: 90,
        }}
      >
        <ShelfTree here={album ? `album ${album}` : shelf ? `shelf ${shelf}` : null} />
      </aside>
      <div style={{ flex: 1, minWidth: 0, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
        <Slot />
      </div>
    </div>
  );
}
