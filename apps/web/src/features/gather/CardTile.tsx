import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { CardFile } from '@gemmel/contract';
import { memo, useRef, useState, type MouseEvent } from 'react';
import { glanceOf } from '@/api/client';
import { Rings } from '@/ui/Rings';
import { Words } from '@/ui/Words';
import { canTick } from './ticks';
import { TYPE } from '@/ui/tokens';
import { capital } from '@/ui/say';

/** How long a finger rests on a picture to begin a range, in ms. */
const HOLD = 480;

const SAID: Record<CardFile['state'], MessageDescriptor | null> = {
  new: null,
  here: msg`already here`,
  coming: msg`coming in`,
  binned: msg`binned`,
};

/** What stands at the foot of a picture that is a clip, or is here. */
const footOf = ({ kind, state }: CardFile): string =>
  [kind === 'video' ? t`clip` : '', SAID[state] ? i18n._(SAID[state]) : ''].filter(Boolean).join(', ');

/** A picture on a card, to be ticked: a press ticks it, holding it begins a range. */
export const CardTile = memo(function CardTile({
  source,
  file,
  on,
  begun,
  onPress,
  onHold,
}: {
  source: number;
  file: CardFile;
  on: boolean;
  begun: boolean;
  onPress: (file: CardFile, shift: boolean) => void;
  onHold: (file: CardFile) => void;
}) {
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const held = useRef(false);
  const name = file.path.split('/').pop()!;
  const can = canTick(file);
  const [seen, setSeen] = useState(true);
  const stop = () => clearTimeout(timer.current);
  return (
    <button
      type="button"
      role="checkbox"
      aria-checked={on}
      aria-disabled={!can}
      aria-label={[name, footOf(file)].filter(Boolean).join(', ')}
      onPointerDown={(event) => {
        held.current = false;
        if (!can || event.button !== 0) return;
        timer.current = setTimeout(() => {
          held.current = true;
          onHold(file);
        }, HOLD);
      }}
      onPointerUp={stop}
      onPointerCancel={stop}
      onPointerLeave={stop}
      onContextMenu={(event) => event.preventDefault()}
      onClick={(event: MouseEvent) => {
        if (!can || held.current) return;
        onPress(file, event.shiftKey);
      }}
      style={{
        position: 'relative',
        aspectRatio: '3 / 2',
        padding: 0,
        border: 'none',
        borderRadius: 6,
        overflow: 'hidden',
        background: 'rgb(var(--mist))',
        outline: on ? '3px solid rgb(var(--juniper))' : begun ? '3px dashed rgb(var(--juniper))' : undefined,
        outlineOffset: -3,
        cursor: can ? 'pointer' : 'default',
        touchAction: 'manipulation',
        userSelect: 'none',
      }}
    >
      {seen ? (
        <img
          src={glanceOf(source, file.id)}
          alt=""
          loading="lazy"
          draggable={false}
          onError={() => setSeen(false)}
          style={{
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            objectFit: 'contain',
            opacity: can ? (on ? 1 : 0.62) : 0.4,
          }}
        />
      ) : (
        <Words kind="tiny" className="absolute inset-x-1 top-1/3 text-center">
          {name}
        </Words>
      )}
      {on ? (
        <span
          style={{
            position: 'absolute',
            top: 5,
            left: 5,
            background: 'rgb(var(--card))',
            borderRadius: 9,
            padding: '2px 4px',
            display: 'flex',
          }}
        >
          <Rings size={20} />
        </span>
      ) : null}
      {file.state !== 'new' || file.kind === 'video' ? (
        <span
          style={{
            position: 'absolute',
            left: 0,
            right: 0,
            bottom: 0,
            padding: '2px 6px 3px',
            fontSize: TYPE.tiny,
            fontFamily: 'Figtree_600SemiBold',
            color: 'rgb(var(--ink))',
            background: 'rgb(var(--card) / 0.9)',
            textAlign: 'left',
          }}
        >
          {capital(footOf(file))}
        </span>
      ) : null}
    </button>
  );
});
