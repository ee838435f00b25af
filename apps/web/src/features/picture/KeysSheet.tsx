import { View } from 'react-native';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

const KEYS = [
  ['← →', 'previous and next picture; in the grid ↑ ↓ too'],
  ['space', 'look close'],
  ['0 – 5', 'stars'],
  ['H', 'heart'],
  ['P or X', 'onto the pile, and off again'],
  ['F', 'show the faces'],
  ['/', 'ask for something'],
  ['Ctrl or ⌘ and click', 'onto the pile, and off again'],
  ['shift and click', 'everything in between'],
  ['right click', 'everything that can be done with it'],
  ['Ctrl or ⌘ and Z', 'take back what was done last; with shift, do it again'],
  ['Escape', 'back'],
  ['?', 'this list'],
] as const;

/** What the keys do on a wide screen. */
export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="Keys" onClose={onClose}>
      {KEYS.map(([key, what]) => (
        <View key={key} className="flex-row gap-4 border-t border-line py-1.5">
          <Words className="w-32 font-semi">{key}</Words>
          <Words className="flex-1 text-soft">{what}</Words>
        </View>
      ))}
    </Sheet>
  );
}
