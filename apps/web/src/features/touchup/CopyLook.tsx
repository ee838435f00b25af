import type { Recipe } from '@gemmel/core';
import { plural, t } from '@lingui/core/macro';
import { useMemo, useRef, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { usePile } from '@/state/pile';
import { Button, Chip } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { useTouched } from './useTouched';

/** How many are shown before it is done. */
const SHOWN = 4;
const COLOURS = ['light', 'colour', 'grey', 'detail', 'by', 'tones'] as const;

type From = 'pile' | 'run' | 'event';

/** Copies the light and colours of a look to others: what is in hand, the shots of its moment, or its event. Four are shown first. */
export function CopyLook({ id, recipe, onClose }: { id: number; recipe: Recipe; onClose: () => void }) {
  const pile = usePile((hand) => hand.ids);
  const picture = useAnswer('picture', { params: { id } }).data;
  const tile = useAnswer('tiles', { body: { ids: [id] } }).data?.tiles[0];
  const event = picture?.event?.id;
  const [from, setFrom] = useState<From | null>(pile.length ? 'pile' : null);
  const run = useAnswer('run', { params: { id: tile?.run ?? 0 } }, { enabled: Boolean(tile?.run) }).data;
  const there = useAnswer(
    'pictures',
    { body: { question: { all: [{ event: event ?? 0 }, { kind: 'photo' }] }, limit: 500 } },
    { enabled: event !== undefined },
  ).data;
  const ids = useMemo(() => {
    const all =
      from === 'pile'
        ? pile
        : from === 'run'
          ? (run?.shots.map((shot) => shot.id) ?? [])
          : from === 'event'
            ? (there?.tiles.map((one) => one.id) ?? [])
            : [];
    return all.filter((one) => one !== id);
  }, [from, pile, run, there, id]);
  const colours = useMemo(
    () =>
      Object.fromEntries([
        ['v', 1],
        ...Object.entries(recipe).filter(([part]) => (COLOURS as readonly string[]).includes(part)),
      ]) as unknown as Recipe,
    [recipe],
  );
  const copy = async () => {
    const done = await act(
      () => call('touchUp', { body: { ids, recipe: colours, colours: true } }),
      plural(ids.length, { one: 'Look copied to # picture', other: 'Look copied to # pictures' }),
      'pictures',
      'acts',
    );
    if (done) onClose();
  };
  return (
    <Sheet title={t`Copy this look`} onClose={onClose}>
      <Words className="text-soft">{t`Light and colours are copied; each picture keeps its own frame.`}</Words>
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`To which pictures`}>
        {pile.length ? (
          <Chip label={t`The pile ${pile.length}`} on={from === 'pile'} onPress={() => setFrom('pile')} />
        ) : null}
        {run ? (
          <Chip label={t`This moment ${run.shots.length}`} on={from === 'run'} onPress={() => setFrom('run')} />
        ) : null}
        {event !== undefined ? (
          <Chip label={t`Its event`} on={from === 'event'} onPress={() => setFrom('event')} />
        ) : null}
      </View>
      {ids.length ? (
        <div style={{ display: 'grid', gridTemplateColumns: 'repeat(2, minmax(0, 1fr))', gap: 6 }}>
          {ids.slice(0, SHOWN).map((one) => (
            <Preview key={one} id={one} recipe={colours} />
          ))}
        </div>
      ) : (
        <Words className="text-soft">{from ? t`There is no other picture there.` : t`Choose where to copy it.`}</Words>
      )}
      <Button
        label={ids.length ? plural(ids.length, { one: 'Copy to # picture', other: 'Copy to # pictures' }) : t`Copy`}
        disabled={ids.length === 0}
        onPress={() => void copy()}
      />
    </Sheet>
  );
}

/** One picture as it would be. */
function Preview({ id, recipe }: { id: number; recipe: Recipe }) {
  const look = useAnswer('look', { params: { id } }).data;
  const canvas = useRef<HTMLCanvasElement>(null);
  const mine = useMemo(() => (look ? { ...(look.recipe ?? {}), ...recipe } : null), [look, recipe]);
  useTouched(look?.sha, mine, canvas, 360);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={t`A picture with this look`}
      style={{
        width: '100%',
        aspectRatio: '4 / 3',
        objectFit: 'contain',
        borderRadius: CORNER.picture,
        background: '#0b100f',
      }}
    />
  );
}
