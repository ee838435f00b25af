import { t } from '@lingui/core/macro';
import { useId, useLayoutEffect, useRef, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { ScrollView, View } from 'react-native';
import { noteSheet } from '@/state/sheets';
import { useWide } from '@/state/wide';
import { IconButton } from './Button';
import { Words } from './Words';

/** A sheet that rises from the bottom on a phone and stands in the middle of a wide screen. Escape puts it away. */
export function Sheet({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) {
  const wide = useWide();
  const id = useId();
  const sheet = useRef<HTMLDialogElement>(null);
  const box = useRef<HTMLDivElement>(null);
  // Closed while it still stands on the page, so that the browser, which keeps the focus inside, can give it back.
  useLayoutEffect(() => {
    const dialog = sheet.current;
    if (!dialog) return;
    dialog.showModal();
    (box.current?.querySelector<HTMLElement>('input,textarea,select') ?? box.current)?.focus();
    const away = noteSheet(dialog);
    return () => {
      away();
      dialog.close();
    };
  }, []);
  return createPortal(
    // A press beside the sheet puts it away; keys have Escape for that.
    <dialog
      ref={sheet}
      aria-labelledby={id}
      className="sheet"
      onMouseDown={(event) => event.target === event.currentTarget && onClose()}
      onCancel={(event) => {
        event.preventDefault();
        onClose();
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        event.stopPropagation();
        onClose();
      }}
      style={{ alignItems: wide ? 'center' : 'flex-end' }}
    >
      <div
        ref={box}
        tabIndex={-1}
        className="rise"
        style={{
          outline: 'none',
          width: '100%',
          maxWidth: wide ? 480 : undefined,
          maxHeight: '88%',
          display: 'flex',
          flexDirection: 'column',
          background: 'rgb(var(--paper))',
          borderRadius: wide ? 18 : '18px 18px 0 0',
          border: '1px solid rgb(var(--line))',
          overflow: 'hidden',
        }}
      >
        <View className="flex-row items-center justify-between pl-5 pr-2 pt-3">
          <Words kind="heading" nativeID={id} className="flex-1">
            {title}
          </Words>
          <IconButton name="away" label={t`Close`} onPress={onClose} />
        </View>
        <ScrollView contentContainerStyle={{ padding: 20, paddingTop: 8, gap: 14 }} style={{ flexShrink: 1 }}>
          {children}
        </ScrollView>
      </div>
    </dialog>,
    document.body,
  );
}
