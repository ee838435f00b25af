import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { savedOf, shownOf } from '@/api/client';
import { useMe } from '@/features/account/session';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { makeSomething } from '@/state/making';
import { Button } from '@/ui/Button';
import type { IconName } from '@/ui/Icon';
import { Sheet } from '@/ui/Sheet';
import { toBin } from '../bin/acts';
import { NamesSheet } from '../gather/NamesSheet';
import { GiveSheet } from '../keep/GiveSheet';
import { EarlierSheet } from '../safe/EarlierSheet';
import { MailPicturesSheet } from '../mail/MailPicturesSheet';
import { Show } from '../show/Show';
import { pairUp } from '../scan/acts';
import { MoreLike } from '../question/MoreLike';
import { saveFile, saveZip } from './zip';
import { ActSheet, SHEET_ACTS, type SheetAct } from './acts';
import { useBegin } from '@/state/useBegin';
import { change } from '@/features/said/acts';
import { tileLabel } from '@/words/said';

const WORDS: Record<SheetAct, MessageDescriptor> = {
  said: msg`Stars, marks, tags and words`,
  album: msg`Add to an album`,
  dates: msg`Correct the date`,
  place: msg`Give a place`,
  event: msg`Put in an event`,
  audience: msg`Say who it’s for`,
  share: msg`Share`,
};

/** Something further that can be done with pictures where they stand. */
export interface AlsoAct {
  label: string;
  icon: IconName;
  act: (ids: readonly number[]) => void;
  /** Whether it is only for one picture. */
  single?: boolean;
}

/** So many pictures are sent by e-mail at most. */
const MOST_MAILED = 500;
/** So many pictures are written about on one sheet at most. */
const MOST_ON_SHEET = 300;

/** Everything that can be done with a picture, or with several, in one list. Opened by a right click, three dots, or holding. */
export function ActMenu({
  ids,
  also = [],
  onOpen,
  onBinned,
  onClose,
}: {
  ids: readonly number[];
  /** What else can be done where they stand: in an album, say. */
  also?: readonly AlsoAct[];
  onOpen?: ((id: number) => void) | undefined;
  /** Told when they have gone to the bin. */
  onBinned?: (() => void) | undefined;
  onClose: () => void;
}) {
  const router = useRouter();
  const begin = useBegin();
  const part = useMe().data?.member?.part;
  const { has, add, drop } = usePile();
  const [sheet, setSheet] = useState<SheetAct | null>(null);
  const [only] = ids;
  const single = ids.length === 1 && only !== undefined;
  const tile = useTiles(ids.slice(0, 1)).get(only ?? 0);
  const onPile = ids.every((id) => has.has(id));
  const [like, setLike] = useState(false);
  const [naming, setNaming] = useState(false);
  const [mailing, setMailing] = useState(false);
  const [earlier, setEarlier] = useState(false);
  const [giving, setGiving] = useState(false);
  const elsewhere = (useMe().data?.libraries.filter((one) => one.part === 'keeper').length ?? 0) > 1;
  const mails = useMe().data?.mail ?? false;
  const [playing, setPlaying] = useState(false);
  if (playing)
    return (
      <Show
        source={{ ids: [...ids] }}
        title={plural(ids.length, { one: '# picture', other: '# pictures' })}
        onClose={onClose}
      />
    );
  if (giving) return <GiveSheet ids={ids} onClose={onClose} />;
  if (earlier && single) return <EarlierSheet id={only} onClose={onClose} />;
  if (mailing) return <MailPicturesSheet ids={ids} onClose={onClose} />;
  if (naming) return <NamesSheet of={{ ids }} onClose={onClose} />;
  if (like && single) return <MoreLike id={only} onClose={onClose} />;
  if (sheet) return <ActSheet act={sheet} ids={ids} onClose={onClose} />;
  const line = (label: string, icon: IconName, act: () => void) => (
    <Button
      key={label}
      label={label}
      icon={icon}
      weight="quiet"
      className="min-h-touch justify-start px-2"
      onPress={() => {
        onClose();
        act();
      }}
    />
  );
  const helps = part !== 'relative';
  return (
    <Sheet
      title={
        single
          ? ((tile ? tileLabel(tile) : null) ?? t`This picture`)
          : plural(ids.length, { one: '# picture', other: '# pictures' })
      }
      onClose={onClose}
    >
      <View>
        {single && onOpen ? line(t`Open`, 'look', () => onOpen(only)) : null}
        {onPile
          ? line(t`Take off the pile`, 'pile', () => drop(ids))
          : line(t`Put on the pile`, 'pile', () => add(ids))}
        {also.filter((one) => single || !one.single).map((one) => line(one.label, one.icon, () => one.act(ids)))}
        {helps && single
          ? line(
              tile?.favourite ? t`Remove the heart` : t`Give it a heart`,
              'heart',
              () =>
                void change(ids, { favourite: !tile?.favourite }, tile?.favourite ? t`Heart removed` : t`Heart given`),
            )
          : null}
        {helps
          ? SHEET_ACTS.filter(([name]) => name !== 'share' || part === 'keeper').map(([name, , icon]) => (
              <Button
                key={name}
                label={i18n._(WORDS[name])}
                icon={icon}
                weight="quiet"
                className="min-h-touch justify-start px-2"
                onPress={() => setSheet(name)}
              />
            ))
          : null}
        {helps && mails && ids.length <= MOST_MAILED ? (
          <Button
            label={t`Send by e-mail`}
            icon="send"
            weight="quiet"
            className="min-h-touch justify-start px-2"
            onPress={() => setMailing(true)}
          />
        ) : null}
        {helps ? (
          <Button
            label={single ? t`Name of the file` : t`Names of the files`}
            icon="numbers"
            weight="quiet"
            className="min-h-touch justify-start px-2"
            onPress={() => setNaming(true)}
          />
        ) : null}
        {helps
          ? line(t`Make something`, 'chapter', () =>
              makeSomething({
                source: { ids: [...ids] },
                title: plural(ids.length, { one: '# picture', other: '# pictures' }),
              }),
            )
          : null}
        {helps && single && tile?.kind === 'photo'
          ? line(t`Touch up`, 'touch', () => router.push({ pathname: '/touch-up/[id]', params: { id: only } }))
          : null}
        {helps && single && tile?.kind === 'photo'
          ? line(t`Take the prints of a scan apart`, 'box', () =>
              router.push({ pathname: '/scans/[id]', params: { id: only } }),
            )
          : null}
        {helps && !single && ids.length <= MOST_ON_SHEET
          ? line(t`When, where and who, on one sheet`, 'edit', () =>
              router.push({ pathname: '/sheet', params: { ids: ids.join(',') } }),
            )
          : null}
        {helps && ids.length === 2
          ? line(t`Front and back of one print`, 'sides', () => void pairUp([{ front: ids[0]!, back: ids[1]! }], true))
          : null}
        {part === 'keeper' && elsewhere ? (
          <Button
            label={t`To another library`}
            icon="box"
            weight="quiet"
            className="min-h-touch justify-start px-2"
            onPress={() => setGiving(true)}
          />
        ) : null}
        {part === 'keeper' && single ? (
          <Button
            label={t`As it was on another day`}
            icon="clock"
            weight="quiet"
            className="min-h-touch justify-start px-2"
            onPress={() => setEarlier(true)}
          />
        ) : null}
        {helps && single && tile?.run
          ? line(t`Choose between the shots of this moment`, 'pictures', () =>
              router.push({ pathname: '/runs/[id]', params: { id: tile.run! } }),
            )
          : null}
        {single ? null : (
          <Button
            label={t`Play`}
            icon="play"
            weight="quiet"
            className="min-h-touch justify-start px-2"
            onPress={() => setPlaying(true)}
          />
        )}
        {helps && !single
          ? line(
              t`One after another`,
              'right',
              () => void begin({ key: 'pile', title: t`The pile`, from: '/pile', ids }),
            )
          : null}
        {single && tile?.touched ? line(t`Save as it is shown`, 'download', () => saveFile(shownOf(only))) : null}
        {single
          ? line(t`Save the original`, 'download', () => saveFile(savedOf(only)))
          : line(t`Save as ZIP`, 'download', () => void saveZip({ ids: [...ids] }))}
        {single ? (
          <Button
            label={t`More like this`}
            icon="search"
            weight="quiet"
            className="min-h-touch justify-start px-2"
            onPress={() => setLike(true)}
          />
        ) : null}
        {helps && single
          ? line(t`What was done to it`, 'clock', () => router.push({ pathname: '/done', params: { picture: only } }))
          : null}
        {helps ? (
          // Apart from everything else, and in the colour of the bin: nobody takes it for taking out of an album.
          <View className="mt-2 border-t border-line pt-2">
            <Button
              label={plural(ids.length, { one: 'Move to the bin', other: 'Move all # to the bin' })}
              icon="bin"
              weight="brick"
              className="min-h-touch justify-start border-0 px-2"
              onPress={() => {
                onClose();
                void toBin(ids).then((done) => done && onBinned?.());
              }}
            />
          </View>
        ) : null}
      </View>
    </Sheet>
  );
}
