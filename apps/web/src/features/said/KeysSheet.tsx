import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { View } from 'react-native';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

const KEYS = [
  ['← →', msg`previous and next picture; in the grid ↑ ↓ too`],
  [msg`Space`, msg`look closer`],
  ['0 – 5', msg`stars`],
  ['H', msg`heart`],
  ['T', msg`tags, marks and words`],
  ['E', msg`put in an event`],
  [msg`P or X`, msg`onto the pile, and off again`],
  ['F', msg`show the faces`],
  ['R', msg`show all shots of a run, or one of them`],
  ['/', msg`ask for pictures`],
  [msg`Ctrl/⌘ + click`, msg`onto the pile, and off again`],
  [msg`Shift + click`, msg`everything in between`],
  [msg`Right-click`, msg`everything you can do with it`],
  [msg`Ctrl/⌘ + Z`, msg`undo; with Shift, redo`],
  [msg`Delete`, msg`move to the bin`],
  [msg`Escape`, msg`back`],
  ['?', msg`this list`],
] as const satisfies readonly (readonly [string | MessageDescriptor, MessageDescriptor])[];

/** What the keys do on a wide screen; in the grid they go for all that are chosen when one of them has the focus. */
export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title={t`Keys`} onClose={onClose}>
      {KEYS.map(([key, what]) => (
        <View key={typeof key === 'string' ? key : key.id} className="flex-row gap-4 border-t border-line py-1.5">
          <Words className="w-32 font-semi">{typeof key === 'string' ? key : i18n._(key)}</Words>
          <Words className="flex-1 text-soft">{i18n._(what)}</Words>
        </View>
      ))}
    </Sheet>
  );
}
