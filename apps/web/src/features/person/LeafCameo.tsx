import { useRef, useState } from 'react';
import { call, portraitOf } from '@/api/client';
import { queries } from '@/api/query';
import { Cameo } from '@/ui/Cameo';

/** How many of a person's faces can be leafed through, spread over all their years. */
const LEAVES = 24;

/**
 * A person's cameo that can be leafed through without opening it: moving across it, or swiping sideways over it, shows one
 * face after another, from the latest to the earliest.
 */
export function LeafCameo({
  person,
  portrait,
  width = 92,
}: {
  person: number;
  portrait: number | null;
  width?: number;
}) {
  const [leaves, setLeaves] = useState<readonly number[]>([]);
  const [at, setAt] = useState<number | null>(null);
  const asked = useRef(false);
  const swiped = useRef(false);
  const began = useRef<number | null>(null);
  const fetchLeaves = async () => {
    if (asked.current) return;
    asked.current = true;
    try {
      const { faces } = await queries.fetchQuery({
        queryKey: ['person', { params: { id: person } }],
        queryFn: () => call('person', { params: { id: person } }),
        staleTime: 60_000,
      });
      const step = Math.max(1, faces.ids.length / LEAVES);
      const some = Array.from(
        { length: Math.min(LEAVES, faces.ids.length) },
        (_, i) => faces.ids[Math.floor(i * step)]!,
      );
      setLeaves(some);
      // Fetched beforehand, so that no leaf is blank.
      for (const id of some) new Image().src = portraitOf(id);
    } catch {
      asked.current = false;
    }
  };
  const turn = (x: number, box: DOMRect) => {
    void fetchLeaves();
    const share = Math.max(0, Math.min(0.999, (x - box.left) / box.width));
    setAt(leaves.length ? Math.floor(share * leaves.length) : null);
  };
  const shown = at === null ? portrait : (leaves[at] ?? portrait);
  return (
    <span
      data-leaf={at ?? ''}
      // Moving across it is no dragging of the link it lies in.
      onDragStart={(event) => event.preventDefault()}
      style={{ position: 'relative', display: 'block', touchAction: 'pan-y' }}
      onPointerEnter={(event) => event.pointerType === 'mouse' && void fetchLeaves()}
      onPointerDown={(event) => {
        swiped.current = false;
        if (event.pointerType !== 'mouse') began.current = event.clientX;
      }}
      onPointerMove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        if (event.pointerType === 'mouse') return turn(event.clientX, box);
        if (began.current !== null && Math.abs(event.clientX - began.current) > 8) {
          swiped.current = true;
          turn(event.clientX, box);
        }
      }}
      onPointerUp={() => (began.current = null)}
      onPointerCancel={() => (began.current = null)}
      onPointerLeave={() => {
        began.current = null;
        setAt(null);
      }}
      onClickCapture={(event) => {
        // A swipe over the cameo is no wish to open the person.
        if (!swiped.current) return;
        swiped.current = false;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <Cameo face={shown} width={width} />
      {at !== null && leaves.length > 1 ? (
        <span
          aria-hidden
          style={{
            position: 'absolute',
            left: '20%',
            right: '20%',
            bottom: 6,
            height: 3,
            borderRadius: 2,
            background: 'rgb(var(--line))',
          }}
        >
          <span
            style={{
              position: 'absolute',
              left: `${(100 * at) / leaves.length}%`,
              width: `${100 / leaves.length}%`,
              minWidth: 4,
              height: 3,
              borderRadius: 2,
              background: 'rgb(var(--juniper))',
            }}
          />
        </span>
      ) : null}
    </span>
  );
}
