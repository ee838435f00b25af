import { plural, t } from '@lingui/core/macro';
import type { CardFile } from '@gemmel/contract';
import type { Numbering } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { NumberSheet } from './NumberSheet';
import { say, trouble } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { capital, sayBytes, sayLongDay, sayNumber } from '@/ui/say';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { cardLine } from './CardOffers';
import { CardTile } from './CardTile';
import { allNew, canTick, daysOf, range, standOf, tick, type CardDay } from './ticks';

/** A card or phone as a folder: what is on it by day, what is here already, what to take. It is only read. */
export function CardPage({ id }: { id: number }) {
  const router = useRouter();
  const wide = useWide();
  const { data, error, refetch } = useAnswer('card', { params: { id } });
  const files = useMemo(() => data?.files ?? [], [data]);
  // What people chose stands; new files that show up while it is looked at are ticked too.
  const [unticked, setUnticked] = useState<ReadonlySet<number>>(new Set());
  const ticked = useMemo(
    () =>
      tick(
        allNew(files),
        files.filter((f) => unticked.has(f.id)),
        false,
      ),
    [files, unticked],
  );
  const [anchor, setAnchor] = useState<number | null>(null);
  const [held, setHeld] = useState(false);
  const [numbering, setNumbering] = useState<Numbering | null>(null);
  const [asking, setAsking] = useState(false);
  const [taking, setTaking] = useState(false);
  const days = useMemo(() => daysOf(files), [files]);
  const latest = useRef({ files, ticked, anchor, held });
  useEffect(() => {
    latest.current = { files, ticked, anchor, held };
  });

  const set = useCallback((some: readonly CardFile[], on: boolean) => {
    setUnticked((old) => {
      const next = new Set(old);
      for (const file of some)
        if (canTick(file)) {
          if (on) next.delete(file.id);
          else next.add(file.id);
        }
      return next;
    });
  }, []);
  const press = useCallback(
    (file: CardFile, shift: boolean) => {
      const { files: all, ticked: now, anchor: from, held: begun } = latest.current;
      setHeld(false);
      if ((shift || begun) && from !== null) {
        set(range(all, from, file.id), now.has(from));
        setAnchor(null);
        return;
      }
      set([file], !now.has(file.id));
      setAnchor(file.id);
    },
    [set],
  );
  const hold = useCallback(
    (file: CardFile) => {
      set([file], !latest.current.ticked.has(file.id));
      setAnchor(file.id);
      setHeld(true);
      say(t`Now tap the last one; everything in between goes with it.`);
    },
    [set],
  );

  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const { card, room } = data;
  const chosen = files.filter((file) => ticked.has(file.id));
  const needed = chosen.reduce((sum, file) => sum + file.bytes, 0);
  const fits = needed <= room.left;
  const take = async () => {
    setTaking(true);
    try {
      const { batch } = await call('takeCard', {
        params: { id },
        body: { files: chosen.map((file) => file.id), ...(numbering ? { numbering } : {}) },
      });
      refresh('batches', 'card', 'cards', 'library');
      router.replace({ pathname: '/batch/[id]', params: { id: batch } });
    } catch (failed) {
      trouble(failed);
      setTaking(false);
    }
  };
  return (
    <>
      <div style={{ flex: 1, minHeight: 0, overflowY: 'auto', padding: wide ? '14px 26px 30px' : '8px 16px 30px' }}>
        <View className="flex-row items-center gap-1">
          <IconButton
            name="left"
            label={t`Back to Arrivals`}
            onPress={() => router.navigate('/arrivals')}
            className="-ml-3"
          />
          <Words kind="title" className="min-w-0 flex-1 text-title" numberOfLines={2}>
            {card.name}
          </Words>
        </View>
        <View>
          <Words kind="small" aria-live="polite">{`${cardLine(card)}${card.device ? ` · ${card.device}` : ''}`}</Words>
          <Words kind="small">{t`Gemmel only reads it. Nothing there is changed or removed.`}</Words>
        </View>
        {card.listing ? (
          <View className="py-3">
            <DoubleBar
              share={card.listing.total ? card.listing.done / card.listing.total : 0}
              width={'100%' as unknown as number}
              label={t`Looking at the card`}
            />
          </View>
        ) : null}
        {files.length ? (
          <View className="mt-1 flex-row flex-wrap gap-x-2">
            <Chip label={t`All new ones`} on={standOf(ticked, files) === 'all'} onPress={() => set(files, true)} />
            <Chip label={t`None`} on={standOf(ticked, files) === 'none'} onPress={() => set(files, false)} />
            <Chip
              label={numbering ? t`Numbered: ${numbering.base}` : t`Number the files`}
              icon="numbers"
              on={numbering !== null}
              onPress={() => setAsking(true)}
            />
          </View>
        ) : null}
        {files.length === 0 && !card.listing ? (
          <Empty title={t`Nothing on it`} text={t`There are no pictures or clips in this folder.`} />
        ) : null}
        {days.map((day) => (
          <Day
            key={day.day ?? 'none'}
            source={id}
            day={day}
            ticked={ticked}
            anchor={held ? anchor : null}
            onSet={set}
            onPress={press}
            onHold={hold}
          />
        ))}
      </div>
      <View className="flex-row items-center gap-3 border-t border-line bg-card px-4 py-2.5">
        <View className="min-w-0 flex-1">
          <Words kind="strong" aria-live="polite">
            {chosen.length
              ? `${plural(chosen.length, { one: '# picture', other: '# pictures' })} · ${sayBytes(needed)}`
              : t`Nothing ticked`}
          </Words>
          <Words kind="small" className={fits ? '' : 'text-brick'}>
            {fits ? t`${sayBytes(room.left)} free` : t`Only ${sayBytes(room.left)} free: untick some`}
          </Words>
        </View>
        <Button
          label={chosen.length ? t`Bring in ${sayNumber(chosen.length)}` : t`Bring in`}
          disabled={chosen.length === 0 || !fits || taking}
          onPress={() => void take()}
        />
      </View>
      {asking ? (
        <NumberSheet
          of={{
            files: chosen.map((f) => ({ name: f.path.split('/').pop()!, day: f.taken?.slice(0, 10) ?? null })),
          }}
          before={numbering}
          onChoose={setNumbering}
          onClose={() => setAsking(false)}
        />
      ) : null}
    </>
  );
}

interface DayProps {
  source: number;
  day: CardDay;
  ticked: ReadonlySet<number>;
  anchor: number | null;
  onSet: (files: readonly CardFile[], on: boolean) => void;
  onPress: (file: CardFile, shift: boolean) => void;
  onHold: (file: CardFile) => void;
}

function Day({ source, day, ticked, anchor, onSet, onPress, onHold }: DayProps) {
  const stand = standOf(ticked, day.files);
  const name = day.day ? capital(sayLongDay(day.day)) : t`Without a date`;
  const can = day.files.filter(canTick).length;
  const on = day.files.filter((file) => ticked.has(file.id)).length;
  return (
    <section aria-label={name} style={{ marginTop: 14 }}>
      <View className="mb-1.5 flex-row items-center gap-2.5">
        <DoubleBar
          tone={stand === 'none' ? 'settled' : 'waiting'}
          {...(can ? { share: on / can, label: t`${on} of ${can} ticked` } : {})}
          width={24}
        />
        <Words kind="heading" className="min-w-0 flex-1 text-lead">
          {name}
        </Words>
        {can ? (
          <Button
            label={stand === 'all' ? t`Untick the day` : t`Tick the day`}
            weight="quiet"
            className="min-h-touch px-2"
            onPress={() => onSet(day.files, stand !== 'all')}
          />
        ) : (
          <Words kind="small">{t`all already here`}</Words>
        )}
      </View>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: 6 }}>
        {day.files.map((file) => (
          <CardTile
            key={file.id}
            source={source}
            file={file}
            on={ticked.has(file.id)}
            begun={anchor === file.id}
            onPress={onPress}
            onHold={onHold}
          />
        ))}
      </div>
    </section>
  );
}
