import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { originalOf } from '@/api/client';
import { useMe } from '@/features/account/session';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { Button } from '@/ui/Button';
import type { IconName } from '@/ui/Icon';
import { count } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { saveFile, saveZip } from './zip';
import { ActSheet, SHEET_ACTS, type SheetAct } from './acts';
import { change } from '@/features/said/acts';

const WORDS: Record<SheetAct, string> = {
  stars: 'Rate',
  tags: 'Tag',
  album: 'Put into an album',
  dates: 'Mend the date',
  place: 'Give a place',
  event: 'Put into an event',
  share: 'Share',
};

/** Everything that can be done with a picture, or with several, in one list. Opened by a right click, three dots, or holding. */
export function ActMenu({
  ids,
  onOpen,
  onClose,
}: {
  ids: readonly number[];
  onOpen?: ((id: number) => void) | undefined;
  onClose: () => void;
}) {
  const router = useRouter();
  const part = useMe().data?.member?.part;
  const { has, add, drop } = usePile();
  const [sheet, setSheet] = useState<SheetAct | null>(null);
  const [only] = ids;
  const single = ids.length === 1 && only !== undefined;
  const tile = useTiles(ids.slice(0, 1)).get(only ?? 0);
  const onPile = ids.every((id) => has.has(id));
  if (sheet) return <ActSheet act={sheet} ids={ids} onClose={onClose} />;
  const line = (label: string, icon: IconName, act: () => void) => (
    <Button
      key={label}
      label={label}
      icon={icon}
      weight="quiet"
      className="min-h-touch justify-start px-2"
      onPress={() => {
        onClose();
        act();
      }}
    />
  );
  const helps = part !== 'relative';
  return (
    <Sheet title={single ? (tile?.label ?? 'This picture') : count(ids.length, 'picture')} onClose={onClose}>
      <View>
        {single && onOpen ? line('Open', 'look', () => onOpen(only)) : null}
        {onPile ? line('Take off the pile', 'pile', () => drop(ids)) : line('Put on the pile', 'pile', () => add(ids))}
        {helps && single
          ? line(
              tile?.favourite ? 'Take the heart back' : 'Give it a heart',
              'heart',
              () =>
                void change(
                  ids,
                  { favourite: !tile?.favourite },
                  tile?.favourite ? 'The heart is taken back' : 'With a heart',
                ),
            )
          : null}
        {helps
          ? SHEET_ACTS.filter(([name]) => name !== 'share' || part === 'keeper').map(([name, , icon]) => (
              <Button
                key={name}
                label={WORDS[name]}
                icon={icon}
                weight="quiet"
                className="min-h-touch justify-start px-2"
                onPress={() => setSheet(name)}
              />
            ))
          : null}
        {single
          ? line('Save the original', 'download', () => saveFile(`${originalOf(only)}?save`))
          : line('Save as ZIP', 'download', () => void saveZip({ ids: [...ids] }))}
        {helps && single
          ? line('What was done to it', 'clock', () => router.push({ pathname: '/done', params: { picture: only } }))
          : null}
      </View>
    </Sheet>
  );
}
