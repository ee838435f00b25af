import { plural, t } from '@lingui/core/macro';
import type { Sureness } from '@gemmel/contract';
import { useId, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { sayList, sayNumber, sayShare } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { SIZE } from '@/ui/tokens';

/** What two thresholds (0..1) mean on a household's own faces: how many are filed, how many of them wrongly, how many asked. */
export function meaning(s: Sureness, ask: number, file: number): { files: number; wrong: number; asks: number } {
  let [files, wrong, asked] = [0, 0, 0];
  s.faces.forEach((n, step) => {
    const may = step >= Math.round(100 * file) ? s.mayFile[step]! : 0;
    files += may;
    // In the middle of its hundredth, a face is wrong as often as it is uncertain.
    wrong += may * Math.max(0, 1 - (step + 0.5) / 100);
    if (step >= Math.round(100 * ask)) asked += n - may;
  });
  return { files, wrong: Math.round(wrong), asks: asked };
}

/** Recognition of faces: how sure it must be, with what that means here, and the switch. */
export function Recognition() {
  const keeper = useMe().data?.member?.part === 'keeper';
  const { data, refetch } = useAnswer('sureness', {});
  const [ask, setAsk] = useState<number | null>(null);
  const [file, setFile] = useState<number | null>(null);
  const [stopping, setStopping] = useState(false);
  if (!data) return null;
  const nowFile = file ?? data.file;
  const nowAsk = Math.min(ask ?? data.ask, nowFile);
  const { files, wrong, asks } = meaning(data, nowAsk, nowFile);
  const moved = Math.abs(nowFile - data.file) > 1e-6 || Math.abs(nowAsk - data.ask) > 1e-6;
  const keep = async () => {
    const done = await act(
      () => call('setSureness', { body: { ask: nowAsk, file: nowFile } }),
      t`Sureness changed`,
      'people',
    );
    if (!done) return;
    await refetch();
    setAsk(null);
    setFile(null);
  };
  const turn = async (on: boolean) => {
    setStopping(false);
    await act(
      () => call('setRecognition', { body: { on } }),
      ({ deleted }) =>
        on
          ? t`Looking for faces in all pictures again`
          : [
              t`Recognition is off`,
              plural(deleted, {
                one: '# description of a face deleted. The names stay.',
                other: '# descriptions of faces deleted. The names stay.',
              }),
            ],
      'people',
    );
    await refetch();
  };
  if (!data.recognises)
    return (
      <View className="items-start gap-2">
        <Heading>{t`Recognising faces`}</Heading>
        <Words className="text-soft">{t`Off. Gemmel doesn’t look for faces and keeps nothing that describes one. Names you gave stay.`}</Words>
        {keeper ? <Button label={t`Recognise faces again`} weight="second" onPress={() => void turn(true)} /> : null}
      </View>
    );
  return (
    <View className="gap-3">
      <Heading>{t`Recognising faces`}</Heading>
      {data.seeking ? (
        <View className="gap-1.5">
          <DoubleBar
            tone="waiting"
            width={220}
            share={data.seeking.done / Math.max(1, data.seeking.of)}
            label={t`Pictures looked through`}
          />
          <Words kind="small">{t`Looking for faces: ${sayNumber(data.seeking.done)} of ${sayNumber(data.seeking.of)} pictures, ${sayShare(data.seeking.done / Math.max(1, data.seeking.of))}`}</Words>
        </View>
      ) : null}
      <Words aria-live="polite">
        {[
          plural(files, {
            one: 'Set like this, # face is named automatically',
            other: 'Set like this, # faces are named automatically',
          }),
          files
            ? wrong
              ? plural(wrong, { one: 'about # of them wrongly', other: 'about # of them wrongly' })
              : t`probably all correct`
            : '',
          plural(asks, { one: 'you’ll be asked about # more', other: 'you’ll be asked about # more' }),
        ]
          .filter(Boolean)
          .join('; ')}
      </Words>
      <Slider
        label={t`Name faces automatically from`}
        value={nowFile}
        min={0.6}
        max={1}
        disabled={!keeper}
        onChange={setFile}
        said={nowFile >= 1 ? t`never` : sayShare(nowFile)}
      />
      <Slider
        label={t`Ask about faces from`}
        value={nowAsk}
        min={0.05}
        max={0.95}
        disabled={!keeper}
        onChange={setAsk}
        said={sayShare(nowAsk)}
      />
      <Words kind="small">
        {[
          plural(data.answers, {
            one: 'Worked out from # answer your household gave.',
            other: 'Worked out from # answers your household gave.',
          }),
          data.alike.length
            ? t`Easily mistaken for each other: ${data.alike.map((pair) => sayList(pair)).join('; ')}. When in doubt between them, you’ll be asked.`
            : '',
        ]
          .filter(Boolean)
          .join(' ')}
      </Words>
      {keeper ? (
        <View className="flex-row flex-wrap gap-2">
          {moved ? <Button label={t`Save`} onPress={() => void keep()} /> : null}
          {moved ? (
            <Button label={t`Back to what it was`} weight="quiet" onPress={() => (setAsk(null), setFile(null))} />
          ) : (
            <Button
              label={t`Switch recognition off …`}
              weight="quiet"
              className="px-0"
              onPress={() => setStopping(true)}
            />
          )}
        </View>
      ) : null}
      {stopping ? (
        <Sheet title={t`Switch recognition off?`} onClose={() => setStopping(false)}>
          <Words>{t`Everything that describes faces in this library is deleted at once and can’t be brought back, and so are the marks on faces without a name. Names you gave stay. Gemmel won’t look for faces in new pictures.`}</Words>
          <Words className="text-soft">{t`Descriptions never leave this computer and are never shared, whether recognition is on or off.`}</Words>
          <Button weight="brick" label={t`Delete and switch off`} onPress={() => void turn(false)} />
          <Button weight="quiet" label={t`Leave it on`} onPress={() => setStopping(false)} />
        </Sheet>
      ) : null}
    </View>
  );
}

function Slider({
  label,
  value,
  min,
  max,
  disabled,
  onChange,
  said,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  disabled: boolean;
  onChange: (value: number) => void;
  said: string;
}) {
  const id = useId();
  return (
    <View className="gap-0.5">
      <View className="flex-row items-baseline justify-between gap-3">
        <label htmlFor={id} style={{ minWidth: 0 }}>
          <Words>{label}</Words>
        </label>
        <Words kind="strong" numberOfLines={1} className="shrink-0">
          {said}
        </Words>
      </View>
      <input
        id={id}
        type="range"
        min={min}
        max={max}
        step={0.01}
        value={value}
        disabled={disabled}
        aria-valuetext={said}
        onChange={(event) => onChange(Number(event.target.value))}
        style={{ width: '100%', height: SIZE.touch, accentColor: 'rgb(var(--juniper))' }}
      />
    </View>
  );
}
