import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { DatePreview, RedatingAsked } from '@gemmel/contract';
import { useEffect, useMemo, useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { sayMoment, sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { readAmount, readZone } from './amounts';
import { sayRemembered } from '@/words/said';
import type { Said } from '@/state/acts';

type Way = 'set' | 'shift' | 'zone' | 'order' | 'from';
const WAYS: [Way, MessageDescriptor][] = [
  ['set', msg`Set`],
  ['shift', msg`Shift`],
  ['zone', msg`Time zone`],
  ['order', msg`In their order`],
  ['from', msg`From their names`],
];
const FROM = [
  ['file name', msg`The file’s name`],
  ['folder name', msg`The folder’s name`],
  ['file', msg`When the file was changed`],
] as const;

type Time = DatePreview['pictures'][number]['before'];

/** A time in words: a moment, or the days it may be. */
export const sayTime = ({ local, span }: Time): string =>
  span ? sayRemembered(span) : local ? sayMoment(local) : t`no date`;

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
  const mend = async (asked: RedatingAsked, said: Said) => {
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
    <Sheet title={plural(ids.length, { one: 'When was it taken?', other: 'Dates of # pictures' })} onClose={onClose}>
      <View className="flex-row flex-wrap gap-x-2">
        {WAYS.filter(([name]) => ids.length > 1 || name !== 'order').map(([name, label]) => (
          <Chip key={name} label={i18n._(label)} on={way === name} onPress={() => setWay(name)} />
        ))}
      </View>
      {way === 'set' ? (
        <>
          <Field
            label={t`In your own words: “16 May 2026 14:07”, “summer 1988”, “about 1960”`}
            value={when}
            onChangeText={setWhen}
            maxLength={60}
          />
          <DayField
            label={t`Date and time by the clock on the wall`}
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
            label={t`By how much: “1:02” hours, “3 days”, “-45 min”, “1 year”`}
            value={amount}
            onChangeText={setAmount}
            maxLength={40}
          />
          <View className="flex-row gap-2">
            <Chip label={t`Later`} on={!back} onPress={() => setBack(false)} />
            <Chip label={t`Earlier`} on={back} onPress={() => setBack(true)} />
          </View>
        </>
      ) : null}
      {way === 'zone' ? (
        <>
          <Field label={t`Hours ahead of Greenwich: “+2”, “-3:30”`} value={zone} onChangeText={setZone} maxLength={6} />
          <View className="flex-row flex-wrap gap-x-2">
            <Chip label={t`The clock on the wall was right`} on={keep === 'clock'} onPress={() => setKeep('clock')} />
            <Chip label={t`The moment was right`} on={keep === 'instant'} onPress={() => setKeep('instant')} />
          </View>
        </>
      ) : null}
      {way === 'order' ? (
        <>
          <Words kind="small">{t`They keep the order you picked them in, one after another.`}</Words>
          <Field label={t`The first: “1 July 1974 12:00”`} value={first} onChangeText={setFirst} maxLength={60} />
          <Field
            label={t`Seconds from one to the next`}
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
            <Chip key={name} label={i18n._(label)} on={from === name} onPress={() => setFrom(name)} />
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
          ids.length === 1
            ? t`Use this time`
            : preview
              ? plural(preview.changed, { one: 'Correct # date', other: 'Correct # dates' })
              : t`Correct the dates`
        }
        disabled={!how || !preview?.changed}
        onPress={() =>
          how &&
          void mend(
            how,
            ids.length === 1
              ? [t`Date changed`, t`It may now be in another event.`]
              : [
                  plural(preview!.changed, { one: '# date corrected', other: '# dates corrected' }),
                  t`Events and folders follow.`,
                ],
          )
        }
      />
      <Button
        label={plural(ids.length, { one: 'Not known: remove the date', other: 'Not known: remove their dates' })}
        weight="quiet"
        onPress={() =>
          void mend({ none: true }, plural(ids.length, { one: 'Date removed', other: 'Dates of # pictures removed' }))
        }
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
    <View
      role="region"
      aria-label={t`Before and after`}
      className="rounded-act border border-line bg-card px-3.5 py-1.5"
    >
      {preview.left ? (
        <Words kind="small" className="py-1.5">
          {preview.changed
            ? plural(preview.left, {
                one: '# of them says nothing about this and stays as it is.',
                other: '# of them say nothing about this and stay as they are.',
              })
            : t`That doesn’t say when they were taken.`}
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
          label={t`Show ${sayNumber(rows.length - shown.length)} more`}
          weight="quiet"
          onPress={() => setAll(true)}
        />
      ) : null}
    </View>
  );
}
