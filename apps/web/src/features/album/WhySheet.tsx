import { t } from '@lingui/core/macro';
import type { Album, Picture } from '@gemmel/contract';
import { cameraWords, nodes, phrase, type Condition, type Question } from '@gemmel/core';
import type { ReactNode } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { Button } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { sayDay, sayList } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { namesIn, sayPlace, sayRemembered, words } from '@/words/said';
import { byHand } from './acts';

const isGroup = (q: Question): q is Exclude<Question, Condition> => 'all' in q || 'any' in q || 'not' in q;

/** What a picture has to say to a condition: its stars, who is in it, when it was taken … Null where that is nothing to say in few words. */
export function valueFor(condition: Condition, picture: Picture): string | null {
  const said = (list: readonly string[], none: string) => (list.length ? sayList(list) : none);
  if ('rating' in condition) return picture.rating ? '★'.repeat(picture.rating) : t`no stars`;
  if ('favourite' in condition) return picture.favourite ? t`a heart` : t`no heart`;
  if ('who' in condition)
    return said(
      picture.faces.flatMap((face) => (face.person ? [face.person.name] : [])),
      t`nobody with a name`,
    );
  if ('tag' in condition)
    return said(
      picture.tags.map(({ name }) => name),
      t`no tags`,
    );
  if ('taken' in condition || 'near' in condition)
    return picture.takenSpan ? sayRemembered(picture.takenSpan) : picture.taken ? sayDay(picture.taken) : t`no date`;
  if ('where' in condition) return sayPlace(picture) ?? t`no place`;
  if ('event' in condition) return picture.event ? (picture.event.title ?? t`an event without a name`) : t`no event`;
  if ('album' in condition || 'inNoAlbum' in condition)
    return said(
      picture.albums.map(({ name }) => name),
      t`in no album`,
    );
  if ('folder' in condition) return picture.folder?.name ?? t`no folder`;
  if ('device' in condition) return picture.device ?? t`no device known`;
  if ('camera' in condition) return picture.camera ? cameraWords(picture.camera) : t`no camera known`;
  if ('lens' in condition) return picture.lens ?? t`no lens known`;
  if ('kind' in condition) return picture.kind === 'video' ? t`a clip` : t`a photograph`;
  if ('size' in condition || 'shape' in condition) return `${picture.width} × ${picture.height}`;
  return null;
}

/** Why a picture is in a smart album, or why not: each sentence of its question with what the picture has to say to it. */
export function WhySheet({ album, picture: id, onClose }: { album: Album; picture: number; onClose: () => void }) {
  const { data, error, refetch } = useAnswer('whyInAlbum', { params: { id: album.id, picture: id } });
  const picture = useAnswer('picture', { params: { id } }).data;
  const helps = useMe().data?.member?.part !== 'relative';
  const question = album.question ?? { all: [] };
  const names = namesIn(album.names ?? {});
  const order = [...nodes(question)];
  const holds = (q: Question): boolean => data?.holds[order.indexOf(q)] ?? false;
  const mark = (yes: boolean) => <Icon name={yes ? 'tick' : 'away'} size={17} tone={yes ? 'juniper' : 'brick'} />;
  const line = (q: Question, key: string): ReactNode => {
    if (isGroup(q)) {
      const [parts, lead] =
        'all' in q
          ? [q.all, t`all of these`]
          : 'any' in q
            ? [q.any, t`any of these`]
            : ['any' in q.not ? q.not.any : [q.not], t`none of these`];
      return (
        <View key={key} className="ml-1 border-l-[5px] border-lilac pl-3">
          <View className="min-h-8 flex-row items-center gap-2">
            {mark(holds(q))}
            <Words className="text-soft">{lead}</Words>
          </View>
          {parts.map((part, i) => line(part, `${key}.${i}`))}
        </View>
      );
    }
    const { lead, value } = phrase(q, names, words());
    const has = picture ? valueFor(q, picture) : null;
    return (
      <View key={key} className="min-h-button flex-row items-start gap-2 border-t border-line py-2">
        <View className="pt-0.5">{mark(holds(q))}</View>
        <View className="min-w-0 flex-1">
          <Words>{[lead, value].filter(Boolean).join(' ')}</Words>
          {has ? <Words kind="small">{t`This one: ${has}`}</Words> : null}
        </View>
        <Words kind="tiny">{holds(q) ? t`true` : t`not true`}</Words>
      </View>
    );
  };
  return (
    <Sheet
      title={data && !data.in ? t`Why isn’t it in “${album.name}”?` : t`Why is it in “${album.name}”?`}
      onClose={onClose}
    >
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data ? (
        <>
          <Words className="text-soft">
            {data.hand === 'in'
              ? t`Somebody put it in by hand, whatever the question says.`
              : data.hand === 'out'
                ? t`Somebody keeps it out by hand, whatever the question says.`
                : data.notAmongBest
                  ? t`It fits, but there are better ones, and this album holds only the best.`
                  : data.in
                    ? t`It fits what this album asks for:`
                    : t`It doesn’t fit what this album asks for:`}
          </Words>
          <View>
            {isGroup(question) && 'all' in question
              ? question.all.map((part, i) => line(part, String(i)))
              : line(question, '0')}
          </View>
          {helps ? (
            <View className="gap-2">
              {data.hand !== null ? (
                <Button
                  label={t`Let the question decide`}
                  weight="second"
                  onPress={() => void byHand(album, [id], null)}
                />
              ) : null}
              {data.in ? (
                <Button
                  label={t`Keep out of this album`}
                  weight="second"
                  icon="minus"
                  onPress={() => void byHand(album, [id], 'out')}
                />
              ) : (
                <Button
                  label={t`Put it in by hand`}
                  weight="second"
                  icon="plus"
                  onPress={() => void byHand(album, [id], 'in')}
                />
              )}
            </View>
          ) : null}
        </>
      ) : null}
    </Sheet>
  );
}
