import { plural, t } from '@lingui/core/macro';
import type { Comment, Part, Picture } from '@gemmel/contract';
import { useState } from 'react';
import { TextInput, View } from 'react-native';
import { call } from '@/api/client';
import { useMe } from '@/features/account/session';
import { act } from '@/state/acts';
import { Button, IconButton } from '@/ui/Button';
import { sayDay } from '@/ui/say';
import { Words } from '@/ui/Words';
import { Fact } from '@/ui/Fact';

/** What members and guests wrote about a picture, with their names and days, and a line to write more. */
export function Comments({ picture }: { picture: Picture }) {
  const me = useMe().data?.member;
  const [typed, setTyped] = useState('');
  const write = async () => {
    const text = typed.trim();
    if (!text) return;
    if (await act(() => call('comment', { body: { ids: [picture.id], text } }), t`Comment written`, 'said'))
      setTyped('');
  };
  const { length } = picture.comments;
  return (
    <Fact title={length ? plural(length, { one: '# comment', other: '# comments' }) : t`Comments`}>
      <View className="gap-2">
        {picture.comments.map((comment) => (
          <One key={comment.id} comment={comment} own={comment.member === me?.id} part={me?.part} />
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
    </Fact>
  );
}

/** Who wrote a comment and when, and whether guests of a share read it. */
function by({ author, at, edited, guests }: Comment): string {
  const when = sayDay(at.slice(0, 10));
  if (guests === 'read') return t`${author}, ${when}, where guests read it`;
  if (guests === 'hidden') return t`${author}, ${when}, hidden from guests`;
  return edited ? t`${author}, ${when}, changed since` : `${author}, ${when}`;
}

/** A line to write on, with the button that keeps it. */
function Line({
  label,
  text,
  save,
  onSave,
}: {
  label: string;
  text: string;
  save: string;
  onSave: (text: string) => void;
}) {
  const [typed, setTyped] = useState(text);
  return (
    <>
      <TextInput
        autoFocus
        aria-label={label}
        value={typed}
        onChangeText={setTyped}
        multiline
        maxLength={4000}
        className="min-h-touch rounded-small border-2 border-juniper bg-card px-3 py-2 font-sans text-body text-ink"
      />
      <Button label={save} weight="quiet" className="self-start px-0" onPress={() => onSave(typed.trim())} />
    </>
  );
}

function One({ comment, own, part }: { comment: Comment; own: boolean; part: Part | undefined }) {
  const [doing, setDoing] = useState<'change' | 'answer' | null>(null);
  const params = { id: comment.id };
  const keeper = part === 'keeper';
  const hidden = comment.guests === 'hidden';
  const change = async (text: string) => {
    if (text && text !== comment.text)
      await act(() => call('changeComment', { params, body: { text } }), t`Comment changed`, 'said');
    setDoing(null);
  };
  const answer = async (text: string) => {
    if (!text || (await act(() => call('answerComment', { params, body: { text } }), t`Answer written`, 'said')))
      setDoing(null);
  };
  const hide = () =>
    act(
      () => call('hideComment', { params, body: { hidden: !hidden } }),
      hidden ? t`Guests can read it again` : t`Hidden from guests`,
      'said',
    );
  return (
    <View className="border-l-2 border-line pl-3">
      <View className="min-h-touch flex-row items-center justify-between">
        <Words kind="small" className="min-w-0 shrink">
          {by(comment)}
        </Words>
        {doing === null ? (
          <View className="flex-row">
            {own ? (
              <IconButton name="edit" size={16} label={t`Change this comment`} onPress={() => setDoing('change')} />
            ) : null}
            {own || keeper ? (
              <IconButton
                name="away"
                size={16}
                label={t`Remove this comment`}
                onPress={() => void act(() => call('removeComment', { params }), t`Comment removed`, 'said')}
              />
            ) : null}
          </View>
        ) : null}
      </View>
      {doing === 'change' ? (
        <Line label={t`Change this comment`} text={comment.text} save={t`Save`} onSave={(text) => void change(text)} />
      ) : (
        <Words style={{ whiteSpace: 'pre-wrap' } as object}>{comment.text}</Words>
      )}
      {comment.guests && !own && (keeper || part === 'helper') && doing === null ? (
        <View className="flex-row flex-wrap gap-4">
          <Button label={t`Answer`} weight="quiet" className="px-0" onPress={() => setDoing('answer')} />
          {keeper ? (
            <Button
              label={hidden ? t`Show it to guests` : t`Hide it from guests`}
              weight="quiet"
              className="px-0"
              onPress={() => void hide()}
            />
          ) : null}
        </View>
      ) : null}
      {doing === 'answer' ? (
        <Line
          label={t`An answer that guests read`}
          text=""
          save={t`Write the answer`}
          onSave={(text) => void answer(text)}
        />
      ) : null}
    </View>
  );
}
