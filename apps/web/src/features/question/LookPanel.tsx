import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Sort } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { View } from 'react-native';
import { create } from 'zustand';
import { hasSort, type Headed, type Screen, type Tells, sortOf, useLook, useTiles } from '@/state/look';
import { useAsked } from '@/state/ask';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { Switch } from '@/ui/Switch';
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
  ['likeness', msg`By likeness`],
  ['match', msg`Best match`],
];
const HEADED: readonly [Headed, MessageDescriptor][] = [
  ['event', msg`Events`],
  ['day', msg`Days`],
  ['month', msg`Months`],
  ['person', msg`People`],
  ['place', msg`Places`],
  ['folder', msg`Folders`],
  ['none', msg`Nothing`],
];
const TELLS: readonly [Tells, MessageDescriptor][] = [
  ['nothing', msg`Nothing`],
  ['stars', msg`Stars and hearts`],
  ['tags', msg`Tags`],
  ['title', msg`Titles`],
  ['name', msg`File names`],
  ['date', msg`Dates`],
];

/** The size of the pictures in the grid of a screen. */
export function SizeSlider({ screen }: { screen: Screen }) {
  const wide = useWide();
  const { rowHeight } = useTiles(screen);
  const setTiles = useLook((look) => look.setTiles);
  return (
    <input
      type="range"
      aria-label={t`Picture size`}
      min={60}
      max={wide ? 380 : 260}
      value={rowHeight || (wide ? 165 : 112)}
      onChange={(event) => setTiles(screen, { rowHeight: Number(event.target.value) })}
      style={{ width: wide ? 130 : '100%', minHeight: SIZE.touch, accentColor: 'rgb(var(--juniper))' }}
    />
  );
}

/** Chips of which one is on, behind what they choose. */
function Choice<T extends string>({
  title,
  list,
  on,
  onChoose,
}: {
  title: string;
  list: readonly (readonly [T, MessageDescriptor])[];
  on: T;
  onChoose: (value: T) => void;
}) {
  return (
    <View role="group" aria-label={title}>
      <Words kind="small">{title}</Words>
      <View className="flex-row flex-wrap items-center gap-x-2">
        {list.map(([value, name]) => (
          <Chip key={value} label={i18n._(name)} on={on === value} onPress={() => onChoose(value)} />
        ))}
      </View>
    </View>
  );
}

/** How tiles of a screen are shown: their size, and what stands on them. Each screen remembers its own. */
export function TilesPanel({ screen }: { screen: Screen }) {
  const wide = useWide();
  const { tells } = useTiles(screen);
  const setTiles = useLook((look) => look.setTiles);
  return (
    <>
      {wide && screen === 'browse' ? null : <SizeSlider screen={screen} />}
      <Choice
        title={t`What stands on them`}
        list={TELLS}
        on={tells}
        onChoose={(next) => setTiles(screen, { tells: next })}
      />
    </>
  );
}

/** How the pictures of When are shown: their size, their order, and what they stand under; and the folders. */
export function LookPanel() {
  const router = useRouter();
  const question = useAsked();
  const { oldestFirst, headed, sort: wanted, foldRuns, setOldestFirst, setHeaded, setSort, setFoldRuns } = useLook();
  const sort = sortOf(wanted, question);
  return (
    <Panel>
      <Choice
        title={t`In which order`}
        list={SORTS.filter(([value]) => hasSort(value, question))}
        on={sort}
        onChoose={setSort}
      />
      <View className="flex-row flex-wrap items-center gap-x-2">
        {sort === 'date' ? (
          <>
            <Chip label={t`Newest first`} on={!oldestFirst} onPress={() => setOldestFirst(false)} />
            <Chip label={t`Oldest first`} on={oldestFirst} onPress={() => setOldestFirst(true)} />
          </>
        ) : (
          <Chip label={t`Other way round`} on={oldestFirst} onPress={() => setOldestFirst(!oldestFirst)} />
        )}
      </View>
      <Choice
        title={t`Under headings of`}
        list={HEADED.filter(([value]) => sort === 'date' || !['event', 'day', 'month'].includes(value))}
        on={sort === 'date' || !['event', 'day', 'month'].includes(headed) ? headed : 'none'}
        onChoose={setHeaded}
      />
      <TilesPanel screen="browse" />
      <Switch shown on={foldRuns} label={t`Shots of one moment as one picture`} onTurn={() => setFoldRuns(!foldRuns)} />
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
    </Panel>
  );
}

/** The card that choices of how pictures are shown lie on. */
export function Panel({ children }: { children: ReactNode }) {
  return (
    <View
      role="group"
      aria-label={t`How pictures are shown`}
      className="mb-2 gap-1 rounded-act border border-line bg-card px-3.5 py-1.5"
    >
      {children}
    </View>
  );
}
