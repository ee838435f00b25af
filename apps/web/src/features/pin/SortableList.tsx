import { t } from '@lingui/core/macro';
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { ReactNode } from 'react';
import { Icon } from '@/ui/Icon';
import { SIZE } from '@/ui/tokens';

/** A list whose rows are put in order by a grip: dragged, or moved by the arrow keys. */
export function SortableList<T extends { id: number; name: string }>({
  items,
  render,
  onMove,
}: {
  items: readonly T[];
  render: (item: T, grip: ReactNode) => ReactNode;
  onMove: (id: number, position: number) => void;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && over.id !== active.id)
          onMove(
            Number(active.id),
            items.findIndex((item) => item.id === Number(over.id)),
          );
      }}
    >
      <SortableContext items={items.map((item) => item.id)} strategy={verticalListSortingStrategy}>
        {items.map((item) => (
          <Row key={item.id} item={item} render={render} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function Row<T extends { id: number; name: string }>({
  item,
  render,
}: {
  item: T;
  render: (item: T, grip: ReactNode) => ReactNode;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: item.id,
  });
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition, opacity: isDragging ? 0.6 : 1 }}
    >
      {render(
        item,
        <button
          ref={setActivatorNodeRef}
          type="button"
          {...attributes}
          {...listeners}
          aria-label={t`Move ${item.name}`}
          style={{
            width: 32,
            height: SIZE.touch,
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
            cursor: 'grab',
            touchAction: 'none',
            background: 'none',
            border: 0,
            padding: 0,
          }}
        >
          <Icon name="grip" size={16} tone="soft" />
        </button>,
      )}
    </div>
  );
}
