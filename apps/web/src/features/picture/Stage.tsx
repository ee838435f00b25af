import { t } from '@lingui/core/macro';
import type { ReactNode } from 'react';
import { IconButton } from '@/ui/Button';

/** Bright drawings on any picture keep a soft dark edge. */
const EDGE = { filter: 'drop-shadow(0 0 2px rgb(0 0 0 / 0.7))' };

/** What lies over a large picture at its top: acts at the left and at the right. */
export function StageTop({ children }: { children: ReactNode }) {
  return (
    <div
      style={{
        position: 'absolute',
        left: 4,
        right: 4,
        top: 4,
        display: 'flex',
        justifyContent: 'space-between',
        alignItems: 'center',
        ...EDGE,
      }}
    >
      {children}
    </div>
  );
}

/** The arrows at the sides of a large picture; at the ends of the list there is none. */
export function StageSides({ before, next }: { before?: (() => void) | undefined; next?: (() => void) | undefined }) {
  return (
    <>
      {before ? (
        <div style={{ position: 'absolute', left: 2, top: 'calc(50% - 22px)', ...EDGE }}>
          <IconButton name="left" tone="bright" size={27} label={t`Previous picture`} onPress={before} />
        </div>
      ) : null}
      {next ? (
        <div style={{ position: 'absolute', right: 2, top: 'calc(50% - 22px)', ...EDGE }}>
          <IconButton name="right" tone="bright" size={27} label={t`Next picture`} onPress={next} />
        </div>
      ) : null}
    </>
  );
}
