import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { type Condition, normalise, phrase, type Question } from '@gemmel/core';
import { useRouter } from 'expo-router';
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
import { Field } from '@/ui/Field';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { ConditionSheet } from './ConditionSheet';
import { isGroup, toDraft, toQuestion, type Group, type Join } from './draft';
import { useNames } from './names';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel, words } from '@/words/said';

/** A new smart album, beginning with what Browse is asking for. */
export function SmartEditorNew() {
  const question = useAsk((ask) => ask.question);
  return <Editor id={null} name="" question={question} />;
}

/** The question of a smart album that is there. */
export function SmartEditorOf({ id }: { id: number }) {
  const { data, error, refetch } = useAnswer('album', { params: { id } });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  return <Editor id={id} name={data.album.name} question={data.album.question ?? { all: [] }} />;
}

/** Where in the draft a sheet is at work: a group (-1 is the outermost) and a line (-1 adds one). */
interface Spot {
  group: number;
  line: number;
}

const JOINS: Record<Join, MessageDescriptor> = { all: msg`all`, any: msg`any`, none: msg`none` };
const NEXT: Record<Join, Join> = { all: 'any', any: 'none', none: 'all' };

function Editor({ id, name: before, question: asked }: { id: number | null; name: string; question: Question }) {
  const router = useRouter();
  const wide = useWide();
  const [name, setName] = useState(before);
  const [draft, setDraft] = useState<Group>(() => toDraft(asked));
  const [spot, setSpot] = useState<Spot | null>(null);
  const question = useMemo(() => normalise(toQuestion(draft)), [draft]);
  const { strip } = useStrip(question);
  const shown = useMemo(() => Array.from(strip?.ids.subarray(0, wide ? 24 : 12) ?? []), [strip, wide]);
  const tiles = useTiles(shown);
  const groupAt = (at: number) => (at < 0 ? draft : (draft.lines[at] as Group));
  const put = (at: number, group: Group) =>
    setDraft((old) => (at < 0 ? group : { ...old, lines: old.lines.map((line, i) => (i === at ? group : line)) }));
  const take = (condition: Condition) => {
    if (!spot) return;
    const group = groupAt(spot.group);
    put(spot.group, {
      ...group,
      lines:
        spot.line < 0
          ? [...group.lines, condition]
          : group.lines.map((line, i) => (i === spot.line ? condition : line)),
    });
  };
  const drop = (at: number, line: number) =>
    put(at, { ...groupAt(at), lines: groupAt(at).lines.filter((_, i) => i !== line) });
  const keep = async () => {
    if (id === null) {
      const made = await act(
        () => call('makeAlbum', { body: { name: name.trim(), question } }),
        t`“${name.trim()}” now fills itself`,
        'albums',
      );
      if (made) router.replace({ pathname: '/albums/[id]', params: { id: made.id } });
    } else {
      const changed = await act(
        () => call('changeAlbum', { params: { id }, body: { name: name.trim(), question } }),
        t`Smart album changed`,
        'albums',
      );
      if (changed) router.replace({ pathname: '/albums/[id]', params: { id } });
    }
  };
  const current = spot && spot.line >= 0 ? (groupAt(spot.group).lines[spot.line] as Condition) : null;
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
        <GroupLines
          group={draft}
          at={-1}
          onJoin={() => put(-1, { ...draft, join: NEXT[draft.join] })}
          onSpot={setSpot}
          onDrop={drop}
          onGroup={put}
        />
        <View className="flex-row flex-wrap gap-2 pt-1.5">
          <Chip icon="plus" label={t`Condition`} onPress={() => setSpot({ group: -1, line: -1 })} />
          <Chip
            icon="plus"
            label={t`Group`}
            onPress={() =>
              put(-1, { ...draft, lines: [...draft.lines, { join: draft.join === 'any' ? 'all' : 'any', lines: [] }] })
            }
          />
        </View>
      </View>
      <View>
        <Heading tone="rule">
          {strip ? plural(strip.ids.length, { one: '# picture now', other: '# pictures now' }) : t`Counting …`}
        </Heading>
        <Words className="mb-3 text-soft" aria-live="polite">{t`It follows every change by itself.`}</Words>
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
  at: number;
  onJoin: () => void;
  onSpot: (spot: Spot) => void;
  onDrop: (group: number, line: number) => void;
  onGroup: (at: number, group: Group) => void;
}

/** The sentences of a group; "all", "any" and "none" follow each other by pressing. */
function GroupLines({ group, at, onJoin, onSpot, onDrop, onGroup }: GroupProps) {
  const names = useNames();
  const outer = at < 0;
  return (
    <View className={outer ? '' : 'ml-1 border-l-[5px] border-lilac pl-3'}>
      <View className="min-h-field flex-row flex-wrap items-center gap-x-2">
        <Words>{outer ? t`Every picture where` : t`and`}</Words>
        <Chip tone="plum" label={i18n._(JOINS[group.join])} onPress={onJoin} />
        <Words className="flex-1">{outer ? t`of these are true:` : t`of these:`}</Words>
        {outer ? null : (
          <IconButton name="away" size={17} label={t`Remove this group`} onPress={() => onDrop(-1, at)} />
        )}
      </View>
      {group.lines.map((line, i) =>
        isGroup(line) ? (
          outer ? (
            <View key={i} className="border-t border-line pt-1">
              <GroupLines
                group={line}
                at={i}
                onJoin={() => onGroup(i, { ...line, join: NEXT[line.join] })}
                onSpot={onSpot}
                onDrop={onDrop}
                onGroup={onGroup}
              />
            </View>
          ) : (
            <Words key={i} kind="small" className="border-t border-line py-3">{t`A deeper group, kept as it is`}</Words>
          )
        ) : (
          <View key={i} className="min-h-field flex-row items-center gap-2 border-t border-line">
            <View className="min-w-0 flex-1 flex-row flex-wrap items-center gap-x-2">
              <Words className="text-soft">{phrase(line, names, words()).lead}</Words>
              <Chip
                tone="plum"
                label={phrase(line, names, words()).value}
                onPress={() => onSpot({ group: at, line: i })}
              />
            </View>
            <IconButton
              name="away"
              size={17}
              label={t`Remove: ${phrase(line, names, words()).lead} ${phrase(line, names, words()).value}`}
              onPress={() => onDrop(at, i)}
            />
          </View>
        ),
      )}
      {outer && group.lines.length === 0 ? (
        <Words className="border-t border-line py-3 text-soft">{t`No conditions yet, so every picture belongs.`}</Words>
      ) : null}
      {outer ? null : (
        <View className="flex-row">
          <Chip icon="plus" label={t`Condition`} onPress={() => onSpot({ group: at, line: -1 })} />
        </View>
      )}
    </View>
  );
}
