import { plural, t } from '@lingui/core/macro';
import { toSentence } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { largeOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { Show } from '@/features/show/Show';
import { wayTo } from '@/state/shelves';
import { useWide } from '@/state/wide';
import { makeSomething } from '@/state/making';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Cameo } from '@/ui/Cameo';
import { DoubleBar } from '@/ui/DoubleBar';
import { sayList } from '@/ui/say';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { namesIn, saySpan, words } from '@/words/said';
import { Panel, TilesPanel } from '../question/LookPanel';
import { ShareSheet } from '../share/ShareSheet';
import { AlbumMenu } from './AlbumMenu';
import type { AlbumAnswer } from './AlbumPage';
import { Way } from './Albums';
import { FillChips } from './FillChips';

/** How many cameos stand under the words. */
const CAMEOS = 6;

/** "34 pictures · kept once, seen here and in 2 other albums". */
function keptWords({ album, elsewhere }: AlbumAnswer): string {
  const pictures = plural(album.pictures, { one: '# picture', other: '# pictures' });
  if (elsewhere.length === 0 || album.pictures === 0) return pictures;
  const others = plural(elsewhere.length, {
    one: `kept once, seen here and in # other album: ${elsewhere[0]!.name}`,
    other: 'kept once, seen here and in # other albums',
  });
  return `${pictures} · ${others}`;
}

/** An album from above: where it stands, its days and places, its name, its first picture, its words, who is in it. */
export function AlbumHeader({
  answer,
  onArrange,
  onChapter,
}: {
  answer: AlbumAnswer;
  onArrange: () => void;
  onChapter: () => void;
}) {
  const router = useRouter();
  const wide = useWide();
  const { album, ids, places, people, givers } = answer;
  const shelves = useAnswer('albums', {}).data?.shelves ?? [];
  const known = useAnswer('people', {}, { enabled: people.length > 0 }).data?.people ?? [];
  const helps = useMe().data?.member?.part !== 'relative';
  const keeps = useMe().data?.member?.part === 'keeper';
  const [open, setOpen] = useState<'menu' | 'share' | 'show' | null>(null);
  const [sizing, setSizing] = useState(false);
  const [allNames, setAllNames] = useState(false);
  const smart = album.kind === 'smart';
  const when = album.from && album.to ? saySpan(album.from, album.to) : null;
  const line = [places.length ? sayList(places.slice(0, 2)) : null, when].filter(Boolean).join(', ');
  const cameos = people.flatMap((id) => known.find((person) => person.id === id) ?? []).slice(0, CAMEOS);
  const cover = album.cover ? (
    <img
      src={largeOf(album.cover)}
      alt=""
      style={{
        width: wide ? '56%' : '100%',
        maxHeight: wide ? 300 : 420,
        aspectRatio: '1.42',
        objectFit: 'cover',
        objectPosition: '50% 30%',
        borderRadius: CORNER.small,
        flexShrink: 0,
        background: 'rgb(var(--line))',
      }}
    />
  ) : null;
  const about = (
    <View className="min-w-0 flex-1 gap-2.5">
      {album.description ? <Words className="font-serif text-lead italic">{album.description}</Words> : null}
      {smart && album.question ? (
        <Words kind="small" className="text-plum">
          {toSentence(album.question, namesIn(album.names ?? {}), words())}
          {album.best
            ? ` · ${plural(album.best.n, { one: 'the best one of these', other: 'the best # of these' })}`
            : ''}
        </Words>
      ) : null}
      {cameos.length ? (
        <View className="flex-row flex-wrap items-center pl-2.5">
          {cameos.map((person) => (
            <View key={person.id} style={{ marginLeft: -10 }}>
              <Cameo face={person.portrait} width={44} label={person.name} />
            </View>
          ))}
          {people.length > cameos.length ? (
            <Words kind="small" className="pl-2">{`+ ${people.length - cameos.length}`}</Words>
          ) : null}
        </View>
      ) : null}
      <Words kind="small">{keptWords(answer)}</Words>
      {answer.elsewhere.length > 1 ? (
        allNames ? (
          <Words kind="small">{sayList(answer.elsewhere.map((one) => t`“${one.name}”`))}</Words>
        ) : (
          <View className="flex-row">
            <Chip label={t`Which albums?`} onPress={() => setAllNames(true)} />
          </View>
        )
      ) : null}
      {places.length > 2 ? <Words kind="small">{places.join(' · ')}</Words> : null}
      {givers.filter((one) => one.name).length > 1 ? (
        <Words kind="small">
          {t`Put together by ${sayList(givers.flatMap((one) => (one.name ? [`${one.name} (${one.pictures})`] : [])))}`}
        </Words>
      ) : null}
      {smart ? <Words kind="small" className="text-plum">{t`Fills itself and follows every change.`}</Words> : null}
    </View>
  );
  return (
    <View className="gap-3 pb-3 pt-3">
      <View className="flex-row items-center justify-between">
        <View className="min-w-0 flex-1">
          <Way way={wayTo(shelves, album.shelf)} />
        </View>
        <View className="shrink-0 flex-row">
          <IconButton
            name="sizes"
            label={t`How pictures are shown`}
            pressed={sizing}
            onPress={() => setSizing(!sizing)}
          />
          {keeps ? <IconButton name="send" label={t`Share this album`} onPress={() => setOpen('share')} /> : null}
          <IconButton name="more" label={t`More for this album`} onPress={() => setOpen('menu')} />
        </View>
      </View>
      <View>
        {line ? <Words className="text-soft">{line}</Words> : null}
        <View className="flex-row items-start gap-2.5">
          {smart ? (
            <View className="pt-3.5">
              <DoubleBar tone="rule" />
            </View>
          ) : null}
          <Words kind="title" className="min-w-0 flex-1 text-title">
            {album.name}
          </Words>
        </View>
      </View>
      <View className={wide ? 'flex-row gap-5' : 'gap-3'}>
        {cover}
        {about}
      </View>
      <View className="flex-row flex-wrap items-center gap-2">
        {ids.length ? (
          <Button label={t`Play`} icon="play" className="min-h-touch" onPress={() => setOpen('show')} />
        ) : null}
        {ids.length && helps ? (
          <Chip
            label={t`Make something`}
            icon="chapter"
            onPress={() => makeSomething({ source: { album: album.id }, title: album.name })}
          />
        ) : null}
        {smart && helps ? (
          <Chip
            label={t`Change the question`}
            icon="edit"
            tone="plum"
            onPress={() => router.push({ pathname: '/albums/[id]/question', params: { id: album.id } })}
          />
        ) : null}
        {helps ? <FillChips answer={answer} onArrange={onArrange} /> : null}
      </View>
      {sizing ? (
        <Panel>
          <TilesPanel screen="album" />
        </Panel>
      ) : null}
      {open === 'share' ? (
        <ShareSheet what={{ album: album.id }} title={album.name} onClose={() => setOpen(null)} />
      ) : null}
      {open === 'menu' ? (
        <AlbumMenu answer={answer} onArrange={onArrange} onChapter={onChapter} onClose={() => setOpen(null)} />
      ) : null}
      {open === 'show' ? <Show source={{ album: album.id }} title={album.name} onClose={() => setOpen(null)} /> : null}
    </View>
  );
}
