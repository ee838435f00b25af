import type { Sureness } from '@gemmel/contract';
import { useId, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { DoubleBar, Heading } from '@/ui/DoubleBar';
import { count, sayNumber } from '@/ui/say';
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
      'How sure it must be is changed',
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
          ? 'Faces are looked for again, in all pictures.'
          : `Recognition is off. ${count(deleted, 'description')} of faces deleted; the names stay.`,
      'people',
    );
    await refetch();
  };
  if (!data.recognises)
    return (
      <View className="items-start gap-2">
        <Heading>Recognising faces</Heading>
        <Words className="text-soft">
          Off. No faces are looked for, nothing that describes one is kept. Names you gave stay.
        </Words>
        {keeper ? <Button label="Recognise faces again" weight="second" onPress={() => void turn(true)} /> : null}
      </View>
    );
  return (
    <View className="gap-3">
      <Heading>Recognising faces</Heading>
      {data.seeking ? (
        <View className="gap-1.5">
          <DoubleBar
            tone="waiting"
            width={220}
            share={data.seeking.done / Math.max(1, data.seeking.of)}
            label="Pictures looked through"
          />
          <Words kind="small">{`Looking for faces: ${sayNumber(data.seeking.done)} of ${count(data.seeking.of, 'picture')}, ${Math.floor((100 * data.seeking.done) / Math.max(1, data.seeking.of))} %`}</Words>
        </View>
      ) : null}
      <Words aria-live="polite">
        {`With this it files ${sayNumber(files)} by itself, ${wrong ? `about ${sayNumber(wrong)} of them wrongly` : 'probably all rightly'}, and asks about ${sayNumber(asks)}.`}
      </Words>
      <Slider
        label="Files by itself when at least this sure"
        value={nowFile}
        min={0.6}
        max={1}
        disabled={!keeper}
        onChange={setFile}
        said={nowFile >= 1 ? 'never' : `${Math.round(100 * nowFile)} %`}
      />
      <Slider
        label="Asks when at least this sure"
        value={nowAsk}
        min={0.05}
        max={0.95}
        disabled={!keeper}
        onChange={setAsk}
        said={`${Math.round(100 * nowAsk)} %`}
      />
      <Words kind="small">
        {[
          `How sure it is has been worked out from ${count(data.answers, 'answer')} of this household.`,
          data.alike.length
            ? `Easily taken for each other: ${data.alike.map(([a, b]) => `${a} and ${b}`).join('; ')}. Between them it asks whenever there is any doubt.`
            : '',
        ]
          .filter(Boolean)
          .join(' ')}
      </Words>
      {keeper ? (
        <View className="flex-row flex-wrap gap-2">
          {moved ? <Button label="Keep" onPress={() => void keep()} /> : null}
          {moved ? (
            <Button label="As it was" weight="quiet" onPress={() => (setAsk(null), setFile(null))} />
          ) : (
            <Button
              label="Switch recognition off …"
              weight="quiet"
              className="px-0"
              onPress={() => setStopping(true)}
            />
          )}
        </View>
      ) : null}
      {stopping ? (
        <Sheet title="Switch recognition off?" onClose={() => setStopping(false)}>
          <Words>
            Everything that describes faces in this library is deleted at once and cannot be brought back; so are the
            marks on faces nobody has named. Names that were given stay where they are. New pictures come in without
            looking for faces.
          </Words>
          <Words className="text-soft">
            Descriptions never leave this machine, whether recognition is on or off, and are in no share.
          </Words>
          <Button weight="brick" label="Delete and switch off" onPress={() => void turn(false)} />
          <Button weight="quiet" label="Leave it on" onPress={() => setStopping(false)} />
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
        <Words kind="strong">{said}</Words>
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
