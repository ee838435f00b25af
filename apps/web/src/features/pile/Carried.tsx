import { plural, t } from '@lingui/core/macro';
import { usePathname } from 'expo-router';
import { View } from 'react-native';
import { useCarrying } from '@/state/carrying';
import { flat, useShelved } from '@/state/shelves';
import { DoubleBar } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';

/** Pictures in the air: how many they are beside the pointer, and the albums they may be let go over, where the page shows none. */
export function Carried() {
  const carried = useCarrying((state) => state.pictures);
  const path = usePathname();
  if (!carried) return null;
  const { ids, x, y } = carried;
  return (
    <>
      {path.startsWith('/albums') ? null : <DropAlbums over={carried.over} />}
      <div
        role="status"
        style={{
          position: 'fixed',
          left: x + 14,
          top: y + 12,
          padding: '5px 14px',
          borderRadius: 17,
          background: 'rgb(var(--juniper))',
          boxShadow: '0 8px 24px rgb(0 0 0 / 0.35)',
          pointerEvents: 'none',
          zIndex: 60,
        }}
      >
        <Words kind="small" className="text-card">
          {plural(ids.length, { one: '# picture', other: '# pictures' })}
        </Words>
      </div>
    </>
  );
}

/** The albums that are filled by hand, over the rail, as long as something is carried. */
function DropAlbums({ over }: { over: number | null }) {
  const { root } = useShelved();
  const rows = root ? flat(root) : [];
  return (
    <div
      style={{
        position: 'fixed',
        left: 0,
        top: 0,
        bottom: 0,
        width: 300,
        overflowY: 'auto',
        background: 'rgb(var(--card))',
        borderRight: '1px solid rgb(var(--line))',
        padding: '20px 14px',
        zIndex: 55,
      }}
    >
      <Words kind="heading" className="mb-2 px-2">{t`Drop them on an album`}</Words>
      {rows.map((row) =>
        'shelf' in row ? (
          <View
            key={`s${row.shelf.shelf!.id}`}
            className="min-h-8 justify-center"
            style={{ paddingLeft: 8 + row.depth * 14 }}
          >
            <Words kind="small" className="font-serif" numberOfLines={1}>
              {row.shelf.shelf!.name}
            </Words>
          </View>
        ) : row.album.kind === 'plain' ? (
          <div
            key={row.album.id}
            data-drop={row.album.id}
            style={{
              display: 'flex',
              alignItems: 'center',
              gap: 10,
              minHeight: 44,
              paddingLeft: 8 + row.depth * 14,
              paddingRight: 8,
              borderRadius: 10,
              background: over === row.album.id ? 'rgb(var(--mist))' : undefined,
            }}
          >
            <DoubleBar width={15} />
            <Words className="min-w-0 flex-1" numberOfLines={1}>
              {row.album.name}
            </Words>
            <Words kind="small">{row.album.pictures}</Words>
          </div>
        ) : null,
      )}
    </div>
  );
}
