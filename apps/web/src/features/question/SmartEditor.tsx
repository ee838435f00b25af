import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { type Condition, normalise, phrase, type Question } from '@gemmel/core';
import { useRouter } from 'expo-router';
import type { BestLimit } from '@gemmel/contract';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useStrip } from '@/state/useStrip';
import { useAsk } from '@/state/ask';
import { act } from '@/state/acts';
import { useTiles } from '@/state/tiles';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Dial } from '@/ui/Dial';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Failed, Waiting } from '@/ui/State';
import { Switch } from '@/ui/Switch';
import { Words } from '@/ui/Words';
import { ConditionSheet } from './ConditionSheet';
import { DEEPEST, groupAt, isGroup, toDraft, toQuestion, withGroup, type Group, type Join, type Way } from './draft';
import { useAllNames } from './names';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel, words } from '@/words/said';

/** A new smart album, beginning with what Browse is asking for. */
export function SmartEditorNew({ shelf = null }: { shelf?: number | null }) {
  const question = useAsk((ask) => ask.question);
  return <Editor id={null} name="" question={question} best={null} shelf={shelf} />;
}

/** The question of a smart album that is there. */
export function SmartEditorOf({ id }: { id: number }) {
  const { data, error, refetch } = useAnswer('album', { params: { id } });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const { name, question, best, shelf } = data.album;
  return <Editor id={id} name={name} question={question ?? { all: [] }} best={best} shelf={shelf} />;
}

/** Where in the draft a sheet is at work: a group, and a line of it (-1 adds one). */
interface Spot {
  group: Way;
  line: number;
}

const JOINS: Record<Join, MessageDescriptor> = { all: msg`all`, any: msg`any`, none: msg`none` };
const NEXT: Record<Join, Join> = { all: 'any', any: 'none', none: 'all' };

/** How many of the best an album may hold, to choose from. */
const LIMITS = [12, 24, 50, 100, 200] as const;

interface Asked {
  id: number | null;
  name: string;
  question: Question;
  best: BestLimit | null;
  shelf: number | null;
}

function Editor({ id, name: before, question: asked, best: limit, shelf }: Asked) {
  const router = useRouter();
  const wide = useWide();
  const [name, setName] = useState(before);
  const [draft, setDraft] = useState<Group>(() => toDraft(asked));
  const [spot, setSpot] = useState<Spot | null>(null);
  const [best, setBest] = useState<BestLimit | null>(limit);
  const question = useMemo(() => normalise(toQuestion(draft)), [draft]);
  const { strip } = useStrip(question);
  const first = useMemo(() => Array.from(strip?.ids.subarray(0, wide ? 24 : 12) ?? []), [strip, wide]);
  const chosen = useAnswer(
    'bestOf',
    { body: { from: { question }, n: best?.n ?? 1, spread: best?.spread ?? 0.5, people: 0.5 } },
    { enabled: best !== null },
  ).data;
  const count = strip
    ? best
      ? Math.min(best.n, chosen?.pictures.length ?? best.n, strip.ids.length)
      : strip.ids.length
    : null;
  const shown = best && chosen ? chosen.pictures.slice(0, wide ? 24 : 12).map((one) => one.id) : first;
  const tiles = useTiles(shown);
  const put = (way: Way, group: Group) => setDraft((old) => withGroup(old, way, group));
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
  const keep = async () => {
    if (id === null) {
      const made = await act(
        () => call('makeAlbum', { body: { name: name.trim(), question, best, shelf } }),
        t`“${name.trim()}” now fills itself`,
        'albums',
      );
      if (made) router.replace({ pathname: '/albums/[id]', params: { id: made.id } });
    } else {
      const changed = await act(
        () => call('changeAlbum', { params: { id }, body: { name: name.trim(), question, best } }),
        t`Smart album changed`,
        'albums',
      );
      if (changed) router.replace({ pathname: '/albums/[id]', params: { id } });
    }
  };
  const current = spot && spot.line >= 0 ? (groupAt(draft, spot.group).lines[spot.line] as Condition) : null;
  return (
    <ScrollView
      style={{ flex: 1 }}
      contentContainerStyle={{
        padding: wide ? SIZE.brim : SIZE.edge,
        paddingBottom: 130,
        maxWidth: 900,
        width: '100%',
        gap: 14,
      }}
    >
      <View className="flex-row items-center justify-between">
        <Pressable
          role="button"
          onPress={() => (router.canGoBack() ? router.back() : router.navigate('/albums'))}
          className="min-h-touch justify-center"
        >
          <Words className="text-small text-soft">{`‹ ${t`Back`}`}</Words>
        </Pressable>
        <Button
          label={t`Save`}
          weight="plum"
          className="min-h-touch"
          disabled={!name.trim()}
          onPress={() => void keep()}
        />
      </View>
      <Words kind="title" className="text-title">
        {id === null ? t`A smart album` : before}
      </Words>
      <Field
        label={t`Name`}
        value={name}
        onChangeText={setName}
        placeholder={t`Both sisters by the lake`}
        maxLength={160}
      />
      <View className="rounded-card border border-line bg-card px-4 pb-3 pt-1">
        <GroupLines group={draft} way={[]} onSpot={setSpot} onDrop={drop} onGroup={put} />
      </View>
      <View className="gap-1 rounded-card border border-line bg-card px-4 py-3">
        <Switch
          label={t`No more than the best of these`}
          shown
          on={best !== null}
          onTurn={() => setBest(best ? null : { n: 50, spread: 0.6 })}
        />
        {best ? (
          <>
            <View className="flex-row flex-wrap items-center gap-x-2">
              {LIMITS.map((n) => (
                <Chip
                  key={n}
                  tone="plum"
                  label={sayNumber(n)}
                  on={best.n === n}
                  onPress={() => setBest({ ...best, n })}
                />
              ))}
            </View>
            <Dial
              label={t`How widely it is spread`}
              left={t`only the best`}
              right={t`something of everything`}
              value={best.spread}
              onChange={(spread) => setBest({ ...best, spread })}
            />
          </>
        ) : null}
      </View>
      <View>
        <Heading tone="rule">
          {count === null ? t`Counting …` : plural(count, { one: '# picture now', other: '# pictures now' })}
        </Heading>
        <Words className="mb-3 text-soft" aria-live="polite">
          {best && strip && strip.ids.length > best.n
            ? t`The best of ${sayNumber(strip.ids.length)} that fit. It follows every change by itself.`
            : t`It follows every change by itself.`}
        </Words>
        <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: SIZE.hair }}>
          {shown.map((picture) => {
            const tile = tiles.get(picture);
            return (
              <div
                key={picture}
                style={{ height: 92, background: 'rgb(var(--line))', borderRadius: CORNER.picture, overflow: 'hidden' }}
              >
                {tile ? (
                  <img
                    src={smallOf(tile.sha)}
                    alt={tileLabel(tile)}
                    style={{ width: '100%', height: '100%', objectFit: 'cover' }}
                  />
                ) : null}
              </div>
            );
          })}
        </div>
      </View>
      {spot ? <ConditionSheet condition={current} onTake={take} onClose={() => setSpot(null)} /> : null}
    </ScrollView>
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
