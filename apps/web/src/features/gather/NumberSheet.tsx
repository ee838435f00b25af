import { i18n } from '@lingui/core';
import { plural, t } from '@lingui/core/macro';
import { type Numbering, numberNames } from '@gemmel/core';
import { useDeferredValue, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { NumberFields } from './NumberFields';
import { DAYS, PLAIN, wholeNumber } from './numbering';

interface Props {
  /** What has to be numbered: a batch, or files that are still to be taken. */
  of: { batch: number; coming: boolean } | { files: readonly { name: string; day: string | null }[] };
  before?: Numbering | null;
  /** For files that are still to be taken: what was chosen, or null for their own names. */
  onChoose?: (numbering: Numbering | null) => void;
  onClose: () => void;
}

/** A base name and a running number for files, with the names they would get. The name a device gave stays known. */
export function NumberSheet({ of, before = null, onChoose, onClose }: Props) {
  const [numbering, setNumbering] = useState<Numbering>(before ?? PLAIN);
  const [start, setStart] = useState(String((before ?? PLAIN).start));
  const set = (change: Partial<Numbering>) => setNumbering((old) => ({ ...old, ...change }));
  const ready = numbering.base.trim() !== '' && wholeNumber(start, 0, 999_999) !== null;
  const shown = useDeferredValue(numbering);
  const number = async (batch: number, coming: boolean) => {
    await act(
      () => call('numberFiles', { body: { batch, numbering } }),
      (done) =>
        coming
          ? t`The files will be numbered when all of them are in`
          : [
              plural(done.count, { one: '# file numbered', other: '# files numbered' }),
              t`The names they came with are remembered.`,
            ],
      'batches',
      'said',
    );
  };
  return (
    <Sheet title={t`Number the files`} onClose={onClose}>
      <Field
        label={t`Name`}
        value={numbering.base}
        placeholder={t`Harvest`}
        maxLength={80}
        autoFocus
        onChangeText={(base) => set({ base })}
      />
      <NumberFields start={start} digits={numbering.digits} onStart={setStart} onChange={set} />
      <View className="flex-row flex-wrap gap-x-2">
        {DAYS.map(([day, label]) => (
          <Chip key={day} label={i18n._(label)} on={numbering.day === day} onPress={() => set({ day })} />
        ))}
      </View>
      {numbering.base.trim() === '' ? (
        <Words kind="small">{t`Type a name to see the new names here.`}</Words>
      ) : 'files' in of ? (
        <Names names={namesOf(of.files, shown)} />
      ) : (
        <Preview batch={of.batch} numbering={shown} />
      )}
      <Button
        label={onChoose ? t`Use these names` : t`Number the files`}
        disabled={!ready}
        onPress={() => {
          onClose();
          if (onChoose) onChoose(numbering);
          else if ('batch' in of) void number(of.batch, of.coming);
        }}
      />
      {onChoose && before ? (
        <Button
          label={t`Keep their own names`}
          weight="quiet"
          onPress={() => {
            onClose();
            onChoose(null);
          }}
        />
      ) : null}
    </Sheet>
  );
}

function namesOf(files: readonly { name: string; day: string | null }[], numbering: Numbering) {
  const names = numberNames(numbering, files);
  const all = files.map(({ name }, i) => ({ from: name, to: names[i]! }));
  return all.length > 6 ? [...all.slice(0, 4), ...all.slice(-2)] : all;
}

function Preview({ batch, numbering }: { batch: number; numbering: Numbering }) {
  const { data } = useAnswer('previewNumbers', {
    body: { batch, numbering: { ...numbering, base: numbering.base.trim() } },
  });
  return <Names names={data?.names ?? []} />;
}

/** New names beside the old ones: the first and the last few. */
export function Names({ names }: { names: readonly { from: string; to: string }[] }) {
  return (
    <View aria-live="polite" className="gap-1 rounded-act bg-mist px-4 py-3">
      {names.map(({ from, to }, i) => (
        <View
          key={`${from} ${i}`}
          className={`flex-row flex-wrap items-baseline gap-x-3 ${i === 4 ? 'border-t border-soft pt-1' : ''}`}
        >
          <Words kind="small" className="min-w-[40%] flex-1" numberOfLines={1}>
            {from}
          </Words>
          <Words className="flex-1 font-semi text-small" style={{ wordBreak: 'break-all' } as object}>
            {to}
          </Words>
        </View>
      ))}
    </View>
  );
}
