import { t } from '@lingui/core/macro';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { View } from 'react-native';
import { drawFace } from '@/features/person/acts';
import { NameInput } from '@/features/person/NameInput';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { TYPE } from '@/ui/tokens';

/** Left, top, width, height, in fractions of the picture. */
type Oval = [number, number, number, number];

const LEAST = 0.01;
const held = (v: number, low = 0, high = 1) => Math.max(low, Math.min(high, v));

/**
 * Marks a face that was missed: drawn over it with a finger or the pointer, or moved there with the arrow keys (with shift
 * its size) and taken with Enter; then named.
 */
export function DrawFace({
  picture,
  box,
  onDone,
}: {
  picture: number;
  box: { width: number; height: number };
  onDone: () => void;
}) {
  const [oval, setOval] = useState<Oval | null>(null);
  const [naming, setNaming] = useState(false);
  const from = useRef<[number, number] | null>(null);
  const spot = (event: PointerEvent): [number, number] => {
    const rect = event.currentTarget.getBoundingClientRect();
    return [held((event.clientX - rect.left) / rect.width), held((event.clientY - rect.top) / rect.height)];
  };
  const keys = (event: KeyboardEvent) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (event.key === 'Escape') onDone();
    else if (event.key === 'Enter' && oval) setNaming(true);
    else if (way) {
      const square = box.width / box.height;
      const [x, y, w, h] = oval ?? [0.45, 0.5 - 0.06 * square, 0.1, 0.12 * square];
      const [dx, dy] = [0.01 * way[0]!, 0.01 * way[1]!];
      setOval(
        event.shiftKey
          ? [x, y, held(w + dx, LEAST, 1 - x), held(h + dy, LEAST, 1 - y)]
          : [held(x + dx, 0, 1 - w), held(y + dy, 0, 1 - h), w, h],
      );
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const name = (is: Parameters<typeof drawFace>[2]) => {
    onDone();
    if (oval) void drawFace(picture, oval, is);
  };
  return (
    <>
      <div
        role="application"
        aria-label={t`Draw around the missed face. Or move the oval with the arrow keys, resize it with Shift, and confirm with Enter`}
        tabIndex={0}
        ref={(element) => element?.focus()}
        data-testid="draw-face"
        onKeyDown={keys}
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          from.current = spot(event);
        }}
        onPointerMove={(event) => {
          event.stopPropagation();
          if (!from.current) return;
          const [x, y] = spot(event);
          const [a, b] = from.current;
          setOval([Math.min(a, x), Math.min(b, y), Math.abs(x - a), Math.abs(y - b)]);
        }}
        onPointerUp={(event) => {
          event.stopPropagation();
          from.current = null;
          if (oval && oval[2] >= LEAST && oval[3] >= LEAST) setNaming(true);
          else setOval(null);
        }}
        style={{
          position: 'absolute',
          inset: 0,
          cursor: 'crosshair',
          touchAction: 'none',
          outline: '2px dashed #fffbf3',
          outlineOffset: -2,
          background: 'rgb(11 16 15 / 0.25)',
        }}
      >
        {oval ? (
          <div
            style={{
              position: 'absolute',
              left: `${100 * oval[0]}%`,
              top: `${100 * oval[1]}%`,
              width: `${100 * oval[2]}%`,
              height: `${100 * oval[3]}%`,
              borderRadius: '50%',
              border: '2px solid #fffbf3',
              boxShadow: '0 0 0 1.5px rgb(11 16 15 / 0.55)',
            }}
          />
        ) : (
          <span
            style={{
              position: 'absolute',
              left: 0,
              right: 0,
              bottom: 10,
              textAlign: 'center',
              color: '#fffbf3',
              fontFamily: 'Figtree_500Medium',
              fontSize: TYPE.small,
              textShadow: '0 0 4px #000',
            }}
          >{t`Draw around the face, from forehead to chin`}</span>
        )}
      </div>
      {naming ? (
        <Sheet title={t`Whose face?`} onClose={onDone}>
          <NameInput label={t`Name`} onName={name} />
          <Words kind="small">{t`A face you draw helps recognise others, if it’s clear enough.`}</Words>
          <View className="flex-row gap-2.5">
            <Button weight="second" className="flex-1" label={t`Mark without a name`} onPress={() => name(null)} />
            <Button weight="quiet" label={t`Draw again`} onPress={() => (setNaming(false), setOval(null))} />
          </View>
        </Sheet>
      ) : null}
    </>
  );
}
