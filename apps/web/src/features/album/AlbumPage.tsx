import { t } from '@lingui/core/macro';
import type { Answer, Api, Chapter } from '@gemmel/contract';
import { plainStrip, type Strip } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { PictureGrid } from '@/features/browse/Grid';
import type { AlsoAct } from '@/features/pile/ActMenu';
import { Button } from '@/ui/Button';
import { Empty, Failed, Waiting } from '@/ui/State';
import { AlbumHeader } from './AlbumHeader';
import { Arrange } from './Arrange';
import { byHand, chooseCover, takeOut } from './acts';
import { ChapterHeading } from './ChapterHeading';
import { ChapterSheet, type ChapterPlace } from './ChapterSheet';
import { chapterHeight, ChaptersShown } from './chapters';
import { MoveSheet } from './MoveSheet';
import { WhySheet } from './WhySheet';

/** What the server tells of an album. */
export type AlbumAnswer = Answer<Api['album']>;

/** The pictures of an album in its own order, with its chapters. */
const stripOf = ({ ids, shapes, chapters }: AlbumAnswer): Strip =>
  plainStrip(
    ids,
    shapes.map((shape) => shape / 100),
    chapters.map(({ at, id }) => [at, id] as const),
  );

/** One album: opened like a letter, its pictures in their order under their chapters, and what can be done with it. */
export function AlbumPage({ id }: { id: number }) {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('album', { params: { id } });
  const helps = useMe().data?.member?.part !== 'relative';
  const strip = useMemo(() => (data ? stripOf(data) : null), [data]);
  const [arranging, setArranging] = useState(false);
  const [writing, setWriting] = useState<{ chapter: Chapter | null; before: ChapterPlace } | null>(null);
  const [why, setWhy] = useState<number | null>(null);
  const [moving, setMoving] = useState<readonly number[] | null>(null);
  const chapters = useMemo(
    () => ({
      by: new Map(data?.chapters.map((one) => [one.id, one])),
      edit: helps ? (chapter: Chapter) => setWriting({ chapter, before: null }) : null,
    }),
    [data, helps],
  );
  const height = useCallback(
    (chapter: number, width: number) => {
      const one = chapters.by.get(chapter);
      return one ? chapterHeight(one, width) : 0;
    },
    [chapters],
  );
  if (error) return <Failed error={error} again={() => void refetch()} />;
  // Another album's answer stands in while this one's is on its way.
  if (!data || !strip || data.album.id !== id) return <Waiting />;
  const { album } = data;
  const smart = album.kind === 'smart';
  if (arranging) return <Arrange answer={data} onDone={() => setArranging(false)} />;
  const also: AlsoAct[] = !helps
    ? []
    : smart
      ? [
          { label: t`Why is it in here?`, icon: 'why', single: true, act: ([one]) => setWhy(one!) },
          { label: t`Keep out of this album`, icon: 'minus', act: (ids) => void byHand(album, ids, 'out') },
          { label: t`Use as the cover`, icon: 'album', single: true, act: ([one]) => void chooseCover(album, one!) },
        ]
      : [
          { label: t`Take out of this album`, icon: 'minus', act: (ids) => void takeOut(album, ids) },
          { label: t`Move to another album`, icon: 'right', act: (ids) => setMoving(ids) },
          { label: t`Use as the cover`, icon: 'album', single: true, act: ([one]) => void chooseCover(album, one!) },
          ...(album.sorted === 'hand' && !album.backwards
            ? [
                {
                  label: t`A chapter from here on`,
                  icon: 'chapter' as const,
                  single: true,
                  act: ([one]: readonly number[]) => setWriting({ chapter: null, before: { picture: one! } }),
                },
              ]
            : []),
        ];
  return (
    <ChaptersShown.Provider value={chapters}>
      <PictureGrid
        strip={strip}
        screen="album"
        from={`/albums/${id}`}
        Heading={ChapterHeading}
        chapterHeight={height}
        also={also}
        header={
          <AlbumHeader
            answer={data}
            onArrange={() => setArranging(true)}
            onChapter={() => setWriting({ chapter: null, before: null })}
          />
        }
        empty={
          smart ? (
            <Empty title={t`No pictures fit yet`} text={t`Those that do will appear here by themselves.`} />
          ) : (
            <Empty title={t`Nothing in this album yet`} text={t`Put pictures on the pile, then add them from there.`}>
              <Button label={t`Browse the library`} onPress={() => router.push('/browse')} />
            </Empty>
          )
        }
      />
      {writing ? <ChapterSheet album={id} {...writing} onClose={() => setWriting(null)} /> : null}
      {why !== null ? <WhySheet album={album} picture={why} onClose={() => setWhy(null)} /> : null}
      {moving ? <MoveSheet album={album} ids={moving} onClose={() => setMoving(null)} /> : null}
    </ChaptersShown.Provider>
  );
}
