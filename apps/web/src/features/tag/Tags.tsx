import { DndContext, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import { plural, t } from '@lingui/core/macro';
import type { Tag, Twin } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Rings } from '@/ui/Rings';
import { byName, sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { TagSheet } from './TagSheet';
import { TwinCard } from './TwinCard';
import { type Branch, findBranches, inTree, pathSaid, pathTyped } from './tree';

/** A row that can be dragged onto another, on a wide screen. */
function Dragged({ id, on, children }: { id: number; on: boolean; children: ReactNode }) {
  const drag = useDraggable({ id: `drag ${id}`, disabled: !on });
  const drop = useDroppable({ id: `drop ${id}`, disabled: !on });
  return (
    <div
      ref={(node) => {
        drag.setNodeRef(node);
        drop.setNodeRef(node);
      }}
      {...(on ? drag.listeners : {})}
      style={{
        opacity: drag.isDragging ? 0.5 : 1,
        background: drop.isOver && !drag.isDragging ? 'rgb(var(--mist))' : undefined,
        transform: drag.transform ? `translate(${drag.transform.x}px, ${drag.transform.y}px)` : undefined,
        touchAction: 'manipulation',
      }}
    >
      {children}
    </div>
  );
}

/** The words people give to pictures, as a tree: an indented list, the widest words heavier, counts at the right. */
export function Tags() {
  const router = useRouter();
  const wide = useWide();
  const set = useAsk((ask) => ask.set);
  const helps = useMe().data?.member?.part !== 'relative';
  const { data, error, refetch } = useAnswer('tags', {});
  const twins = useAnswer('twins', {}, { enabled: helps }).data?.twins ?? [];
  const [typed, setTyped] = useState('');
  const [editing, setEditing] = useState<Branch | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 8 } }));
  const branches = useMemo(() => inTree(data?.tags ?? [], byName), [data]);
  const shown = typed.trim() ? findBranches(branches, typed, 60) : branches;
  const path = pathTyped(typed);
  const make = async () => {
    if (path.length === 0) return;
    if (await act(() => call('makeTag', { body: { path } }), t`Tag “${pathSaid(path)}” made`, 'tags')) setTyped('');
  };
  const nest = (from: Tag, to: Tag | null) =>
    void act(
      () => call('changeTag', { params: { id: from.id }, body: { parent: to?.id ?? null } }),
      to ? t`“${from.name}” is now below “${to.name}”` : t`“${from.name}” is now at the top`,
      'tags',
      'said',
    );
  const open = (tag: Tag) => {
    set({ tag: tag.id });
    router.push('/browse');
  };
  return (
    <Page>
      <View className={`gap-3 ${wide ? 'max-w-3xl pt-4' : 'pt-2'}`}>
        <View className="flex-row items-center">
          <IconButton name="left" label={t`Back to What`} onPress={() => router.navigate('/browse/what')} />
          <Words kind="title">{t`Words for pictures`}</Words>
        </View>
        {helps && twins.length ? <Twins twins={twins} tags={data?.tags ?? []} /> : null}
        <Field
          label={t`Find or make a word`}
          placeholder={t`outdoors › lake`}
          value={typed}
          onChangeText={setTyped}
          maxLength={400}
          onSubmitEditing={() => void make()}
        />
        {helps && path.length && !shown.some((branch) => pathSaid(branch.path) === pathSaid(path)) ? (
          <Button
            label={t`Make “${pathSaid(path)}”`}
            weight="second"
            icon="plus"
            className="self-start"
            onPress={() => void make()}
          />
        ) : null}
        {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
        {data?.tags.length === 0 ? (
          <Empty
            title={t`No words yet`}
            text={t`Words people give to pictures are listed here. Open a picture, or use the pile, to add the first one.`}
          />
        ) : null}
        {typed.trim() && shown.length === 0 && data ? (
          <Words className="text-soft">{t`No such word yet.`}</Words>
        ) : null}
        <DndContext
          sensors={sensors}
          onDragEnd={({ active, over }) => {
            const from = branches.find(({ tag }) => `drag ${tag.id}` === active.id)?.tag;
            const to = branches.find(({ tag }) => over && `drop ${tag.id}` === over.id)?.tag;
            if (from && to && from.id !== to.id && from.parent !== to.id) nest(from, to);
          }}
        >
          <View role="list" className="border-t border-line">
            {shown.map((branch) => (
              <Dragged key={branch.tag.id} id={branch.tag.id} on={wide && helps}>
                <Row
                  branch={branch}
                  flat={Boolean(typed.trim())}
                  onOpen={() => open(branch.tag)}
                  onMore={helps ? () => setEditing(branch) : null}
                />
              </Dragged>
            ))}
          </View>
        </DndContext>
        {wide && helps && branches.length > 1 ? (
          <Words kind="small">{t`Drag a word onto another to put it below.`}</Words>
        ) : null}
        {editing ? <TagSheet branch={editing} branches={branches} onClose={() => setEditing(null)} /> : null}
      </View>
    </Page>
  );
}

function Row({
  branch: { tag, depth, path },
  flat,
  onOpen,
  onMore,
}: {
  branch: Branch;
  flat: boolean;
  onOpen: () => void;
  onMore: (() => void) | null;
}) {
  const n = plural(tag.below, { one: '# picture', other: '# pictures' });
  return (
    <View
      role="listitem"
      className="min-h-button flex-row items-center border-b border-line"
      style={{ paddingLeft: flat ? 0 : Math.min(depth, 6) * 22 }}
    >
      <Pressable
        role="button"
        aria-label={`${pathSaid(path)}, ${n}`}
        onPress={onOpen}
        className="min-h-touch min-w-0 flex-1 flex-row items-center justify-between gap-3 active:opacity-70"
      >
        <Words className={`min-w-0 shrink ${depth === 0 && !flat ? 'font-semi text-lead' : ''}`}>
          {flat ? pathSaid(path) : tag.name}
          {tag.spellings.length ? (
            <Words className="font-serif text-small italic text-soft">{`  ${t`or`} ${tag.spellings.join(', ')}`}</Words>
          ) : null}
        </Words>
        <Words className="text-soft" style={{ fontVariant: ['tabular-nums'] }}>
          {tag.below === tag.pictures
            ? sayNumber(tag.below)
            : t`${sayNumber(tag.below)}, ${sayNumber(tag.pictures)} itself`}
        </Words>
      </Pressable>
      {onMore ? <IconButton name="more" size={18} label={t`More for ${pathSaid(path)}`} onPress={onMore} /> : null}
    </View>
  );
}

/** Words that may be one: the first of them, and how many more there are. */
function Twins({ twins, tags }: { twins: readonly Twin[]; tags: readonly Tag[] }) {
  const [at, setAt] = useState(0);
  const twin = twins[at % twins.length];
  if (!twin) return null;
  return (
    <View className="gap-1 rounded-card border border-glow bg-card p-4">
      <View className="flex-row items-center gap-2">
        <Rings size={28} joined={false} />
        <Words kind="small">{t`Two words for one thing?`}</Words>
      </View>
      <TwinCard twin={twin} tags={tags} />
      {twins.length > 1 ? (
        <Pressable role="button" onPress={() => setAt(at + 1)} className="min-h-touch justify-center">
          <Words className="text-small text-marigold">
            {plural(twins.length - 1, { one: '# more pair to look at', other: '# more pairs to look at' })}
          </Words>
        </Pressable>
      ) : null}
    </View>
  );
}
