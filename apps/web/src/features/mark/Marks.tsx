import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { MARK_COLOURS, MARK_SHAPES, type Mark, type MarkColour, type MarkShape, MOST_MARKS } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button, IconButton } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { MarkSign } from './MarkSign';

const COLOURS: Record<MarkColour, MessageDescriptor> = {
  juniper: msg`juniper`,
  marigold: msg`marigold`,
  plum: msg`plum`,
  brick: msg`brick`,
  lake: msg`lake blue`,
  moss: msg`moss`,
  rose: msg`rose`,
  slate: msg`slate`,
};
const SHAPES: Record<MarkShape, MessageDescriptor> = {
  ring: msg`ring`,
  bars: msg`double bar`,
  oval: msg`oval`,
  kite: msg({ message: 'kite', context: 'the shape' }),
  wave: msg`wave`,
  sprig: msg`sprig`,
  tent: msg`tent`,
  knot: msg`two rings`,
};

/** The library's marks: what each means and how it looks, in the keeper's order. */
export function Marks() {
  const marks = useAnswer('marks', {}).data?.marks;
  const [editing, setEditing] = useState<Mark | 'new' | null>(null);
  if (!marks) return null;
  return (
    <View className="gap-1">
      <Words kind="small">{t`A mark says what is to be done with a picture, in your own words. It is written beside the original, too.`}</Words>
      {marks.map((mark, i) => (
        <View key={mark.id} className="min-h-field flex-row items-center gap-3 border-b border-line">
          <Pressable
            role="button"
            aria-label={t`Change the mark ${mark.meaning}`}
            onPress={() => setEditing(mark)}
            className="min-h-touch min-w-0 flex-1 flex-row items-center gap-3"
          >
            <MarkSign mark={mark} size={22} />
            <Words className="min-w-0 flex-1" numberOfLines={2}>
              {mark.meaning}
            </Words>
          </Pressable>
          <Words kind="small">{plural(mark.pictures, { one: '# picture', other: '# pictures' })}</Words>
          {i > 0 ? (
            <IconButton
              name="up"
              size={16}
              label={t`Move ${mark.meaning} up`}
              onPress={() =>
                void act(
                  () => call('changeMark', { params: { id: mark.id }, body: { position: i - 1 } }),
                  t`“${mark.meaning}” moved up`,
                  'marks',
                )
              }
            />
          ) : null}
        </View>
      ))}
      {marks.length < MOST_MARKS ? (
        <Button
          label={t`New mark`}
          icon="plus"
          weight="quiet"
          className="self-start px-0"
          onPress={() => setEditing('new')}
        />
      ) : null}
      {editing ? <MarkSheet mark={editing === 'new' ? null : editing} onClose={() => setEditing(null)} /> : null}
    </View>
  );
}

function MarkSheet({ mark, onClose }: { mark: Mark | null; onClose: () => void }) {
  const [meaning, setMeaning] = useState(mark?.meaning ?? '');
  const [colour, setColour] = useState<MarkColour | undefined>(mark?.colour);
  const [shape, setShape] = useState<MarkShape | undefined>(mark?.shape);
  const save = async () => {
    const body = { meaning: meaning.trim(), ...(colour ? { colour } : {}), ...(shape ? { shape } : {}) };
    const done = mark
      ? await act(
          () => call('changeMark', { params: { id: mark.id }, body }),
          t`Mark “${body.meaning}” changed`,
          'marks',
        )
      : await act(() => call('makeMark', { body }), t`Mark “${body.meaning}” made`, 'marks');
    if (done) onClose();
  };
  const choice = <T extends string>(
    all: readonly T[],
    now: T | undefined,
    set: (one: T) => void,
    name: (one: T) => string,
    sign: (one: T) => Pick<Mark, 'colour' | 'shape'>,
  ) => (
    <View className="flex-row flex-wrap gap-1" role="radiogroup">
      {all.map((one) => (
        <Pressable
          key={one}
          role="radio"
          aria-checked={one === now}
          aria-label={name(one)}
          onPress={() => set(one)}
          className={`h-11 w-11 items-center justify-center rounded-full border ${one === now ? 'border-ink bg-mist' : 'border-line'}`}
        >
          <MarkSign mark={sign(one)} size={20} />
        </Pressable>
      ))}
    </View>
  );
  return (
    <Sheet title={mark ? t`Change the mark` : t`A new mark`} onClose={onClose}>
      <Field
        label={t`What it means`}
        placeholder={t`to print, scan again …`}
        value={meaning}
        onChangeText={setMeaning}
        maxLength={60}
        onSubmitEditing={() => meaning.trim() && void save()}
      />
      <Words kind="small">{t`Colour`}</Words>
      {choice(
        MARK_COLOURS,
        colour,
        setColour,
        (one) => i18n._(COLOURS[one]),
        (one) => ({ colour: one, shape: shape ?? 'ring' }),
      )}
      <Words kind="small">{t`Shape`}</Words>
      {choice(
        MARK_SHAPES,
        shape,
        setShape,
        (one) => i18n._(SHAPES[one]),
        (one) => ({ colour: colour ?? 'juniper', shape: one }),
      )}
      <Button label={t`Save`} onPress={() => void save()} disabled={!meaning.trim()} />
      {mark ? (
        <Button
          weight="brick"
          label={plural(mark.pictures, {
            one: 'Remove the mark, from # picture too',
            other: 'Remove the mark, from # pictures too',
          })}
          onPress={() => {
            onClose();
            void act(
              () => call('removeMark', { params: { id: mark.id } }),
              t`Mark “${mark.meaning}” removed`,
              'marks',
              'said',
            );
          }}
        />
      ) : null}
    </Sheet>
  );
}
