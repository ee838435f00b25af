import { plural, t } from '@lingui/core/macro';
import type { Album } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useMemo, useState, type DragEvent } from 'react';
import { Pressable, View } from 'react-native';
import { useCarrying, type CarriedRow } from '@/state/carrying';
import { flat, useClosedShelves, useShelved, type Standing } from '@/state/shelves';
import { Button, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { useGradually } from '@/ui/useGradually';
import { Words } from '@/ui/Words';
import { putOnShelf, type Before } from './acts';
import { MakeSheet } from './MakeSheet';
import { PutOnShelfSheet, ShelfSheet, type Putting } from './ShelfSheets';

type Row = { depth: number } & ({ album: Album } | { shelf: Standing });
type Where = 'before' | 'on' | 'after';

/** What each step in costs, in CSS pixels. */
const STEP = 18;
/** The upper and the lower part of a row, where something is put before or after it. */
const EDGE = 0.28;

const keyOf = (row: Row): string => ('album' in row ? `album ${row.album.id}` : `shelf ${row.shelf.shelf!.id}`);
const shelfOf = (row: Row): number | null => ('album' in row ? row.album.shelf : row.shelf.shelf!.shelf);

/**
 * Shelves and albums as a tree with rules and indents. Pictures are dragged onto albums; albums and shelves onto shelves, or between two rows, where
 * they come to stand if that shelf is ordered by hand.
 */
export function ShelfTree({ here }: { here: string | null }) {
  const router = useRouter();
  const { data, root } = useShelved();
  const { closed, toggle } = useClosedShelves();
  const carried = useCarrying((state) => state.row);
  const filling = useCarrying((state) => state.pictures?.over ?? null);
  const take = (row: CarriedRow | null) => useCarrying.setState({ row });
  const [over, setOver] = useState<{ key: string; where: Where } | null>(null);
  const [making, setMaking] = useState(false);
  const [more, setMore] = useState<Standing | null>(null);
  const [putting, setPutting] = useState<Putting | null>(null);
  const rows = useGradually(useMemo(() => (root ? flat(root, new Set(closed)) : []), [root, closed]));
  if (!root || !data)
    return (
      <View className="px-5 py-6">
        <Words kind="small">{t`One moment …`}</Words>
      </View>
    );
  const sortedOn = (shelf: number | null) =>
    shelf === null ? data.sorted : (data.shelves.find((one) => one.id === shelf)?.sorted ?? 'hand');

  /** Where something that is carried would go, if it may. */
  const placeFor = (row: Row, event: DragEvent<HTMLElement>): Where | null => {
    if (!carried) return null;
    if (keyOf(row) === `${carried.kind} ${carried.id}`) return null;
    const box = event.currentTarget.getBoundingClientRect();
    const at = (event.clientY - box.top) / box.height;
    const byHand = sortedOn(shelfOf(row)) === 'hand';
    if ('shelf' in row) return byHand && at < EDGE ? 'before' : byHand && at > 1 - EDGE ? 'after' : 'on';
    return byHand ? (at < 0.5 ? 'before' : 'after') : null;
  };
  const drop = (row: Row, where: Where, what: CarriedRow) => {
    const part =
      what.kind === 'album' ? { albums: [what.id], name: what.name } : { shelves: [what.id], name: what.name };
    if (where === 'on' && 'shelf' in row) {
      void putOnShelf(part, row.shelf.shelf!.id, row.shelf.shelf!.name);
      return;
    }
    const on = shelfOf(row);
    const to = on === null ? null : (data.shelves.find((one) => one.id === on)?.name ?? null);
    const asBefore = (one: Row): Before => ('album' in one ? { album: one.album.id } : { shelf: one.shelf.shelf!.id });
    const siblings = flat(root).filter((one) => shelfOf(one) === on);
    const at = siblings.findIndex((one) => keyOf(one) === keyOf(row));
    const next = where === 'before' ? row : siblings[at + 1];
    void putOnShelf(part, on, to, next ? asBefore(next) : null);
  };
  const carry = (what: CarriedRow) => ({
    draggable: true,
    onDragStart: (event: DragEvent) => {
      event.dataTransfer.effectAllowed = 'move';
      event.dataTransfer.setData('text/plain', what.name);
      take(what);
    },
    onDragEnd: () => {
      setOver(null);
      take(null);
    },
  });
  return (
    <>
      <View className="px-5 pb-3 pt-6">
        <Words kind="title" aria-level={2}>{t`Albums`}</Words>
        <Words kind="small">{t`Each picture is kept once, however often it stands here.`}</Words>
      </View>
      <div role="list" aria-label={t`Albums and shelves`} style={{ padding: '0 12px' }}>
        {rows.map((row) => {
          const key = keyOf(row);
          const name = 'album' in row ? row.album.name : row.shelf.shelf!.name;
          const isClosed = 'shelf' in row && closed.includes(row.shelf.shelf!.id);
          const marked = over?.key === key ? over.where : null;
          const go = () =>
            'album' in row
              ? router.push({ pathname: '/albums/[id]', params: { id: row.album.id } })
              : router.push({ pathname: '/albums/shelf/[id]', params: { id: row.shelf.shelf!.id } });
          return (
            <div
              key={key}
              role="listitem"
              {...(here === key ? { 'aria-current': 'page' as const } : {})}
              data-row={key}
              {...('album' in row && row.album.kind === 'plain' ? { 'data-drop': row.album.id } : {})}
              {...carry(
                'album' in row
                  ? { kind: 'album', id: row.album.id, name }
                  : { kind: 'shelf', id: row.shelf.shelf!.id, name },
              )}
              onDragOver={(event) => {
                const where = placeFor(row, event);
                if (where === null) return setOver(null);
                event.preventDefault();
                if (over?.key !== key || over.where !== where) setOver({ key, where });
              }}
              onDragLeave={() => setOver((old) => (old?.key === key ? null : old))}
              onDrop={(event) => {
                event.preventDefault();
                const where = placeFor(row, event);
                const what = useCarrying.getState().row;
                setOver(null);
                take(null);
                if (where && what) drop(row, where, what);
              }}
              className="shelf-row"
              style={{
                display: 'flex',
                alignItems: 'center',
                paddingLeft: Math.min(row.depth, 8) * STEP,
                background:
                  here === key || marked === 'on' || ('album' in row && filling === row.album.id)
                    ? 'rgb(var(--mist))'
                    : undefined,
                boxShadow:
                  marked === 'before'
                    ? '0 -3px 0 rgb(var(--juniper))'
                    : marked === 'after'
                      ? '0 3px 0 rgb(var(--juniper))'
                      : undefined,
              }}
            >
              {'shelf' in row ? (
                <IconButton
                  name={isClosed ? 'right' : 'below'}
                  size={15}
                  tone="soft"
                  label={isClosed ? t`Open ${name}` : t`Close ${name}`}
                  onPress={() => toggle(row.shelf.shelf!.id)}
                />
              ) : (
                <View className="w-11 items-center">
                  <DoubleBar tone={row.album.kind === 'smart' ? 'rule' : 'settled'} width={15} />
                </View>
              )}
              <Pressable role="link" onPress={go} className="min-h-touch min-w-0 flex-1 justify-center">
                <Words
                  className={'shelf' in row ? 'font-serif text-lead' : here === key ? 'font-semi' : ''}
                  numberOfLines={1}
                >
                  {name}
                </Words>
              </Pressable>
              <Words kind="small" className="row-count pl-2 pr-2">
                {'album' in row ? row.album.pictures : plural(row.shelf.albums, { one: '# album', other: '# albums' })}
              </Words>
              <View className="row-more">
                <IconButton
                  name="more"
                  size={17}
                  tone="soft"
                  label={t`More for ${name}`}
                  onPress={() => ('album' in row ? setPutting({ album: row.album }) : setMore(row.shelf))}
                />
              </View>
            </div>
          );
        })}
      </div>
      <View className="flex-row gap-2 px-5 py-4">
        <Button label={t`An album`} onPress={() => setMaking(true)} />
        <Button label={t`In no album`} weight="second" onPress={() => router.push('/albums/loose')} />
      </View>
      {carried ? (
        <div
          data-row="none"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            take(null);
            const part =
              carried.kind === 'album'
                ? { albums: [carried.id], name: carried.name }
                : { shelves: [carried.id], name: carried.name };
            void putOnShelf(part, null, null);
          }}
          style={{
            margin: '0 20px 20px',
            padding: 14,
            borderRadius: 14,
            border: '2px dashed rgb(var(--line))',
            display: 'flex',
            alignItems: 'center',
            gap: 8,
          }}
        >
          <Icon name="shelf" size={17} tone="soft" />
          <Words kind="small">{t`Drop here for no shelf`}</Words>
        </div>
      ) : null}
      {making ? <MakeSheet shelf={null} onClose={() => setMaking(false)} /> : null}
      {more ? <ShelfSheet standing={more} onClose={() => setMore(null)} /> : null}
      {putting ? <PutOnShelfSheet what={putting} onClose={() => setPutting(null)} /> : null}
    </>
  );
}
