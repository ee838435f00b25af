import { t } from '@lingui/core/macro';
import { fold } from '@gemmel/core';
import { useMemo, useRef, useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Chip } from '@/ui/Button';
import { byName, sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';
import { findBranches, inTree, pathSaid, pathTyped } from '../tag/tree';

/** A tag to give: one that is there, by its number, or a new one by its path. */
export type Given = { id: number; name: string } | { name: string };

/** How many of those in use are offered while typing. */
const MOST = 6;

/**
 * Adds tags with type-ahead over those in use, their other spellings and their places in the tree: “outdoors › lake” nests in
 * place. Several at once with commas. `likely` are offered before anything is typed.
 */
export function TagAdder({
  onAdd,
  open: always = false,
  likely = [],
  label,
}: {
  onAdd: (tags: Given[]) => void;
  open?: boolean;
  likely?: readonly { id: number; name: string }[];
  label?: string;
}) {
  const [open, setOpen] = useState(always);
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(-1);
  const line = useRef<TextInput>(null);
  const tags = useAnswer('tags', {}).data?.tags;
  const branches = useMemo(() => inTree(tags ?? [], byName), [tags]);
  // Words before the last comma are given as they stand; the last one is being typed.
  const pieces = typed.split(',');
  const last = pieces[pieces.length - 1]!.trim();
  const hits = findBranches(branches, last, MOST);
  const path = pathTyped(last);
  const exact = hits.some(({ tag, path: whole }) =>
    path.length === 1
      ? [tag.name, ...tag.spellings].some((name) => fold(name) === fold(last))
      : fold(pathSaid(whole)).endsWith(fold(pathSaid(path))),
  );
  const rows: { given: Given; name: string; note: string }[] = [
    ...hits.map(({ tag, path: whole }) => ({
      given: { id: tag.id, name: tag.name },
      name: pathSaid(whole),
      note: [
        tag.spellings.find((name) => fold(name).startsWith(fold(path[path.length - 1] ?? ''))),
        sayNumber(tag.below),
      ]
        .filter(Boolean)
        .join(' · '),
    })),
    ...(last && !exact ? [{ given: { name: pathSaid(path) }, name: pathSaid(path), note: t`new tag` }] : []),
  ];
  const before = (): Given[] =>
    pieces
      .slice(0, -1)
      .map((piece) => ({ name: pathSaid(pathTyped(piece)) }))
      .filter((one) => one.name);
  const add = (given: Given[]) => {
    if (given.length === 0) return;
    onAdd(given);
    setTyped('');
    setAt(-1);
    if (!always) setOpen(false);
    else line.current?.focus();
  };
  const submit = () => {
    const row = rows[at] ?? (exact ? rows[0] : undefined);
    add([...before(), ...(row ? [row.given] : last ? [{ name: pathSaid(path) }] : [])]);
  };
  if (!open) return <Chip icon="plus" label={label ?? t`Tag`} onPress={() => setOpen(true)} />;
  return (
    <View className="w-full gap-1">
      <TextInput
        ref={line}
        autoFocus={!always || label === undefined}
        role={'combobox' as 'searchbox'}
        aria-label={t`A tag`}
        aria-expanded={rows.length > 0}
        placeholder={t`kites, lake, birthday …`}
        value={typed}
        onChangeText={(text) => {
          setTyped(text);
          setAt(-1);
        }}
        onSubmitEditing={submit}
        blurOnSubmit={false}
        onKeyPress={(event) => {
          const { key } = event.nativeEvent;
          if (key === 'Escape' && !always) setOpen(false);
          if (key === 'ArrowDown' || key === 'ArrowUp') {
            event.preventDefault();
            setAt((now) => Math.max(-1, Math.min(rows.length - 1, now + (key === 'ArrowDown' ? 1 : -1))));
          }
        }}
        maxLength={400}
        autoCapitalize="none"
        className="min-h-touch rounded-small border-2 border-juniper bg-card px-3 font-sans text-body text-ink"
      />
      {!typed && likely.length ? (
        <View className="flex-row flex-wrap gap-x-2">
          {likely.map((tag) => (
            <Chip key={tag.id} label={tag.name} onPress={() => add([tag])} />
          ))}
        </View>
      ) : null}
      {rows.map((row, i) => (
        <Pressable
          key={`${row.name} ${row.note}`}
          role="button"
          onPointerDown={(event) => event.preventDefault()}
          onPress={() => add([...before(), row.given])}
          className={`min-h-touch flex-row items-center justify-between gap-3 border-b border-line px-3 ${i === at ? 'bg-mist' : ''}`}
        >
          <Words className="min-w-0 shrink">{row.name}</Words>
          <Words kind="small">{row.note}</Words>
        </Pressable>
      ))}
    </View>
  );
}
