import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import type { Tag, Twin } from '@gemmel/contract';
import type { Question } from '@gemmel/core';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { capital } from '@/ui/say';
import { Words } from '@/ui/Words';

/** Why two words may be one. */
const WHY: Record<Twin['why'], MessageDescriptor> = {
  case: msg`written a little differently`,
  spelling: msg`written a little differently`,
  plural: msg`one and several`,
  letters: msg`a letter or two apart`,
  person: msg`somebody’s name`,
  'first name': msg`a first name`,
  place: msg`the name of a place`,
  year: msg`a year`,
  branch: msg`one word in two places`,
};

/** What a tag looks like, as a question: the pictures where it says nothing new. */
function questionOf(other: Twin['other']): Question | null {
  if ('person' in other) return { who: { people: [other.person], mode: 'all' } };
  if ('year' in other) return { taken: { from: `${other.year}-01-01`, to: `${other.year}-12-31` } };
  return 'place' in other ? { text: other.place } : null;
}

const nameOf = (other: Twin['other'], tags: readonly Tag[]): string =>
  'tag' in other
    ? (tags.find((tag) => tag.id === other.tag)?.name ?? '')
    : 'person' in other
      ? other.name
      : 'place' in other
        ? other.place
        : `${other.year}`;

/** Two words that may be one, with the pictures that would change, and both answers. */
export function TwinCard({ twin, tags }: { twin: Twin; tags: readonly Tag[] }) {
  const tag = tags.find((one) => one.id === twin.tag);
  const other = 'tag' in twin.other ? tags.find((one) => one.id === (twin.other as { tag: number }).tag) : null;
  const asked = questionOf(twin.other);
  const both = useAnswer(
    'count',
    { body: { question: asked ? { all: [asked, { tag: twin.tag }] } : { any: [] } } },
    { enabled: asked !== null },
  ).data?.count;
  if (!tag) return null;
  const name = nameOf(twin.other, tags);
  const apart = () =>
    void act(
      () => call('keepApart', { params: { id: tag.id }, body: { other: twin.other } }),
      t`“${tag.name}” and “${name}” stay apart`,
      'tags',
    );
  const join = (from: Tag, to: Tag) =>
    void act(
      () => call('joinTags', { params: { id: from.id }, body: { to: to.id } }),
      t`“${from.name}” is now “${to.name}”`,
      'tags',
      'said',
    );
  return (
    <View className="gap-2">
      <Words kind="strong">{t`${tag.name} and ${name}`}</Words>
      <Words kind="small">
        {other
          ? t`${capital(i18n._(WHY[twin.why]))}: ${plural(tag.pictures, { one: '# picture says', other: '# pictures say' })} ${tag.name}, ${plural(other.pictures, { one: '# says', other: '# say' })} ${other.name}.`
          : t`${capital(i18n._(WHY[twin.why]))}: ${plural(tag.pictures, { one: '# picture says', other: '# pictures say' })} ${tag.name}.`}
      </Words>
      <View className="flex-row flex-wrap gap-2">
        {other ? (
          <>
            <Button label={t`Make it ${other.name}`} className="grow" onPress={() => join(tag, other)} />
            <Button label={t`Make it ${tag.name}`} weight="second" className="grow" onPress={() => join(other, tag)} />
          </>
        ) : asked && both ? (
          <Button
            label={plural(both, {
              one: 'Take the word off # picture that says so anyway',
              other: 'Take the word off # pictures that say so anyway',
            })}
            className="grow"
            onPress={() =>
              void act(
                () => call('clearTag', { params: { id: tag.id }, body: { where: asked } }),
                ({ pictures }) =>
                  plural(pictures, {
                    one: `“${tag.name}” taken off # picture`,
                    other: `“${tag.name}” taken off # pictures`,
                  }),
                'tags',
                'said',
              )
            }
          />
        ) : null}
        <Button label={t`They differ`} weight="second" className="grow" onPress={apart} />
      </View>
    </View>
  );
}
