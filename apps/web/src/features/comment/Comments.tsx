import { t } from '@lingui/core/macro';
import type { Comment, Picture } from '@gemmel/contract';
import { useState } from 'react';
import { TextInput, View } from 'react-native';
import { call } from '@/api/client';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button, IconButton } from '@/ui/Button';
import { sayDay } from '@/ui/say';
import { Words } from '@/ui/Words';

/** What members wrote about a picture, with their names and days, and a line to write more. */
export function Comments({ picture }: { picture: Picture }) {
  const me = useMe().data?.member;
  const [typed, setTyped] = useState('');
  const write = async () => {
    const text = typed.trim();
    if (!text) return;
    if (await act(() => call('comment', { body: { ids: [picture.id], text } }), t`Comment written`, 'said'))
      setTyped('');
  };
  return (
    <View className="gap-2">
      {picture.comments.map((comment) => (
        <One key={comment.id} comment={comment} own={comment.member === me?.id} keeper={me?.part === 'keeper'} />
      ))}
      <TextInput
        aria-label={t`Write a comment`}
        placeholder={t`Write a comment`}
        value={typed}
        onChangeText={setTyped}
        multiline
        maxLength={4000}
        className="min-h-touch rounded-small border border-line bg-card px-3 py-2.5 font-sans text-body text-ink"
      />
      {typed.trim() ? <Button label={t`Keep the comment`} weight="second" onPress={() => void write()} /> : null}
    </View>
  );
}

function One({ comment, own, keeper }: { comment: Comment; own: boolean; keeper: boolean }) {
  const [typed, setTyped] = useState<string | null>(null);
  const save = async () => {
    const text = typed?.trim();
    if (text && text !== comment.text)
      await act(
        () => call('changeComment', { params: { id: comment.id }, body: { text } }),
        t`Comment changed`,
        'said',
      );
    setTyped(null);
  };
  const when = sayDay(comment.at.slice(0, 10));
  return (
    <View className="border-l-2 border-line pl-3">
      <View className="min-h-touch flex-row items-center justify-between">
        <Words kind="small" className="min-w-0 shrink">
          {comment.edited ? t`${comment.author}, ${when}, changed since` : `${comment.author}, ${when}`}
        </Words>
        {typed === null ? (
          <View className="flex-row">
            {own ? (
              <IconButton name="edit" size={16} label={t`Change this comment`} onPress={() => setTyped(comment.text)} />
            ) : null}
            {own || keeper ? (
              <IconButton
                name="away"
                size={16}
                label={t`Remove this comment`}
                onPress={() =>
                  void act(() => call('removeComment', { params: { id: comment.id } }), t`Comment removed`, 'said')
                }
              />
            ) : null}
          </View>
        ) : null}
      </View>
      {typed === null ? (
        <Words style={{ whiteSpace: 'pre-wrap' } as object}>{comment.text}</Words>
      ) : (
        <>
          <TextInput
            autoFocus
            aria-label={t`Change this comment`}
            value={typed}
            onChangeText={setTyped}
            multiline
            maxLength={4000}
            className="min-h-touch rounded-small border-2 border-juniper bg-card px-3 py-2 font-sans text-body text-ink"
          />
          <Button label={t`Save`} weight="quiet" className="self-start px-0" onPress={() => void save()} />
        </>
      )}
    </View>
  );
}
