import { t } from '@lingui/core/macro';
import { fold, type Condition } from '@gemmel/core';
import { useMemo, useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Field } from '@/ui/Field';
import { Switch } from '@/ui/Switch';
import { Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

type FolderPart = Extract<Condition, { folder: unknown }>['folder'];

/** A folder, with everything below it or by itself. Folders stand in their tree. */
export function FolderValue({ before, onTake }: { before: FolderPart | null; onTake: (made: Condition) => void }) {
  const { data } = useAnswer('folders', {});
  const [typed, setTyped] = useState('');
  const [only, setOnly] = useState(before?.only ?? false);
  const rows = useMemo(() => {
    const below = new Map<number | null, NonNullable<typeof data>['folders']>();
    for (const folder of data?.folders ?? []) below.set(folder.parent, [...(below.get(folder.parent) ?? []), folder]);
    const walk = (parent: number | null, depth: number): { id: number; name: string; depth: number; n: number }[] =>
      (below.get(parent) ?? [])
        .sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }))
        .flatMap((one) => [{ id: one.id, name: one.name, depth, n: one.pictures }, ...walk(one.id, depth + 1)]);
    return walk(null, 0);
  }, [data]);
  if (!data) return <Waiting />;
  const hits = rows.filter((one) => fold(one.name).includes(fold(typed)));
  return (
    <View className="gap-2">
      {rows.length > 8 ? <Field label={t`Find`} value={typed} onChangeText={setTyped} autoCapitalize="none" /> : null}
      <Switch label={t`Only what lies right in it, nothing below`} shown on={only} onTurn={() => setOnly(!only)} />
      <View>
        {hits.slice(0, 100).map((one) => (
          <Pressable
            key={one.id}
            role="button"
            onPress={() => onTake({ folder: only ? { id: one.id, only: true } : { id: one.id } })}
            className="min-h-button flex-row items-center justify-between gap-3 border-t border-line"
            style={{ paddingLeft: typed ? 0 : Math.min(one.depth, 8) * 18 }}
          >
            <Words className="min-w-0 flex-1" numberOfLines={2}>
              {one.name}
            </Words>
            <Words kind="small">{one.n}</Words>
          </Pressable>
        ))}
      </View>
      {rows.length === 0 ? <Words className="text-soft">{t`Nothing to choose from yet.`}</Words> : null}
    </View>
  );
}
