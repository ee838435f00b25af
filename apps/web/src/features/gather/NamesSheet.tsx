import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { type NamePart, type Naming } from '@gemmel/core';
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
import { Names } from './NumberSheet';
import { wholeNumber } from './numbering';

/** Whose files are named. */
export type Named = { ids: readonly number[] } | { batch: number } | { event: number } | { album: number };

/** What the name of a file can be made of, in words. */
export const PARTS: readonly (readonly [NamePart, MessageDescriptor])[] = [
  ['words', msg`My own words`],
  ['number', msg`Number`],
  ['date', msg`Date`],
  ['year', msg`Year`],
  ['month', msg`Month`],
  ['day', msg`Day`],
  ['time', msg`Time`],
  ['event', msg`Event`],
  ['place', msg`Place`],
  ['device', msg`Device`],
  ['came', msg`Name it came with`],
];

const FIRST: Naming = { parts: ['words', 'number'], words: '', start: 1, digits: 3 };

/**
 * Names of files, put together from parts in the order in which they are touched, with the names that come of it. What the files were
 * called when they came stays known and is found.
 */
export function NamesSheet({ of, onClose }: { of: Named; onClose: () => void }) {
  const [naming, setNaming] = useState<Naming>(FIRST);
  const [start, setStart] = useState('1');
  const set = (change: Partial<Naming>) => setNaming((old) => ({ ...old, ...change }));
  const toggle = (part: NamePart) =>
    set({ parts: naming.parts.includes(part) ? naming.parts.filter((one) => one !== part) : [...naming.parts, part] });
  const has = (part: NamePart) => naming.parts.includes(part);
  const which = 'ids' in of ? { ids: [...of.ids] } : of;
  const ready =
    naming.parts.length > 0 &&
    (!has('words') || naming.words.trim() !== '') &&
    (!has('number') || wholeNumber(start, 0, 999_999) !== null);
  const shown = useDeferredValue(naming);
  const { data } = useAnswer(
    'previewNames',
    {
      body: { ...which, naming: { ...shown, words: shown.words.trim(), parts: [...shown.parts] } },
    },
    { enabled: ready },
  );
  const give = async () => {
    onClose();
    await act(
      () => call('nameFiles', { body: { ...which, naming: { ...naming, parts: [...naming.parts] } } }),
      (done) => [
        plural(done.count, { one: '# file named', other: '# files named' }),
        t`The names they came with are remembered.`,
      ],
      'batches',
      'said',
      'pictures',
    );
  };
  return (
    <Sheet title={t`Names of the files`} onClose={onClose}>
      <Words kind="small">{t`Tap what the names are to be made of, in their order.`}</Words>
      <View className="flex-row flex-wrap gap-x-2" role="group" aria-label={t`Parts of the name`}>
        {PARTS.map(([part, label]) => {
          const at = naming.parts.indexOf(part);
          const name = i18n._(label);
          return (
            <Chip key={part} label={at < 0 ? name : t`${at + 1}. ${name}`} on={at >= 0} onPress={() => toggle(part)} />
          );
        })}
      </View>
      {has('words') ? (
        <Field
          label={t`My own words`}
          value={naming.words}
          placeholder={t`Harvest`}
          maxLength={80}
          autoFocus
          onChangeText={(words) => set({ words })}
        />
      ) : null}
      {has('number') ? <NumberFields start={start} digits={naming.digits} onStart={setStart} onChange={set} /> : null}
      {ready ? (
        <Names names={data?.names ?? []} />
      ) : (
        <Words kind="small">
          {naming.parts.length ? t`Type a name to see the new names here.` : t`Choose at least one part.`}
        </Words>
      )}
      <Button
        label={data && ready ? plural(data.count, { one: 'Name # file', other: 'Name # files' }) : t`Name the files`}
        disabled={!ready}
        onPress={() => void give()}
      />
    </Sheet>
  );
}
