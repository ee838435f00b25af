import { t } from '@lingui/core/macro';
import { type Names, type Question, toSentence, widerOf } from '@gemmel/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk } from '@/state/ask';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';

/** What can be made of one part of the question, in place: left out, wider, any of several instead of all, removed. */
export function ChipSheet({
  part,
  index,
  names,
  onClose,
}: {
  part: Question;
  index: number;
  names: Names;
  onClose: () => void;
}) {
  const { change, widen } = useAsk();
  const tags = useAnswer('tags', {}).data?.tags;
  const folders = useAnswer('folders', {}).data?.folders;
  const places = useAnswer('places', {}).data?.places;
  const wider = useMemo(
    () =>
      widerOf(part, {
        tagAbove: (id) => tags?.find((tag) => tag.id === id)?.parent ?? null,
        folderAbove: (id) => folders?.find((folder) => folder.id === id)?.parent ?? null,
        regionOf: (country, place) =>
          places?.find((one) => one.country === country && one.place === place)?.region ?? null,
      }),
    [part, tags, folders, places],
  );
  const take = (next: Question) => {
    change(index, next);
    onClose();
  };
  const who = 'who' in part ? part.who : null;
  const modes =
    who && who.people.length > 1 ? (['all', 'any', 'among', 'only'] as const) : who ? (['all', 'only'] as const) : [];
  const say = (question: Question) => toSentence(question, names, words());
  return (
    <Sheet title={say(part)} onClose={onClose}>
      <View className="gap-2">
        {modes.map((mode) =>
          who && mode !== who.mode ? (
            <Button
              key={mode}
              weight="second"
              label={say({ who: { ...who, mode } })}
              onPress={() => take({ who: { ...who, mode } })}
            />
          ) : null,
        )}
        {wider ? (
          <Button weight="second" label={t`Wider: ${say(wider)}`} onPress={() => take(wider)} />
        ) : (
          <Words kind="small">{t`It can’t be made any wider.`}</Words>
        )}
        <Button
          weight="second"
          label={'not' in part ? t`Ask for it again: ${say(part.not)}` : t`Leave out: ${say({ not: part })}`}
          onPress={() => take('not' in part ? part.not : { not: part })}
        />
        <Button
          weight="quiet"
          label={t`Remove it from the question`}
          onPress={() => {
            widen(index);
            onClose();
          }}
        />
      </View>
    </Sheet>
  );
}
