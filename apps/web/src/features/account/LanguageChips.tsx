import { type Language, LANGUAGE, LANGUAGES } from '@gemmel/core';
import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { Chip } from '@/ui/Button';

/** The languages to choose from, each by its own name. */
export function LanguageChips({
  chosen,
  onChoose,
  label = t`Language`,
}: {
  chosen: Language | null;
  onChoose: (language: Language) => void;
  label?: string;
}) {
  return (
    <View role="group" aria-label={label} className="flex-row flex-wrap gap-x-2">
      {LANGUAGES.map((one) => (
        <Chip key={one} label={LANGUAGE[one].name} on={chosen === one} onPress={() => onChoose(one)} />
      ))}
    </View>
  );
}
