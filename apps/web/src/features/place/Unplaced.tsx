import { plural, t } from '@lingui/core/macro';
import { narrow } from '@gemmel/core';
import { useMemo, type DragEvent } from 'react';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAsk } from '@/state/ask';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { Words } from '@/ui/Words';
import { useStrip } from '@/state/useStrip';
import { DRAGGED } from './acts';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel } from '@/words/said';

/** Pictures of the question that have no place, and the pile, to be dragged onto the map. */
export function Unplaced() {
  const question = useAsk((state) => state.question);
  const lacking = useMemo(() => narrow(question, { lacks: 'place' }), [question]);
  const { strip } = useStrip(lacking);
  const pile = usePile((state) => state.ids);
  const some = useMemo(() => Array.from(strip?.ids.subarray(0, 60) ?? []), [strip]);
  const tiles = useTiles(some);
  const carry = (ids: readonly number[]) => (event: DragEvent) => {
    event.dataTransfer.setData(DRAGGED, JSON.stringify(ids));
    event.dataTransfer.effectAllowed = 'copy';
  };
  if (!pile.length && !some.length) return null;
  return (
    <aside aria-label={t`Without a place`} style={{ width: 186, flexShrink: 0, overflowY: 'auto', paddingBottom: 110 }}>
      {pile.length ? (
        <div
          draggable
          onDragStart={carry(pile)}
          data-testid="carry-pile"
          style={{
            cursor: 'grab',
            border: '1px dashed rgb(var(--juniper))',
            borderRadius: 12,
            padding: '10px 12px',
            marginBottom: 12,
          }}
        >
          <Words kind="small" className="font-semi text-juniper">
            {plural(pile.length, { one: 'The pile: # picture', other: 'The pile: # pictures' })}
          </Words>
          <View>
            <Words kind="tiny">{t`Drag it to where it was taken.`}</Words>
          </View>
        </div>
      ) : null}
      {some.length ? (
        <>
          <Words kind="small" className="font-semi">
            {plural(strip!.ids.length, { one: '# without a place', other: '# without a place' })}
          </Words>
          <View>
            <Words kind="tiny" className="mb-2">{t`Drag one to where it was taken.`}</Words>
          </View>
          <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: SIZE.hair }}>
            {some.map((id) => {
              const tile = tiles.get(id);
              return (
                <div
                  key={id}
                  draggable
                  onDragStart={carry([id])}
                  title={tile ? tileLabel(tile) : undefined}
                  data-unplaced={id}
                  style={{
                    cursor: 'grab',
                    height: 72,
                    borderRadius: CORNER.picture,
                    background: `rgb(var(--line)) center / cover ${tile ? `url(${smallOf(tile.sha)})` : ''}`,
                  }}
                />
              );
            })}
          </div>
        </>
      ) : null}
    </aside>
  );
}
