import { t } from '@lingui/core/macro';
import { useEffect, useId, useRef, type ReactNode } from 'react';
import { SignButton } from './Sign';

/** A panel over the page; Escape and a press beside it put it away, and the focus goes back where it was. */
export function Panel({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) {
  const ref = useRef<HTMLDialogElement>(null);
  const id = useId();
  useEffect(() => {
    const panel = ref.current;
    panel?.showModal();
    return () => panel?.close();
  }, []);
  return (
    <dialog
      ref={ref}
      className="panel"
      aria-labelledby={id}
      onCancel={(event) => {
        event.preventDefault();
        onClose();
      }}
      onMouseDown={(event) => event.target === event.currentTarget && onClose()}
      onKeyDown={(event) => event.stopPropagation()}
    >
      <div className="panel-in">
        <header>
          <h2 id={id}>{title}</h2>
          <SignButton name="away" label={t`Close`} onPress={onClose} />
        </header>
        {children}
      </div>
    </dialog>
  );
}
