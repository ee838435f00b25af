import { t } from '@lingui/core/macro';
import type { Chapter } from '@gemmel/contract';
import { useState } from 'react';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** What a new chapter stands before. */
export type ChapterPlace = { picture: number } | { chapter: number } | null;

/** Writes a heading and a note among the pictures of an album: a new one before something, or one that is there. */
export function ChapterSheet({
  album,
  chapter,
  before,
  onClose,
}: {
  album: number;
  chapter: Chapter | null;
  before: ChapterPlace;
  onClose: () => void;
}) {
  const [heading, setHeading] = useState(chapter?.heading ?? '');
  const [note, setNote] = useState(chapter?.note ?? '');
  const body = { heading: heading.trim() || null, note: note.trim() || null };
  const keep = async () => {
    const done = chapter
      ? await act(() => call('changeChapter', { params: { id: chapter.id }, body }), t`Chapter changed`, 'albums')
      : await act(
          () => call('makeChapter', { params: { id: album }, body: { ...body, before } }),
          t`Chapter added`,
          'albums',
        );
    if (done) onClose();
  };
  const remove = async () => {
    const done = await act(
      () => call('removeChapter', { params: { id: chapter!.id } }),
      [t`Chapter removed`, t`Its pictures stay in the album.`],
      'albums',
    );
    if (done) onClose();
  };
  return (
    <Sheet title={chapter ? t`This chapter` : t`A new chapter`} onClose={onClose}>
      <Field
        label={t`Heading`}
        value={heading}
        onChangeText={setHeading}
        maxLength={160}
        placeholder={t`The day it rained`}
      />
      <Field label={t`Note`} value={note} onChangeText={setNote} multiline numberOfLines={5} maxLength={4000} />
      <Words kind="small">{t`One of the two is enough. It stands in the order by hand and can be moved there.`}</Words>
      <Button label={t`Save`} disabled={!body.heading && !body.note} onPress={() => void keep()} />
      {chapter ? <Button label={t`Remove this chapter`} weight="brick" onPress={() => void remove()} /> : null}
    </Sheet>
  );
}
