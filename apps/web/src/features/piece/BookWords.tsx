import { t } from '@lingui/core/macro';
import type { BookLayout } from '@gemmel/contract';
import type { BookEdits } from '@gemmel/core';
import { useState } from 'react';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { withWords } from './edits';

/** The words of a picture, a chapter or the book: as they stand, to be written otherwise for this book alone. */
export function BookWords({
  layout,
  page,
  picture,
  onSave,
  onClose,
}: {
  layout: BookLayout;
  page: BookLayout['pages'][number] | null;
  picture: number | null;
  onSave: (edits: BookEdits, said: string) => Promise<void>;
  onClose: () => void;
}) {
  const chapter = page ? layout.chapters.find(({ key }) => key === page.chapter) : undefined;
  const line = (role: string) => layout.cover.texts.find((text) => text.role === role)?.lines.join(' ') ?? '';
  const fields: { key: string; label: string; words: string; long: boolean }[] =
    picture !== null
      ? [
          {
            key: `picture:${picture}`,
            label: t`Below the picture`,
            words: layout.captions.find(({ id }) => id === picture)?.caption ?? '',
            long: true,
          },
        ]
      : chapter
        ? [
            { key: `title:${chapter.key}`, label: t`Title of the chapter`, words: chapter.title ?? '', long: false },
            { key: `words:${chapter.key}`, label: t`What it tells`, words: chapter.words ?? '', long: true },
          ]
        : [
            {
              key: 'title',
              label: t`Title of the book`,
              words: layout.edits.words['title'] ?? line('book'),
              long: false,
            },
            {
              key: 'subtitle',
              label: t`Below the title`,
              words: layout.edits.words['subtitle'] ?? line('under'),
              long: false,
            },
          ];
  const [said, setSaid] = useState<Record<string, string>>(
    Object.fromEntries(fields.map(({ key, words }) => [key, words])),
  );
  const own = fields.some(({ key }) => key in layout.edits.words);
  const save = async () => {
    let { edits } = layout;
    for (const { key, words } of fields) if (said[key] !== words) edits = withWords(edits, key, said[key]!.trim());
    onClose();
    if (edits !== layout.edits) await onSave(edits, t`Words changed`);
  };
  const back = async () => {
    let { edits } = layout;
    for (const { key } of fields) edits = withWords(edits, key, null);
    onClose();
    await onSave(edits, t`Back to the original words`);
  };
  return (
    <Sheet title={t`Words`} onClose={onClose}>
      {fields.map(({ key, label, long }) => (
        <Field
          key={key}
          label={label}
          value={said[key]!}
          multiline={long}
          maxLength={long ? 2000 : 200}
          onChangeText={(value) => setSaid({ ...said, [key]: value })}
        />
      ))}
      <Button label={t`Save`} onPress={() => void save()} />
      {own ? <Button label={t`Back to the original words`} weight="second" onPress={() => void back()} /> : null}
    </Sheet>
  );
}
