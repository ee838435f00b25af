import { i18n } from '@lingui/core';
import type { MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { act } from '@/state/acts';
import { useMe } from '@/features/account/session';
import type { Folder } from '@gemmel/contract';
import { Field } from '@/ui/Field';
import { Switch } from '@/ui/Switch';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { sayBytes } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { IntoAlbum } from '@/features/filing/IntoAlbum';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { ShelveSheet } from './ShelveSheet';
import { alone, branches, flatten, sorted, SORTS, type Branch, type Sort } from './tree';
import { CORNER, SIZE } from '@/ui/tokens';
import { saySpan } from '@/words/said';

const NAMES: Record<Sort, MessageDescriptor> = {
  name: msg`Name`,
  date: msg`Date`,
  size: msg`Size`,
  change: msg`Latest change`,
};

/** Folders as they came in: as a tree or flat, sorted in four ways, each leading to its pictures. */
export function Folders() {
  const { at, seen } = useLocalSearchParams<{ at?: string; seen?: string }>();
  const { data, error, refetch } = useAnswer('folders', {});
  const [flat, setFlat] = useState(false);
  const [sort, setSort] = useState<Sort>('name');
  const [backwards, setBackwards] = useState(false);
  const helps = useMe().data?.member?.part !== 'relative';
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const [putting, setPutting] = useState(false);
  const top = useMemo(() => branches(data?.folders ?? []), [data]);
  const target = at ? Number(at) : null;
  const wayTo = useMemo(() => {
    const parents = new Map(data?.folders.map((f) => [f.id, f.parent]));
    const open = new Set<number>();
    for (let id = target; id; id = parents.get(id) ?? null) open.add(id);
    return open;
  }, [data, target]);
  const rows = flat
    ? sorted(
        flatten(top)
          .filter((b) => b.folder.pictures > 0)
          .map(alone),
        sort,
        backwards,
      )
    : sorted(top, sort, backwards);
  return (
    <Page>
      <BrowseHeader way="when" />
      <View className="mb-3 flex-row flex-wrap items-center gap-x-2">
        <Chip label={t`Tree`} on={!flat} onPress={() => setFlat(false)} />
        <Chip label={t`Flat`} on={flat} onPress={() => setFlat(true)} />
        <View className="w-2" />
        {SORTS.map((name) => (
          <Chip
            key={name}
            label={i18n._(NAMES[name])}
            on={sort === name}
            onPress={() => {
              setBackwards(sort === name ? !backwards : name !== 'name');
              setSort(name);
            }}
          />
        ))}
        <IconButton
          name={backwards ? 'down' : 'up'}
          label={t`Reverse order`}
          onPress={() => setBackwards(!backwards)}
        />
        {helps && rows.length ? (
          <Chip
            label={t`Choose several`}
            on={chosen !== null}
            onPress={() => setChosen(chosen === null ? new Set() : null)}
          />
        ) : null}
      </View>
      {chosen?.size ? (
        <View className="mb-2 flex-row">
          <Button
            label={plural(chosen.size, { one: 'Put # folder into an album', other: 'Put # folders into an album' })}
            icon="album"
            onPress={() => setPutting(true)}
          />
        </View>
      ) : null}
      {putting && chosen ? (
        <IntoAlbum
          from={{ folders: [...chosen] }}
          count={picturesIn(data?.folders ?? [], chosen)}
          onClose={() => setPutting(false)}
          onMade={() => setChosen(null)}
        />
      ) : null}
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.folders.length === 0 ? (
        <Empty
          title={t`No folders yet`}
          text={t`Cards, phones and folders are listed here as they came, with what is in each.`}
        />
      ) : null}
      {rows.map((branch) => (
        <FolderRow
          key={branch.folder.id}
          branch={branch}
          depth={0}
          flat={flat}
          open={wayTo}
          target={target}
          seen={seen ? Number(seen) : null}
          sort={sort}
          backwards={backwards}
          chosen={chosen}
          onChoose={(id) => {
            const next = new Set(chosen);
            if (!next.delete(id)) next.add(id);
            setChosen(next);
          }}
        />
      ))}
    </Page>
  );
}

interface RowProps {
  branch: Branch;
  depth: number;
  flat: boolean;
  open: ReadonlySet<number>;
  target: number | null;
  seen: number | null;
  sort: Sort;
  backwards: boolean;
  /** Folders that are chosen; null while none are being chosen. */
  chosen: ReadonlySet<number> | null;
  onChoose: (id: number) => void;
}

/** How many pictures lie in some folders and below them, each counted once. */
function picturesIn(folders: readonly Folder[], chosen: ReadonlySet<number>): number {
  const parents = new Map(folders.map((one) => [one.id, one.parent]));
  const inside = (id: number): boolean => {
    const seen = new Set<number>();
    for (let at: number | null = id; at !== null && !seen.has(at); at = parents.get(at) ?? null) {
      if (chosen.has(at)) return true;
      seen.add(at);
    }
    return false;
  };
  return folders.reduce((sum, one) => sum + (inside(one.id) ? one.pictures : 0), 0);
}

function FolderRow(props: RowProps) {
  const { branch, depth, flat, open, target, seen, sort, backwards, chosen, onChoose } = props;
  const router = useRouter();
  const ask = useAsk((state) => state.set);
  const { folder } = branch;
  const [said, setIs] = useState<boolean | null>(null);
  const is = said ?? (open.has(folder.id) || (depth === 0 && branch.below.length === 1));
  const [more, setMore] = useState(false);
  const [putting, setPutting] = useState(false);
  const [shelving, setShelving] = useState(false);
  const helps = useMe().data?.member?.part !== 'relative';
  const here = target === folder.id;
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (here) box.current?.scrollIntoView({ block: 'center' });
  }, [here]);
  const shown = flat ? folder : branch;
  const inside = !flat && branch.below.length > 0;
  const go = (only: boolean) => {
    ask({ folder: only ? { id: folder.id, only: true } : { id: folder.id } });
    router.push('/browse');
  };
  const span = shown.first && shown.last ? saySpan(shown.first, shown.last) : null;
  return (
    <>
      <div
        ref={box}
        data-folder={folder.id}
        aria-current={here ? 'location' : undefined}
        style={{
          display: 'flex',
          alignItems: 'center',
          borderTop: '1px solid rgb(var(--line))',
          paddingLeft: flat ? 0 : Math.min(depth, 8) * 18,
          background: here ? 'rgb(var(--honey))' : chosen?.has(folder.id) ? 'rgb(var(--mist))' : undefined,
          borderRadius: here ? 10 : 0,
        }}
      >
        {inside ? (
          <IconButton
            name={is ? 'below' : 'right'}
            size={16}
            tone="soft"
            label={is ? t`Close ${folder.name}` : t`Open ${folder.name}`}
            onPress={() => setIs(!is)}
          />
        ) : (
          <View className="h-11 w-11 items-center justify-center">
            <Icon name="folder" size={17} tone="soft" />
          </View>
        )}
        <Pressable
          role={chosen ? 'checkbox' : 'button'}
          {...(chosen ? { 'aria-checked': chosen.has(folder.id) } : {})}
          onPress={() => (chosen ? onChoose(folder.id) : go(flat))}
          className="min-h-field min-w-0 flex-1 justify-center py-1.5"
        >
          <Words className="font-medium" numberOfLines={2}>
            {folder.name}
          </Words>
          <Words kind="small" numberOfLines={3}>
            {[
              folder.cameAs ? t`came as ${folder.cameAs}` : null,
              flat && branch.way !== folder.name ? branch.way : null,
              span,
              sayBytes(shown.bytes),
            ]
              .filter(Boolean)
              .join(' · ')}
          </Words>
        </Pressable>
        {here && seen ? <SeenThumb id={seen} /> : null}
        <Words kind="small" className="pl-2">
          {shown.pictures}
        </Words>
        <IconButton name="more" label={t`More for ${folder.name}`} onPress={() => setMore(true)} />
      </div>
      {is && inside
        ? sorted(branch.below, sort, backwards).map((child) => (
            <FolderRow key={child.folder.id} {...props} branch={child} depth={depth + 1} />
          ))
        : null}
      {putting ? (
        <IntoAlbum
          from={{ folders: [folder.id] }}
          count={branch.pictures}
          name={folder.name}
          onClose={() => setPutting(false)}
        />
      ) : null}
      {shelving ? <ShelveSheet id={folder.id} name={folder.name} onClose={() => setShelving(false)} /> : null}
      {more ? (
        <Sheet title={folder.name} onClose={() => setMore(false)}>
          <Words className="text-soft">
            {[
              branch.way,
              plural(branch.pictures, { one: '# picture', other: '# pictures' }),
              folder.pictures < branch.pictures
                ? plural(folder.pictures, { one: '# directly in it', other: '# directly in it' })
                : null,
            ]
              .filter(Boolean)
              .join(' · ')}
          </Words>
          {flat ? null : (
            <Button
              label={plural(branch.pictures, {
                one: 'With everything below: # picture',
                other: 'With everything below: # pictures',
              })}
              weight="second"
              onPress={() => go(false)}
            />
          )}
          {folder.pictures && (flat || folder.pictures < branch.pictures) ? (
            <Button
              label={plural(folder.pictures, {
                one: 'This folder only: # picture',
                other: 'This folder only: # pictures',
              })}
              weight="second"
              onPress={() => go(true)}
            />
          ) : null}
          {helps ? (
            <Button
              label={t`Put all into an album`}
              weight="second"
              icon="album"
              onPress={() => {
                setMore(false);
                setPutting(true);
              }}
            />
          ) : null}
          {helps && inside ? (
            <Button
              label={t`As shelves and albums`}
              weight="second"
              icon="shelf"
              onPress={() => {
                setMore(false);
                setShelving(true);
              }}
            />
          ) : null}
          {helps ? <Rename folder={folder} onDone={() => setMore(false)} /> : null}
        </Sheet>
      ) : null}
    </>
  );
}

/** Another name for a folder, and for its event if wished. */
function Rename({ folder, onDone }: { folder: Folder; onDone: () => void }) {
  const [name, setName] = useState(folder.name);
  const [event, setEvent] = useState(false);
  const keep = async () => {
    const done = await act(
      () => call('renameFolder', { params: { id: folder.id }, body: { name: name.trim(), event } }),
      (answer) => [
        t`Folder renamed to “${name.trim()}”`,
        event && answer.event === null
          ? t`Its pictures belong to no single event, so no event was renamed.`
          : t`The name it came with can still be searched for.`,
      ],
      'pictures',
      'events',
    );
    if (done) onDone();
  };
  return (
    <View className="gap-2 border-t border-line pt-2">
      <Field label={t`Name of the folder`} value={name} onChangeText={setName} maxLength={160} />
      <Switch label={t`Give its event this name, too`} shown on={event} onTurn={() => setEvent(!event)} />
      <Button
        label={t`Rename`}
        weight="second"
        icon="edit"
        disabled={!name.trim() || (name.trim() === folder.name && !event)}
        onPress={() => void keep()}
      />
    </View>
  );
}

/** The picture somebody comes from, where it lies. */
function SeenThumb({ id }: { id: number }) {
  const picture = useAnswer('picture', { params: { id } }).data;
  return picture ? (
    <img
      src={smallOf(picture.sha)}
      alt={t`${picture.name} is here`}
      style={{
        width: SIZE.touch,
        height: SIZE.touch,
        objectFit: 'cover',
        borderRadius: CORNER.picture,
        marginRight: 8,
      }}
    />
  ) : null;
}
