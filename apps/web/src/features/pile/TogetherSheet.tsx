import { plural, t } from '@lingui/core/macro';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { giveMark, MarkChoice } from '@/features/mark/MarkChoice';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Stars } from '@/ui/Stars';
import { Words } from '@/ui/Words';
import { useState } from 'react';
import { change, giveTags, saidStars } from '@/features/said/acts';
import { TagAdder } from '@/features/said/TagAdder';

/**
 * What some pictures say together, and a way to say it for all: what only some say is shown as such, with how many, and only
 * what is touched changes.
 */
export function TogetherSheet({ ids, onClose }: { ids: readonly number[]; onClose: () => void }) {
  const { data, error, refetch } = useAnswer('saidTogether', { body: { ids: [...ids] } });
  const likely = useAnswer('likelyTags', { body: { ids: ids.slice(0, 500) } }).data?.tags ?? [];
  const [title, setTitle] = useState<string | null>(null);
  const [caption, setCaption] = useState<string | null>(null);
  const [comment, setComment] = useState('');
  const n = ids.length;
  const writeComment = async () => {
    const text = comment.trim();
    if (
      await act(
        () => call('comment', { body: { ids: [...ids], text } }),
        plural(n, { one: 'Comment written', other: 'Comment written on # pictures' }),
        'said',
      )
    )
      setComment('');
  };
  const head = plural(n, { one: 'Describe # picture', other: 'Describe # pictures' });
  if (error || !data)
    return (
      <Sheet title={head} onClose={onClose}>
        {error ? <Failed error={error} again={() => void refetch()} /> : <Waiting />}
      </Sheet>
    );
  const all = data.ratings.findIndex((count) => count === data.pictures);
  const mixed = all < 0;
  const whole = (count: number) => count === data.pictures;
  const tagged = new Set(data.tags.map((tag) => tag.id));
  const allMark = data.marks.find((mark) => whole(mark.pictures))?.id ?? null;
  const saveText = (what: 'title' | 'caption', text: string | null) => {
    if (text === null) return;
    const said = text.trim() || null;
    if (said === data[what] && data[what] !== null) return;
    void change(
      ids,
      { [what]: said },
      what === 'title'
        ? plural(n, { one: 'Title changed', other: 'Titles of # pictures changed' })
        : plural(n, { one: 'Caption changed', other: 'Captions of # pictures changed' }),
    );
  };
  return (
    <Sheet title={head} onClose={onClose}>
      <View className="flex-row flex-wrap items-center justify-between gap-2">
        <Stars
          value={mixed ? 0 : all}
          size={30}
          onChange={(rating) => void change(ids, { rating }, saidStars(rating, n))}
        />
        <Chip
          icon="heart"
          on={whole(data.favourites)}
          label={
            whole(data.favourites) || data.favourites === 0 ? t`Heart` : t`Heart, on ${sayNumber(data.favourites)}`
          }
          onPress={() =>
            void change(
              ids,
              { favourite: !whole(data.favourites) },
              whole(data.favourites)
                ? plural(n, { one: 'Heart removed', other: 'Hearts of # pictures removed' })
                : plural(n, { one: 'Heart given', other: 'Heart given to # pictures' }),
            )
          }
        />
      </View>
      {mixed ? (
        <Words kind="small">
          {t`They differ: ${data.ratings
            .flatMap((count, stars) =>
              count ? [stars ? `${'★'.repeat(stars)} ${sayNumber(count)}` : t`no stars ${sayNumber(count)}`] : [],
            )
            .join(' · ')}`}
        </Words>
      ) : null}
      <MarkChoice
        on={allMark}
        some={data.marks.filter((mark) => !whole(mark.pictures)).map((mark) => mark.id)}
        onChoose={(mark, has) => void giveMark(ids, mark, has)}
      />
      <View>
        <Words kind="small">{t`Words for them`}</Words>
        <View className="flex-row flex-wrap gap-x-2">
          {data.tags.map((tag) => (
            <Chip
              key={tag.id}
              on={whole(tag.pictures)}
              label={whole(tag.pictures) ? tag.name : t`${tag.name}, on ${sayNumber(tag.pictures)}`}
              onPress={() => void giveTags(ids, [tag])}
              onAway={() =>
                void change(
                  ids,
                  { removeTags: [tag.id] },
                  plural(tag.pictures, {
                    one: `Tag “${tag.name}” removed`,
                    other: `Tag “${tag.name}” removed from # pictures`,
                  }),
                )
              }
              awayLabel={t`Remove the tag ${tag.name}`}
            />
          ))}
        </View>
        <TagAdder
          open
          onAdd={(tags) => void giveTags(ids, tags)}
          likely={likely.filter((tag) => !tagged.has(tag.id))}
          label={t`Tag`}
        />
      </View>
      <Field
        label={data.titles && data.title === null ? t`Title: they differ` : t`Title`}
        placeholder={t`One title for all of them`}
        value={title ?? data.title ?? ''}
        onChangeText={setTitle}
        onBlur={() => saveText('title', title)}
        maxLength={200}
      />
      <Field
        label={data.captions && data.caption === null ? t`Caption: they differ` : t`Caption`}
        placeholder={t`One caption for all of them`}
        value={caption ?? data.caption ?? ''}
        onChangeText={setCaption}
        onBlur={() => saveText('caption', caption)}
        maxLength={4000}
      />
      <Field
        label={t`Comment`}
        placeholder={t`The same words under each of them`}
        value={comment}
        onChangeText={setComment}
        multiline
        maxLength={4000}
      />
      {comment.trim() ? (
        <Button label={t`Write the comment`} weight="second" onPress={() => void writeComment()} />
      ) : null}
      <Button label={t`Done`} onPress={onClose} />
    </Sheet>
  );
}
