import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { Pressable, TextInput } from 'react-native';
import { Words } from '@/ui/Words';

/** Words that are changed where they stand: press to write, Enter or leaving keeps, Escape does not. */
export function Line({
  label,
  value,
  placeholder,
  onSave,
  serif = false,
  many = false,
}: {
  label: string;
  value: string | null;
  placeholder: string;
  onSave: (text: string | null) => void;
  serif?: boolean;
  many?: boolean;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const finish = () => {
    if (typed === null) return;
    const next = typed.trim() || null;
    setTyped(null);
    if (next !== value) onSave(next);
  };
  const face = serif ? 'font-serif text-head' : 'font-sans text-body';
  if (typed === null)
    return (
      <Pressable
        role="button"
        aria-label={value ? t`${label}: ${value}. Edit` : placeholder}
        onPress={() => setTyped(value ?? '')}
        className="min-h-touch justify-center"
      >
        <Words className={value ? `${face} text-ink` : 'text-body text-soft'}>{value ?? placeholder}</Words>
      </Pressable>
    );
  return (
    <TextInput
      autoFocus
      aria-label={label}
      value={typed}
      placeholder={placeholder}
      onChangeText={setTyped}
      multiline={many}
      numberOfLines={many ? 3 : 1}
      maxLength={many ? 4000 : 200}
      onBlur={finish}
      onSubmitEditing={many ? undefined : finish}
      onKeyPress={(event) => {
        if (event.nativeEvent.key === 'Escape') setTyped(null);
      }}
      className={`min-h-touch rounded-small border-2 border-juniper bg-card px-3 py-2 text-ink ${face}`}
    />
  );
}
