import { plural, t } from '@lingui/core/macro';
import type { Mark } from '@gemmel/contract';
import { MOST_MARKS } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { change } from '@/features/said/acts';
import { act } from '@/state/acts';
import { Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { MarkSign } from './MarkSign';

/** Gives some pictures a mark, or takes it away where all of them bear it. */
export function giveMark(ids: readonly number[], mark: Mark, has: boolean): Promise<boolean> {
  return has
    ? change(ids, { mark: null }, plural(ids.length, { one: 'Mark removed', other: 'Marks of # pictures removed' }))
    : change(
        ids,
        { mark: mark.id },
        plural(ids.length, { one: `Marked “${mark.meaning}”`, other: `# pictures marked “${mark.meaning}”` }),
      );
}

/**
 * The library's marks as a row to choose from. `on` are those that all pictures bear, `some` those that only some do; the
 * keeper may make a new one in place.
 */
export function MarkChoice({
  on,
  some = [],
  onChoose,
}: {
  on: number | null;
  some?: readonly number[];
  onChoose: (mark: Mark, has: boolean) => void;
}) {
  const marks = useAnswer('marks', {}).data?.marks ?? [];
  const keeper = useMe().data?.member?.part === 'keeper';
  const [typed, setTyped] = useState<string | null>(null);
  const make = async () => {
    const meaning = typed?.trim();
    setTyped(null);
    if (!meaning) return;
    const done = await act(() => call('makeMark', { body: { meaning } }), t`Mark “${meaning}” made`, 'marks');
    if (done) onChoose({ id: done.id, meaning, colour: 'slate', shape: 'ring', pictures: 0 }, false);
  };
  return (
    <View className="flex-row flex-wrap items-center gap-x-2" role="group" aria-label={t`Marks`}>
      {marks.map((mark) => {
        const has = mark.id === on;
        const partly = some.includes(mark.id);
        return (
          <Pressable
            key={mark.id}
            role="button"
            aria-pressed={has ? true : partly ? 'mixed' : false}
            aria-label={partly ? t`${mark.meaning}, on some of them` : mark.meaning}
            onPress={() => onChoose(mark, has)}
            hitSlop={6}
            className={`my-[5px] min-h-chip max-w-full flex-row items-center gap-1.5 rounded-full border px-3.5 active:opacity-70 ${has ? 'border-ink bg-mist' : partly ? 'border-dashed border-ink bg-card' : 'border-line bg-card'}`}
          >
            <MarkSign mark={mark} size={16} />
            <Words className="shrink font-medium text-small text-ink" numberOfLines={1}>
              {mark.meaning}
            </Words>
          </Pressable>
        );
      })}
      {keeper && marks.length < MOST_MARKS ? (
        typed === null ? (
          <Chip icon="plus" label={t`Mark`} onPress={() => setTyped('')} />
        ) : (
          <TextInput
            autoFocus
            aria-label={t`What the new mark means`}
            placeholder={t`to print, scan again …`}
            value={typed}
            onChangeText={setTyped}
            onSubmitEditing={() => void make()}
            onBlur={() => void make()}
            onKeyPress={(event) => {
              if (event.nativeEvent.key === 'Escape') setTyped(null);
            }}
            maxLength={60}
            className="my-[5px] min-h-touch w-full rounded-small border-2 border-juniper bg-card px-3 font-sans text-body text-ink"
          />
        )
      ) : null}
    </View>
  );
}
