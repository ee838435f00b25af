import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Sort } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { create } from 'zustand';
import { type Tells, useLook } from '@/state/look';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { SIZE } from '@/ui/tokens';

/** Whether the panel is open, which outlives a new question. */
export const usePanel = create<{ open: boolean; set: (open: boolean) => void }>()((set) => ({
  open: false,
  set: (open) => set({ open }),
}));

const SORTS: readonly [Sort, MessageDescriptor][] = [
  ['date', msg`By date`],
  ['name', msg`By name`],
  ['size', msg`By size`],
  ['stars', msg`By stars`],
  ['shape', msg`By shape`],
  ['arrival', msg`By arrival`],
  ['change', msg`By latest change`],
];
const TELLS: readonly [Tells, MessageDescriptor][] = [
  ['nothing', msg`Nothing on them`],
  ['stars', msg`Stars and hearts`],
  ['name', msg`Names on them`],
  ['date', msg`Dates on them`],
];

/** The size of the pictures in the grid. */
export function SizeSlider() {
  const wide = useWide();
  const { rowHeight, setRowHeight } = useLook();
  return (
    <input
      type="range"
      aria-label={t`Picture size`}
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
  const { oldestFirst, flat, sort, tells, setOldestFirst, setFlat, setSort, setTells } = useLook();
  return (
    <View
      role="group"
      aria-label={t`How pictures are shown`}
      className="mb-2 gap-1 rounded-act border border-line bg-card px-3.5 py-1.5"
    >
      {wide ? null : <SizeSlider />}
      <View className="flex-row flex-wrap items-center gap-x-2" role="group" aria-label={t`In which order`}>
        {SORTS.map(([value, name]) => (
          <Chip key={value} label={i18n._(name)} on={sort === value} onPress={() => setSort(value)} />
        ))}
        {sort === 'date' ? (
          <>
            <Chip label={t`Newest first`} on={!oldestFirst} onPress={() => setOldestFirst(false)} />
            <Chip label={t`Oldest first`} on={oldestFirst} onPress={() => setOldestFirst(true)} />
          </>
        ) : (
          <Chip label={t`Other way round`} on={oldestFirst} onPress={() => setOldestFirst(!oldestFirst)} />
        )}
      </View>
      {sort === 'date' ? (
        <View className="flex-row flex-wrap items-center gap-x-2">
          <Chip label={t`By events and days`} on={!flat} onPress={() => setFlat(false)} />
          <Chip label={t`One flat list`} on={flat} onPress={() => setFlat(true)} />
        </View>
      ) : null}
      <View className="flex-row flex-wrap items-center gap-x-2" role="group" aria-label={t`What stands on them`}>
        {TELLS.map(([value, name]) => (
          <Chip key={value} label={i18n._(name)} on={tells === value} onPress={() => setTells(value)} />
        ))}
      </View>
      <View className="flex-row items-center gap-2">
        <Words kind="small" className="shrink">{t`Or by the folders they came in:`}</Words>
        <Button
          label={t`Folders`}
          weight="quiet"
          icon="folder"
          className="min-h-touch px-2"
          onPress={() => router.push('/browse/folders')}
        />
      </View>
    </View>
  );
}
