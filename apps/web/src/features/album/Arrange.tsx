import { t } from '@lingui/core/macro';
import {
  closestCenter,
  DndContext,
  DragOverlay,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { rectSortingStrategy, SortableContext, sortableKeyboardCoordinates, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { Album, Tile } from '@gemmel/contract';
import { moveBefore } from '@gemmel/core';
import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { act } from '@/state/acts';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { Button } from '@/ui/Button';
import { Page } from '@/ui/State';
import { Words } from '@/ui/Words';
import { CORNER } from '@/ui/tokens';
import { tileLabel } from '@/words/said';

const box = { height: 96, borderRadius: CORNER.picture, background: 'rgb(var(--line))', overflow: 'hidden' } as const;
const Picture = ({ tile }: { tile: Tile | undefined }) =>
  tile ? (
    <img
      src={smallOf(tile.sha)}
      alt=""
      draggable={false}
      style={{ width: '100%', height: '100%', objectFit: 'contain', pointerEvents: 'none' }}
    />
  ) : null;

/** The order of an album by hand: drag a picture to its place (hold it first on a phone), or move it by the arrow keys. */
export function Arrange({ album, ids, onDone }: { album: Album; ids: readonly number[]; onDone: () => void }) {
  const [order, setOrder] = useState(ids);
  const [held, setHeld] = useState<number | null>(null);
  const tiles = useTiles(order);
  useEffect(() => usePile.getState().setChoosing(false), []);
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 220, tolerance: 8 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const keep = async (next: readonly number[]) => {
    const before = [...order];
    setOrder(next);
    const done = await act(
      () => call('orderAlbum', { params: { id: album.id }, body: { ids: [...next] } }),
      t`Order saved`,
      'albums',
    );
    if (!done) setOrder(before);
  };
  return (
    <Page title={album.name} right={<Button label={t`Done`} onPress={onDone} />}>
      <Words className="mb-4 text-soft">{t`Drag pictures into place. On a phone, press and hold first.`}</Words>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragStart={({ active }) => setHeld(Number(active.id))}
        onDragCancel={() => setHeld(null)}
        onDragEnd={({ active, over }) => {
          setHeld(null);
          if (!over || over.id === active.id) return;
          const [from, to] = [order.indexOf(Number(active.id)), order.indexOf(Number(over.id))];
          void keep(moveBefore(order, [Number(active.id)], from < to ? (order[to + 1] ?? null) : order[to]!));
        }}
      >
        <SortableContext items={[...order]} strategy={rectSortingStrategy}>
          <div
            data-testid="arrange"
            style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(100px, 1fr))', gap: 8 }}
          >
            {order.map((id, i) => (
              <Place key={id} id={id} at={i + 1} tile={tiles.get(id)} />
            ))}
          </div>
        </SortableContext>
        <DragOverlay>
          {held !== null ? (
            <View style={{ boxShadow: '0 8px 24px rgb(0 0 0 / 0.35)', borderRadius: CORNER.picture }}>
              <div style={box}>
                <Picture tile={tiles.get(held)} />
              </div>
            </View>
          ) : null}
        </DragOverlay>
      </DndContext>
    </Page>
  );
}

function Place({ id, at, tile }: { id: number; at: number; tile: Tile | undefined }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <div
      ref={setNodeRef}
      {...attributes}
      {...listeners}
      data-id={id}
      aria-label={`${at}: ${tile ? tileLabel(tile) : t`a picture`}`}
      style={{
        ...box,
        transform: CSS.Transform.toString(transform),
        transition,
        opacity: isDragging ? 0.3 : 1,
        cursor: 'grab',
        touchAction: 'manipulation',
        userSelect: 'none',
      }}
    >
      <Picture tile={tile} />
    </div>
  );
}
