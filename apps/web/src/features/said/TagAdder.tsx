import { t } from '@lingui/core/macro';
import { fold } from '@gemmel/core';
import { useRef, useState } from 'react';
import { Pressable, TextInput, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';

/** Adds a tag with type-ahead over those in use. */
export function TagAdder({ onAdd, open: always = false }: { onAdd: (tag: string) => void; open?: boolean }) {
  const [open, setOpen] = useState(always);
  const [typed, setTyped] = useState('');
  const line = useRef<TextInput>(null);
  const tags = useAnswer('tags', {}).data?.tags ?? [];
  const asked = fold(typed);
  const hits = asked
    ? tags
        .filter((tag) => fold(tag.name).includes(asked))
        .sort((a, b) => b.pictures - a.pictures)
        .slice(0, 5)
    : [];
  const exact = hits.some((tag) => fold(tag.name) === asked);
  const add = (tag: string) => {
    if (!tag.trim()) return;
    onAdd(tag.trim());
    setTyped('');
    if (!always) setOpen(false);
    else line.current?.focus();
  };
  if (!open) return <Chip icon="plus" label={t`Tag`} onPress={() => setOpen(true)} />;
  return (
    <View className="w-full gap-1">
      <TextInput
        ref={line}
        autoFocus
        aria-label={t`A tag`}
        placeholder={t`kites, lake, birthday …`}
        value={typed}
        onChangeText={setTyped}
        onSubmitEditing={() => add(typed)}
        onKeyPress={(event) => {
          if (event.nativeEvent.key === 'Escape' && !always) setOpen(false);
        }}
        maxLength={80}
        autoCapitalize="none"
        className="min-h-touch rounded-small border-2 border-juniper bg-card px-3 font-sans text-body text-ink"
      />
      {[
        ...hits.map((tag) => ({ name: tag.name, note: `${tag.pictures}` })),
        ...(asked && !exact ? [{ name: typed.trim(), note: t`new tag` }] : []),
      ].map((row) => (
        <Pressable
          key={row.name}
          role="button"
          onPress={() => add(row.name)}
          className="min-h-touch flex-row items-center justify-between border-b border-line px-3"
        >
          <Words>{row.name}</Words>
          <Words kind="small">{row.note}</Words>
        </Pressable>
      ))}
    </View>
  );
}
