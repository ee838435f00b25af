import type { DatePreview, RedatingAsked } from '@gemmel/contract';
import { sayWhenSpan } from '@gemmel/core';
import { useEffect, useMemo, useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { count, sayMoment, sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { readAmount, readZone } from './amounts';

type Way = 'set' | 'shift' | 'zone' | 'order' | 'from';
const WAYS: [Way, string][] = [
  ['set', 'Say when'],
  ['shift', 'Shift'],
  ['zone', 'Time zone'],
  ['order', 'In their order'],
  ['from', 'From their names'],
];
const FROM = [
  ['file name', 'The file’s name'],
  ['folder name', 'The folder’s name'],
  ['file', 'When the file was changed'],
] as const;

type Time = DatePreview['pictures'][number]['before'];

/** A time in words: a moment, or the days it may be. */
export const sayTime = ({ local, span }: Time): string =>
  span ? sayWhenSpan(span) : local ? sayMoment(local) : 'no date';

/** Mends the dates of one picture or many, with before and after shown first. */
export function DatesSheet({
  ids,
  now = null,
  onClose,
  onMended,
}: {
  ids: readonly number[];
  /** The time of the one picture it is about. */
  now?: string | null;
  onClose: () => void;
  onMended?: () => void;
}) {
  const [way, setWay] = useState<Way>('set');
  const [when, setWhen] = useState('');
  const [picked, setPicked] = useState<string | null>(now?.slice(0, 19) ?? null);
  const [amount, setAmount] = useState('');
  const [back, setBack] = useState(false);
  const [zone, setZone] = useState('+1');
  const [keep, setKeep] = useState<'clock' | 'instant'>('clock');
  const [first, setFirst] = useState('');
  const [step, setStep] = useState('60');
  const [from, setFrom] = useState<(typeof FROM)[number][0]>('file name');
  const [preview, setPreview] = useState<DatePreview | null>(null);
  const [told, setTold] = useState('');
  const n = count(ids.length, 'picture');
  const how = useMemo((): RedatingAsked | null => {
    if (way === 'set') {
      const text = when.trim() || (picked !== (now?.slice(0, 19) ?? null) ? picked : null);
      return text ? { set: text } : null;
    }
    if (way === 'shift') {
      const seconds = readAmount(amount);
      return seconds ? { shift: back ? -seconds : seconds } : null;
    }
    if (way === 'zone') {
      const minutes = readZone(zone);
      return minutes === null ? null : { zone: minutes, keep };
    }
    if (way === 'order') {
      const seconds = Number(step);
      return first.trim() && seconds >= 0 && seconds <= 86_400
        ? { order: { from: first.trim(), step: Math.round(seconds) } }
        : null;
    }
    return { from };
  }, [way, when, picked, now, amount, back, zone, keep, first, step, from]);
  useEffect(() => {
    let here = true;
    const timer = setTimeout(() => {
      setTold('');
      if (!how) return setPreview(null);
      call('previewDates', { body: { ids: [...ids], how } }).then(
        (answer) => here && setPreview(answer),
        (error: unknown) => here && (setPreview(null), setTold(wordsOf(error))),
      );
    }, 250);
    return () => {
      here = false;
      clearTimeout(timer);
    };
  }, [how, ids]);
  const mend = async (asked: RedatingAsked, said: string) => {
    onClose();
    const done = await act(
      () => call('mendDates', { body: { ids: [...ids], how: asked } }),
      said,
      'pictures',
      'events',
    );
    if (done) onMended?.();
  };
  return (
    <Sheet title={ids.length === 1 ? 'When was it taken?' : `The dates of ${n}`} onClose={onClose}>
      <View className="flex-row flex-wrap gap-x-2">
        {WAYS.filter(([name]) => ids.length > 1 || name !== 'order').map(([name, label]) => (
          <Chip key={name} label={label} on={way === name} onPress={() => setWay(name)} />
        ))}
      </View>
      {way === 'set' ? (
        <>
          <Field
            label="In your words: “16 May 2026 14:07”, “summer 1988”, “about 1960”"
            value={when}
            onChangeText={setWhen}
            maxLength={60}
          />
          <DayField
            label="Date and time, as the clock on the wall showed it"
            time
            value={picked}
            onChange={(value) => {
              setPicked(value);
              setWhen('');
            }}
          />
        </>
      ) : null}
      {way === 'shift' ? (
        <>
          <Field
            label="By how much: “1:02” hours, “3 days”, “-45 min”, “1 year”"
            value={amount}
            onChangeText={setAmount}
            maxLength={40}
          />
          <View className="flex-row gap-2">
            <Chip label="Later" on={!back} onPress={() => setBack(false)} />
            <Chip label="Earlier" on={back} onPress={() => setBack(true)} />
          </View>
        </>
      ) : null}
      {way === 'zone' ? (
        <>
          <Field label="Hours ahead of Greenwich: “+2”, “-3:30”" value={zone} onChangeText={setZone} maxLength={6} />
          <View className="flex-row flex-wrap gap-x-2">
            <Chip label="The clock on the wall was right" on={keep === 'clock'} onPress={() => setKeep('clock')} />
            <Chip label="The moment was right" on={keep === 'instant'} onPress={() => setKeep('instant')} />
          </View>
        </>
      ) : null}
      {way === 'order' ? (
        <>
          <Words kind="small">They keep the order they were picked in, one after the other.</Words>
          <Field label="The first: “1 July 1974 12:00”" value={first} onChangeText={setFirst} maxLength={60} />
          <Field
            label="Seconds from one to the next"
            value={step}
            onChangeText={setStep}
            inputMode="numeric"
            maxLength={5}
          />
        </>
      ) : null}
      {way === 'from' ? (
        <View className="flex-row flex-wrap gap-x-2">
          {FROM.map(([name, label]) => (
            <Chip key={name} label={label} on={from === name} onPress={() => setFrom(name)} />
          ))}
        </View>
      ) : null}
      {told ? (
        <Words role="alert" className="text-brick">
          {told}
        </Words>
      ) : null}
      {preview ? <Preview preview={preview} /> : null}
      <Button
        label={
          ids.length === 1 ? 'Keep this time' : preview ? `Mend ${count(preview.changed, 'date')}` : 'Mend the dates'
        }
        disabled={!how || !preview?.changed}
        onPress={() =>
          how &&
          void mend(
            how,
            ids.length === 1
              ? 'The time is changed; its event may be another now'
              : `${count(preview!.changed, 'date')} mended. Events and folders follow.`,
          )
        }
      />
      <Button
        label={ids.length === 1 ? 'Nobody knows: no date' : 'Nobody knows: take their dates away'}
        weight="quiet"
        onPress={() => void mend({ none: true }, ids.length === 1 ? 'It has no date now.' : `${n} have no date now.`)}
      />
    </Sheet>
  );
}

const SHOWN = 6;

function Preview({ preview }: { preview: DatePreview }) {
  const [all, setAll] = useState(false);
  const rows = preview.pictures.filter((p) => p.after);
  const shown = all ? rows : rows.slice(0, SHOWN);
  return (
    <View role="region" aria-label="Before and after" className="rounded-act border border-line bg-card px-3.5 py-1.5">
      {preview.left ? (
        <Words kind="small" className="py-1.5">
          {preview.changed
            ? `${sayNumber(preview.left)} of them say nothing of this and stay as they are.`
            : 'Nothing in them says when they were taken in this way.'}
        </Words>
      ) : null}
      {shown.map((p) => (
        <View key={p.id} className="border-t border-line py-1.5 first:border-t-0">
          <Words kind="tiny" numberOfLines={1}>
            {p.name}
          </Words>
          <Words kind="small">{sayTime(p.before)}</Words>
          <Words kind="small" className="font-semi text-ink">
            {p.after ? sayTime(p.after) : ''}
          </Words>
        </View>
      ))}
      {rows.length > shown.length ? (
        <Button
          label={`Show ${sayNumber(rows.length - shown.length)} more`}
          weight="quiet"
          onPress={() => setAll(true)}
        />
      ) : null}
    </View>
  );
}
