import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Condition } from '@gemmel/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button, Chip } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { ChangedValue, FacesValue, FacetValue } from './FacetValue';
import { FolderValue } from './FolderValue';
import { FromList } from './FromList';
import { TakenValue } from './TakenValue';
import { TextValue } from './TextValue';
import { WhereValue } from './WhereValue';
import { WhoValue } from './WhoValue';

const SUBJECTS = [
  ['who', msg`Who is in it`],
  ['tag', msg`A tag`],
  ['rating', msg`Stars`],
  ['taken', msg`When it was taken`],
  ['where', msg`Where`],
  ['event', msg`An event`],
  ['album', msg`An album`],
  ['folder', msg`A folder`],
  ['favourite', msg`Hearts`],
  ['mark', msg`A mark`],
  ['faces', msg`How many faces`],
  ['observed', msg`What was noticed`],
  ['kind', msg`Photographs or clips`],
  ['added', msg`When it came in`],
  ['batch', msg`What it came in with`],
  ['device', msg`Which device took it`],
  ['camera', msg`Which camera`],
  ['lens', msg`Which lens`],
  ['shape', msg`Upright, wide or square`],
  ['size', msg`How large`],
  ['format', msg`Kind of file`],
  ['saidBy', msg`Who has said something of it`],
  ['changed', msg`When something was last said of it`],
  ['text', msg`Words in title, caption or file name`],
  ['has', msg`What it has or doesn’t have`],
] as const;
export type Subject = (typeof SUBJECTS)[number][0];

const THINGS = [
  'place',
  'date',
  'day',
  'title',
  'caption',
  'comment',
  'names',
  'tags',
  'mark',
  'event',
  'double',
] as const;
const HAS: Record<(typeof THINGS)[number], [MessageDescriptor, MessageDescriptor]> = {
  place: [msg`Has a place`, msg`Has no place`],
  date: [msg`Has a date`, msg`Has no date`],
  day: [msg`Its day is known`, msg`Its day isn’t known`],
  title: [msg`Has a title`, msg`Has no title`],
  caption: [msg`Has a caption`, msg`Has no caption`],
  comment: [msg`Has a comment`, msg`Has no comment`],
  mark: [msg`Has a mark`, msg`Has no mark`],
  names: [msg`Every face has a name`, msg`Has a face without a name`],
  tags: [msg`Has tags`, msg`Has no tags`],
  event: [msg`Is part of an event`, msg`Isn’t part of an event`],
  double: [msg`Near double of an earlier one`, msg`Not a near double`],
};

/** What a condition is about. */
export const subjectOf = (condition: Condition): Subject =>
  'lacks' in condition || 'inNoAlbum' in condition
    ? 'inNoAlbum' in condition
      ? 'album'
      : 'has'
    : ((SUBJECTS.find(([key]) => key in condition)?.[0] ?? 'text') as Subject);

interface Props {
  condition: Condition | null;
  onTake: (condition: Condition) => void;
  onClose: () => void;
}

/** Makes or changes one condition: first what it is about, then its value. */
export function ConditionSheet({ condition, onTake, onClose }: Props) {
  const [subject, setSubject] = useState<Subject | null>(condition ? subjectOf(condition) : null);
  const take = (made: Condition) => {
    onTake(made);
    onClose();
  };
  if (!subject)
    return (
      <Sheet title={t`A condition about …`} onClose={onClose}>
        <View>
          {SUBJECTS.map(([key, name]) => (
            <Pressable
              key={key}
              role="button"
              onPress={() => setSubject(key)}
              className="min-h-button justify-center border-t border-line"
            >
              <Words>{i18n._(name)}</Words>
            </Pressable>
          ))}
        </View>
      </Sheet>
    );
  return (
    <Sheet title={i18n._(SUBJECTS.find(([key]) => key === subject)![1])} onClose={onClose}>
      <Value subject={subject} condition={condition} onTake={take} />
    </Sheet>
  );
}

function Value({
  subject,
  condition,
  onTake,
}: {
  subject: Subject;
  condition: Condition | null;
  onTake: (made: Condition) => void;
}) {
  switch (subject) {
    case 'who':
      return <WhoValue before={condition && 'who' in condition ? condition.who : null} onTake={onTake} />;
    case 'tag':
      return <FromList name="tags" onTake={(tag) => onTake({ tag })} />;
    case 'event':
      return <FromList name="events" onTake={(event) => onTake({ event })} />;
    case 'album':
      return (
        <>
          <Button label={t`In no album`} weight="plum" onPress={() => onTake({ inNoAlbum: true })} />
          <FromList name="albums" onTake={(album) => onTake({ album })} />
        </>
      );
    case 'rating':
      return (
        <View className="flex-row flex-wrap gap-2">
          {[1, 2, 3, 4].map((min) => (
            <Chip key={min} tone="plum" label={t`${min} or better`} onPress={() => onTake({ rating: { min } })} />
          ))}
          <Chip tone="plum" label="5" onPress={() => onTake({ rating: { min: 5 } })} />
          <Chip tone="plum" label={t`Not rated`} onPress={() => onTake({ rating: { max: 0 } })} />
          <Chip tone="plum" label={t`2 or fewer`} onPress={() => onTake({ rating: { max: 2 } })} />
        </View>
      );
    case 'favourite':
      return (
        <View className="flex-row flex-wrap gap-2">
          <Chip tone="plum" label={t`With a heart`} onPress={() => onTake({ favourite: true })} />
          <Chip tone="plum" label={t`Without a heart`} onPress={() => onTake({ favourite: false })} />
        </View>
      );
    case 'kind':
      return (
        <View className="flex-row flex-wrap gap-2">
          <Chip tone="plum" label={t`Photographs`} onPress={() => onTake({ kind: 'photo' })} />
          <Chip tone="plum" label={t`Clips`} onPress={() => onTake({ kind: 'video' })} />
        </View>
      );
    case 'folder':
      return <FolderValue before={condition && 'folder' in condition ? condition.folder : null} onTake={onTake} />;
    case 'mark':
    case 'observed':
    case 'camera':
    case 'lens':
    case 'shape':
    case 'size':
    case 'format':
      return <FacetValue of={subject} onTake={onTake} />;
    case 'faces':
      return <FacesValue onTake={onTake} />;
    case 'changed':
      return <ChangedValue onTake={onTake} />;
    case 'device':
      return <FromList name="devices" onTake={(device) => onTake({ device })} />;
    case 'saidBy':
      return <FromList name="members" onTake={(saidBy) => onTake({ saidBy })} />;
    case 'batch':
      return <FromList name="batches" onTake={(batch) => onTake({ batch })} />;
    case 'added':
      return (
        <View className="flex-row flex-wrap gap-2">
          {(
            [
              [1, t`Today`],
              [7, t`In the last 7 days`],
              [31, t`In the last month`],
            ] as const
          ).map(([lastDays, label]) => (
            <Chip key={lastDays} tone="plum" label={label} onPress={() => onTake({ added: { lastDays } })} />
          ))}
        </View>
      );
    case 'text':
      return (
        <TextValue
          before={condition && 'text' in condition ? condition.text : ''}
          onTake={(text) => onTake({ text })}
        />
      );
    case 'taken':
      return (
        <TakenValue
          before={condition && 'taken' in condition ? condition.taken : null}
          onTake={(taken) => onTake({ taken })}
        />
      );
    case 'where':
      return <WhereValue onTake={onTake} />;
    case 'has':
      return (
        <View className="flex-row flex-wrap gap-2">
          {THINGS.flatMap((thing) => [
            <Chip key={thing} tone="plum" label={i18n._(HAS[thing][0])} onPress={() => onTake({ has: thing })} />,
            <Chip
              key={`no ${thing}`}
              tone="plum"
              label={i18n._(HAS[thing][1])}
              onPress={() => onTake({ lacks: thing })}
            />,
          ])}
        </View>
      );
  }
}
