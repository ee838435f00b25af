import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { Album, Shelf, ShelfOrder } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { flat, shelfIn, useShelved, type Standing } from '@/state/shelves';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Icon } from '@/ui/Icon';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { makeShelf, putOnShelf, removeShelf, renameShelf, sortShelf } from './acts';

/** What is put on a shelf. */
export type Putting = { album: Album } | { shelf: Shelf };

/** Chooses the shelf that an album or a shelf is to stand on, or makes one in place. */
export function PutOnShelfSheet({ what, onClose }: { what: Putting; onClose: () => void }) {
  const { data, root } = useShelved();
  const [name, setName] = useState('');
  const [parent, setParent] = useState<number | null>(null);
  const one = 'album' in what ? what.album : what.shelf;
  const part = 'album' in what ? { albums: [one.id], name: one.name } : { shelves: [one.id], name: one.name };
  // A shelf does not stand on itself, nor on what stands on it.
  const barred = new Set<number>();
  const bar = (standing: Standing) => {
    barred.add(standing.shelf!.id);
    for (const below of standing.on) if ('shelf' in below) bar(below as Standing);
  };
  const rows = root ? flat(root).flatMap((row) => ('shelf' in row ? [row] : [])) : [];
  if ('shelf' in what) for (const row of rows) if (row.shelf.shelf!.id === one.id) bar(row.shelf);
  const put = async (on: number | null, to: string | null) => {
    if (await putOnShelf(part, on, to)) onClose();
  };
  const make = async () => {
    const made = await makeShelf(name.trim(), parent, 'album' in what ? [one.id] : []);
    if (made && 'shelf' in what) await putOnShelf(part, made.id, name.trim());
    if (made) onClose();
  };
  // Where what stands beside it is ordered by hand, it goes one place up or down.
  const here = root && (one.shelf === null ? root : shelfIn(root, one.shelf));
  const byHand = (one.shelf === null ? data?.sorted : here?.shelf?.sorted) === 'hand';
  const beside = here?.on.map((part) => ('album' in part ? { album: part.album.id } : { shelf: part.shelf!.id })) ?? [];
  const at = beside.findIndex((part) =>
    'album' in what ? 'album' in part && part.album === one.id : 'shelf' in part && part.shelf === one.id,
  );
  const step = (by: -1 | 1) =>
    void putOnShelf(part, one.shelf, here?.shelf?.name ?? null, beside[by < 0 ? at - 1 : at + 2] ?? null);
  return (
    <Sheet title={t`Put “${one.name}” on a shelf`} onClose={onClose}>
      {byHand && at >= 0 && beside.length > 1 ? (
        <View className="flex-row gap-2">
          <Button
            className="flex-1"
            label={t`One place up`}
            icon="up"
            weight="second"
            disabled={at === 0}
            onPress={() => step(-1)}
          />
          <Button
            className="flex-1"
            label={t`One place down`}
            icon="down"
            weight="second"
            disabled={at === beside.length - 1}
            onPress={() => step(1)}
          />
        </View>
      ) : null}
      <View>
        {one.shelf === null ? null : (
          <Pressable
            role="button"
            onPress={() => void put(null, null)}
            className="min-h-field justify-center border-t border-line"
          >
            <Words>{t`On no shelf`}</Words>
          </Pressable>
        )}
        {rows
          .filter((row) => !barred.has(row.shelf.shelf!.id))
          .map(({ depth, shelf }) => (
            <Pressable
              key={shelf.shelf!.id}
              role="button"
              disabled={one.shelf === shelf.shelf!.id}
              onPress={() => void put(shelf.shelf!.id, shelf.shelf!.name)}
              className="min-h-field flex-row items-center gap-2 border-t border-line"
              style={{ paddingLeft: depth * 18 }}
            >
              <Icon name="shelf" size={17} tone="soft" />
              <Words className="min-w-0 flex-1" numberOfLines={2}>
                {shelf.shelf!.name}
              </Words>
              <Words kind="small">
                {one.shelf === shelf.shelf!.id
                  ? t`stands here`
                  : plural(shelf.albums, { one: '# album', other: '# albums' })}
              </Words>
            </Pressable>
          ))}
      </View>
      <Field label={t`Or a new shelf`} value={name} onChangeText={setName} maxLength={160} placeholder={t`Journeys`} />
      {name.trim() && rows.length ? (
        <View className="flex-row flex-wrap items-center gap-x-2">
          <Words kind="small">{t`It stands on`}</Words>
          <Chip label={t`no other shelf`} on={parent === null} onPress={() => setParent(null)} />
          {rows
            .filter((row) => !barred.has(row.shelf.shelf!.id))
            .map(({ shelf }) => (
              <Chip
                key={shelf.shelf!.id}
                label={shelf.shelf!.name}
                on={parent === shelf.shelf!.id}
                onPress={() => setParent(shelf.shelf!.id)}
              />
            ))}
        </View>
      ) : null}
      <Button label={t`Make the shelf`} weight="second" disabled={!name.trim()} onPress={() => void make()} />
    </Sheet>
  );
}

const ORDERS: Record<ShelfOrder, MessageDescriptor> = {
  hand: msg`By hand`,
  name: msg`By name`,
  latest: msg`Latest first`,
};

/** How what stands on a shelf, or on none, is ordered. */
export function ShelfOrderChips({ id, sorted }: { id: number | null; sorted: ShelfOrder }) {
  return (
    <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`Order on this shelf`}>
      {(Object.keys(ORDERS) as ShelfOrder[]).map((order) => (
        <Chip
          key={order}
          label={i18n._(ORDERS[order])}
          on={sorted === order}
          onPress={() => void (sorted === order ? null : sortShelf(id, order))}
        />
      ))}
    </View>
  );
}

/** Everything that can be done with a shelf. */
export function ShelfSheet({
  standing,
  onClose,
  onGone,
}: {
  standing: Standing;
  onClose: () => void;
  /** Told when the shelf has been removed. */
  onGone?: (() => void) | undefined;
}) {
  const shelf = standing.shelf!;
  const [name, setName] = useState(shelf.name);
  const [putting, setPutting] = useState(false);
  const [removing, setRemoving] = useState(false);
  if (putting) return <PutOnShelfSheet what={{ shelf }} onClose={onClose} />;
  const remove = async (rest: 'up' | 'go') => {
    if (!(await removeShelf(shelf, rest))) return;
    onClose();
    onGone?.();
  };
  const rename = async () => {
    if (await renameShelf(shelf.id, name.trim())) onClose();
  };
  if (removing)
    return (
      <Sheet title={t`Remove “${shelf.name}”?`} onClose={onClose}>
        <Words className="text-soft">
          {standing.on.length === 0
            ? t`Nothing stands on it.`
            : plural(standing.albums, {
                one: '# album stands on it. No picture is removed, whatever you choose.',
                other: '# albums stand on it. No picture is removed, whatever you choose.',
              })}
        </Words>
        <Button
          label={standing.on.length ? t`Remove the shelf, keep what stands on it` : t`Remove the shelf`}
          onPress={() => void remove('up')}
        />
        {standing.on.length ? (
          <Button
            label={plural(standing.albums, {
              one: 'Remove the shelf and its album',
              other: 'Remove the shelf and its # albums',
            })}
            weight="brick"
            onPress={() => void remove('go')}
          />
        ) : null}
      </Sheet>
    );
  return (
    <Sheet title={shelf.name} onClose={onClose}>
      <Words className="text-soft">{plural(standing.albums, { one: '# album', other: '# albums' })}</Words>
      <ShelfOrderChips id={shelf.id} sorted={shelf.sorted} />
      <Field label={t`Name of the shelf`} value={name} onChangeText={setName} maxLength={160} />
      <Button
        label={t`Rename`}
        weight="second"
        icon="edit"
        disabled={!name.trim() || name.trim() === shelf.name}
        onPress={() => void rename()}
      />
      <Button label={t`Put it on a shelf`} weight="second" icon="shelf" onPress={() => setPutting(true)} />
      <Button label={t`Remove the shelf`} weight="brick" onPress={() => setRemoving(true)} />
    </Sheet>
  );
}
