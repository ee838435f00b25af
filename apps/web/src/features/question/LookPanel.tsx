import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { create } from 'zustand';
import { useLook } from '@/state/look';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { SIZE } from '@/ui/tokens';

/** Whether the panel is open, which outlives a new question. */
export const usePanel = create<{ open: boolean; set: (open: boolean) => void }>()((set) => ({
  open: false,
  set: (open) => set({ open }),
}));

/** The size of the pictures in the grid. */
export function SizeSlider() {
  const wide = useWide();
  const { rowHeight, setRowHeight } = useLook();
  return (
    <input
      type="range"
      aria-label="Size of the pictures"
      min={60}
      max={wide ? 380 : 260}
      value={rowHeight || (wide ? 165 : 112)}
      onChange={(event) => setRowHeight(Number(event.target.value))}
      style={{ width: wide ? 130 : '100%', minHeight: SIZE.touch, accentColor: 'rgb(var(--juniper))' }}
    />
  );
}

/** How the pictures of When are shown: their size, which come first, with headings or as one list; and the folders. */
export function LookPanel() {
  const wide = useWide();
  const router = useRouter();
  const { oldestFirst, flat, setOldestFirst, setFlat } = useLook();
  return (
    <View
      role="group"
      aria-label="How pictures are shown"
      className="mb-2 gap-1 rounded-act border border-line bg-card px-3.5 py-1.5"
    >
      {wide ? null : <SizeSlider />}
      <View className="flex-row flex-wrap items-center gap-x-2">
        <Chip label="Newest first" on={!oldestFirst} onPress={() => setOldestFirst(false)} />
        <Chip label="Oldest first" on={oldestFirst} onPress={() => setOldestFirst(true)} />
      </View>
      <View className="flex-row flex-wrap items-center gap-x-2">
        <Chip label="By events and days" on={!flat} onPress={() => setFlat(false)} />
        <Chip label="One flat list" on={flat} onPress={() => setFlat(true)} />
      </View>
      <View className="flex-row items-center gap-2">
        <Words kind="small" className="shrink">
          Or as their folders came:
        </Words>
        <Button
          label="Folders"
          weight="quiet"
          icon="folder"
          className="min-h-touch px-2"
          onPress={() => router.push('/browse/folders')}
        />
      </View>
    </View>
  );
}
