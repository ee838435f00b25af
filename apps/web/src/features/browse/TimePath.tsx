import { t } from '@lingui/core/macro';
import { type Level, levelOf, normalise, topParts } from '@gemmel/core';
import { Pressable, View } from 'react-native';
import { useAsk } from '@/state/ask';
import { Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';

/** Where in time the question stands: its year and month lead up again, and all of it or only what is dated no closer. */
export function TimePath() {
  const { question, set } = useAsk();
  const parts = topParts(question);
  const at = parts.findIndex((part) => levelOf(part, words()) !== null);
  const level = at < 0 ? null : levelOf(parts[at]!, words());
  if (!level) return null;
  const put = (part: Level['up'][number]['part']) =>
    set(normalise({ all: parts.map((old, i) => (i === at ? part : old)) }));
  const all = () => set(normalise({ all: parts.filter((_, i) => i !== at) }));
  return (
    <View className="mb-2 flex-row flex-wrap items-center gap-x-1.5">
      <Pressable role="button" onPress={all} className="min-h-touch justify-center">
        <Words kind="small" className="font-semi text-juniper">{t`All years`}</Words>
      </Pressable>
      {level.up.map(({ name, part }) => (
        <Pressable key={name} role="button" onPress={() => put(part)} className="min-h-touch justify-center">
          <Words kind="small" className="font-semi text-juniper">{`› ${name}`}</Words>
        </Pressable>
      ))}
      <Words kind="small" className="font-semi text-ink">{`› ${level.name}`}</Words>
      {level.below && level.only ? (
        <View className="flex-row flex-wrap gap-x-1.5 pl-1.5">
          <Chip label={t`With everything below`} on={!level.isOnly} onPress={() => put(level.below!)} />
          <Chip label={t`This level only`} on={level.isOnly} onPress={() => put(level.only!)} />
        </View>
      ) : null}
    </View>
  );
}
