import { useEffect } from 'react';
import { createPortal } from 'react-dom';
import { Pressable, View } from 'react-native';
import { trouble, useToast } from '@/state/toast';
import { useTaken } from '@/state/room';
import { useSheets } from '@/state/sheets';
import { useWide } from '@/state/wide';
import { Icon } from './Icon';
import { Words } from './Words';

/**
 * The line at the bottom that says what was done and offers to take it back. It stays longer when there is something to do, and goes
 * at once when it is touched: it may lie over what is to be touched next.
 */
export function Toast() {
  const { note, clear } = useToast();
  const wide = useWide();
  const taken = useTaken();
  const sheet = useSheets(({ open }) => open.at(-1));
  useEffect(() => {
    if (!note) return;
    const timer = setTimeout(() => clear(note.id), note.way ? 9000 : note.tone === 'trouble' ? 8000 : 4500);
    return () => clearTimeout(timer);
  }, [note, clear]);
  const go = () => {
    if (!note?.way) return;
    clear(note.id);
    note.way.act().catch(trouble);
  };
  const line = (
    <div
      aria-live="polite"
      role="status"
      style={{
        position: 'fixed',
        zIndex: 60,
        left: wide ? 220 : 12,
        right: wide ? 24 : 12,
        // Above the places of a phone, and above whatever is to be touched next.
        bottom: (wide ? 24 : 78) + taken + (taken ? 8 : 0),
        display: 'flex',
        justifyContent: 'center',
        pointerEvents: 'none',
      }}
    >
      {note ? (
        <div
          key={note.id}
          className="rise"
          style={{ pointerEvents: 'auto', maxWidth: 560 }}
          onClick={() => clear(note.id)}
        >
          <View
            className="min-h-field flex-row items-center gap-3 rounded-act px-4 py-1"
            style={{
              backgroundColor: note.tone === 'trouble' ? '#7A2E20' : '#1E2C2B',
              boxShadow: '0 6px 24px rgb(0 0 0 / 0.25)',
            }}
          >
            {note.tone === 'trouble' ? <Icon name="warn" size={18} tone="glow" /> : null}
            <Words className="shrink py-2.5 font-medium text-small text-bright">{note.text}</Words>
            {note.way ? (
              <Pressable role="button" onPress={go} className="h-11 items-center justify-center px-2">
                <Words className="font-bold text-small" style={{ color: '#F0B356' }}>
                  {note.way.label}
                </Words>
              </Pressable>
            ) : null}
          </View>
        </div>
      ) : null}
    </div>
  );
  // Whatever lies below an open sheet can be neither seen nor touched.
  return sheet ? createPortal(line, sheet) : line;
}
