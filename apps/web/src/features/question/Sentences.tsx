import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { type Condition, phrase } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { Chip, IconButton } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';
import { ConditionSheet } from './ConditionSheet';
import { DEEPEST, groupAt, isGroup, withGroup, type Group, type Join, type Way } from './draft';
import { useAllNames } from './names';

/** Where in the draft a sheet is at work: a group, and a line of it (-1 adds one). */
interface Spot {
  group: Way;
  line: number;
}

const JOINS: Record<Join, MessageDescriptor> = { all: msg`all`, any: msg`any`, none: msg`none` };
const NEXT: Record<Join, Join> = { all: 'any', any: 'none', none: 'all' };

/** A question as sentences to edit: conditions and groups of them, each with a sheet of its own. */
export function Sentences({ draft, onChange }: { draft: Group; onChange: (draft: Group) => void }) {
  const [spot, setSpot] = useState<Spot | null>(null);
  const put = (way: Way, group: Group) => onChange(withGroup(draft, way, group));
  const take = (condition: Condition) => {
    if (!spot) return;
    const group = groupAt(draft, spot.group);
    put(spot.group, {
      ...group,
      lines:
        spot.line < 0
          ? [...group.lines, condition]
          : group.lines.map((line, i) => (i === spot.line ? condition : line)),
    });
  };
  const drop = (way: Way, line: number) => {
    const group = groupAt(draft, way);
    put(way, { ...group, lines: group.lines.filter((_, i) => i !== line) });
  };
  const current = spot && spot.line >= 0 ? (groupAt(draft, spot.group).lines[spot.line] as Condition) : null;
  return (
    <>
      <GroupLines group={draft} way={[]} onSpot={setSpot} onDrop={drop} onGroup={put} />
      {spot ? <ConditionSheet condition={current} onTake={take} onClose={() => setSpot(null)} /> : null}
    </>
  );
}

interface GroupProps {
  group: Group;
  way: Way;
  onSpot: (spot: Spot) => void;
  onDrop: (way: Way, line: number) => void;
  onGroup: (way: Way, group: Group) => void;
}

/** The sentences of a group; "all", "any" and "none" follow each other by pressing. Groups stand within groups. */
function GroupLines({ group, way, onSpot, onDrop, onGroup }: GroupProps) {
  const names = useAllNames();
  const outer = way.length === 0;
  return (
    <View className={outer ? '' : 'ml-1 border-l-[5px] border-lilac pl-3'}>
      <View className="min-h-field flex-row flex-wrap items-center gap-x-2">
        <Words>{outer ? t`Every picture where` : t`and`}</Words>
        <Chip
          tone="plum"
          label={i18n._(JOINS[group.join])}
          onPress={() => onGroup(way, { ...group, join: NEXT[group.join] })}
        />
        <Words className="flex-1">{outer ? t`of these are true:` : t`of these:`}</Words>
        {outer ? null : (
          <IconButton
            name="away"
            size={17}
            label={t`Remove this group`}
            onPress={() => onDrop(way.slice(0, -1), way[way.length - 1]!)}
          />
        )}
      </View>
      {group.lines.map((line, i) =>
        isGroup(line) ? (
          <View key={i} className="border-t border-line pt-1">
            <GroupLines group={line} way={[...way, i]} onSpot={onSpot} onDrop={onDrop} onGroup={onGroup} />
          </View>
        ) : (
          <View key={i} className="min-h-field flex-row items-center gap-2 border-t border-line">
            <View className="min-w-0 flex-1 flex-row flex-wrap items-center gap-x-2">
              <Words className="text-soft">{phrase(line, names, words()).lead}</Words>
              <Chip
                tone="plum"
                label={phrase(line, names, words()).value}
                onPress={() => onSpot({ group: way, line: i })}
              />
            </View>
            <IconButton
              name="away"
              size={17}
              label={t`Remove: ${phrase(line, names, words()).lead} ${phrase(line, names, words()).value}`}
              onPress={() => onDrop(way, i)}
            />
          </View>
        ),
      )}
      {outer && group.lines.length === 0 ? (
        <Words className="border-t border-line py-3 text-soft">{t`No conditions yet, so every picture belongs.`}</Words>
      ) : null}
      <View className={`flex-row flex-wrap gap-2 ${outer ? 'pt-1.5' : ''}`}>
        <Chip icon="plus" label={t`Condition`} onPress={() => onSpot({ group: way, line: -1 })} />
        {way.length < DEEPEST ? (
          <Chip
            icon="plus"
            label={t`Group`}
            onPress={() =>
              onGroup(way, {
                ...group,
                lines: [...group.lines, { join: group.join === 'any' ? 'all' : 'any', lines: [] }],
              })
            }
          />
        ) : null}
      </View>
    </View>
  );
}
