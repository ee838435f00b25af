import { useEffect, useId, useRef, type ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { ScrollView, View } from 'react-native';
import { useWide } from '@/state/wide';
import { IconButton } from './Button';
import { Words } from './Words';

/** A sheet that rises from the bottom on a phone and stands in the middle of a wide screen. Escape puts it away. */
export function Sheet({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) {
  const wide = useWide();
  const id = useId();
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    const inside = () =>
      [
        ...(box.current?.querySelectorAll<HTMLElement>('input,textarea,select,button,[tabindex="0"],a[href]') ?? []),
      ].filter((e) => !e.hasAttribute('disabled'));
    (box.current?.querySelector<HTMLElement>('input,textarea,select') ?? box.current)?.focus();
    const key = (event: KeyboardEvent) => {
      if (event.key === 'Escape') {
        event.stopPropagation();
        onClose();
      }
      if (event.key !== 'Tab') return;
      const all = inside();
      const edge = event.shiftKey ? all[0] : all[all.length - 1];
      if (document.activeElement !== edge && box.current?.contains(document.activeElement)) return;
      event.preventDefault();
      (event.shiftKey ? all[all.length - 1] : all[0])?.focus();
    };
    document.addEventListener('keydown', key, true);
    return () => {
      document.removeEventListener('keydown', key, true);
      before?.focus?.();
    };
    // The sheet lives as long as it is open; a new closing act does not open it anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return createPortal(
    <div
      onMouseDown={(event) => event.target === event.currentTarget && onClose()}
      style={{
        position: 'fixed',
        inset: 0,
        zIndex: 40,
        background: 'rgb(var(--veil) / 0.45)',
        display: 'flex',
        alignItems: wide ? 'center' : 'flex-end',
        justifyContent: 'center',
      }}
    >
      <div
        ref={box}
        role="dialog"
        aria-modal="true"
        aria-labelledby={id}
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
          <IconButton name="away" label="Put away" onPress={onClose} />
        </View>
        <ScrollView contentContainerStyle={{ padding: 20, paddingTop: 8, gap: 14 }} style={{ flexShrink: 1 }}>
          {children}
        </ScrollView>
      </div>
    </div>,
    document.body,
  );
}
