import { plural, t } from '@lingui/core/macro';
import type { BookLayout, Piece } from '@gemmel/contract';
import { PAGES, POOR, SHARP, type BookEdits } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { call } from '@/api/client';
import { refreshTopics, useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useWide } from '@/state/wide';
import { Chip, IconButton } from '@/ui/Button';
import { sayNumber } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { BookWords } from './BookWords';
import { keepPage, leaveOut, letFlow, moveTo, moveWithin, otherWay, overAll, pageBeside } from './edits';
import { LeftOut } from './LeftOut';
import { CoverView, PageView, type Looks } from './PageView';
import { PieceTop } from './PieceHeader';
import { paperWords } from './words';

type BookPage = BookLayout['pages'][number];
type Book = Piece & { settings: Extract<Piece['settings'], { kind: 'book' }> };

/** A book as spreads: the cover, then the first page alone, then two and two. */
function spreadsOf(pages: readonly BookPage[]): (readonly [BookPage | null, BookPage | null])[] {
  const spreads: [BookPage | null, BookPage | null][] = [];
  for (const page of pages)
    if (page.number % 2 === 0) spreads.push([page, null]);
    else if (page.number === 1) spreads.push([null, page]);
    else spreads[spreads.length - 1]![1] = page;
  return spreads;
}

/** A family book: its spreads, what can be changed on them, and its making. */
export function BookScreen({ piece }: { piece: Book }) {
  const { data, error, refetch } = useAnswer('bookLayout', { params: { id: piece.id } });
  const { settings } = piece;
  return (
    <Page>
      <PieceTop
        piece={piece}
        label={t`Make the PDF`}
        about={
          data
            ? [
                plural(data.pages.length, { one: '# page', other: '# pages' }),
                paperWords(settings.paper),
                t`about ${sayNumber(Math.max(1, Math.round(data.bytes / 1e6)))} MB`,
              ].join(' · ')
            : ''
        }
      />
      {error ? (
        <Failed error={error} again={() => void refetch()} />
      ) : !data ? (
        <Waiting />
      ) : (
        <Spreads piece={piece} layout={data} />
      )}
    </Page>
  );
}

function Spreads({ piece, layout }: { piece: Book; layout: BookLayout }) {
  const wide = useWide();
  const spreads = useMemo(() => spreadsOf(layout.pages), [layout.pages]);
  const looks: Looks = useMemo(() => new Map(layout.looks.map((look) => [look.id, look])), [layout.looks]);
  const maps = useMemo(() => new Map(layout.chapters.map(({ key, map }) => [key, map])), [layout.chapters]);
  // The cover stands before the first spread.
  const [at, setAt] = useState(0);
  const [picked, setPicked] = useState<{ page: number; picture: number | null } | null>(null);
  const now = Math.min(at, spreads.length);
  const spread = now === 0 ? null : spreads[now - 1]!;
  const go = (to: number) => {
    setAt(Math.max(0, Math.min(spreads.length, to)));
    setPicked(null);
  };
  useEffect(() => {
    const turn = (event: KeyboardEvent) => {
      if (
        event.target instanceof HTMLInputElement ||
        event.target instanceof HTMLTextAreaElement ||
        document.querySelector('dialog[open]')
      )
        return;
      if (event.key === 'ArrowRight') go(now + 1);
      else if (event.key === 'ArrowLeft') go(now - 1);
    };
    addEventListener('keydown', turn);
    return () => removeEventListener('keydown', turn);
  });
  const { width, height } = PAGES[piece.settings.paper];
  const view = (page: BookPage | null, large: boolean) => (
    <PageView
      page={page}
      width={width}
      height={height}
      looks={looks}
      map={(page?.chapter && maps.get(page.chapter)) || null}
      large={large}
      chosen={picked && page && picked.page === page.number ? picked.picture : null}
      {...(large && page ? { onPick: (picture: number | null) => setPicked({ page: page.number, picture }) } : {})}
    />
  );
  const chapter = spread?.map((page) => page?.chapter).find(Boolean);
  const title = chapter ? layout.chapters.find(({ key }) => key === chapter)?.title : null;
  const numbers = spread?.flatMap((page) => (page ? [page.number] : [])) ?? [];
  const told =
    now === 0
      ? t`The cover`
      : numbers.length === 2
        ? t`Pages ${numbers[0]!} and ${numbers[1]!}`
        : t`Page ${numbers[0]!}`;
  return (
    <View className="gap-4">
      <View style={{ maxWidth: wide ? 860 : undefined, width: '100%', alignSelf: 'center' }}>
        {spread ? (
          <div className="book" style={{ display: 'flex', boxShadow: '0 6px 24px rgb(0 0 0 / .16)' }}>
            {spread.map((page, i) => (
              <div
                key={i}
                style={{
                  flex: 1,
                  minWidth: 0,
                  background: page ? '#FFFFFF' : 'transparent',
                  borderLeft: i ? '1px solid rgb(0 0 0 / .12)' : undefined,
                  outline: picked && page?.number === picked.page ? '3px solid rgb(var(--marigold))' : undefined,
                  zIndex: picked && page?.number === picked.page ? 1 : 0,
                }}
              >
                {view(page, true)}
              </div>
            ))}
          </div>
        ) : (
          <div style={{ boxShadow: '0 6px 24px rgb(0 0 0 / .16)' }}>
            <CoverView cover={layout.cover} looks={looks} />
          </div>
        )}
      </View>
      <View className="flex-row items-center justify-center gap-4">
        <IconButton name="left" label={t`Back`} onPress={() => go(now - 1)} />
        <Words aria-live="polite" className="min-w-0 text-center" numberOfLines={2}>
          {title ? `${told} · ${title}` : told}
        </Words>
        <IconButton name="right" label={t`Next`} onPress={() => go(now + 1)} />
      </View>
      <Acts piece={piece} layout={layout} spread={spread} picked={picked} onPick={setPicked} />
      <ScrollView horizontal contentContainerStyle={{ gap: 10, paddingVertical: 8 }}>
        {[null, ...spreads].map((one, i) => (
          <Pressable
            key={i}
            role="button"
            aria-label={one === null ? t`The cover` : t`Spread ${i}`}
            aria-pressed={i === now}
            onPress={() => go(i)}
            className={`rounded-picture border-2 ${i === now ? 'border-juniper' : 'border-line'}`}
          >
            <div style={{ width: 104, display: 'flex', background: '#FFFFFF' }}>
              {one === null ? (
                <CoverView cover={layout.cover} looks={looks} />
              ) : Math.abs(i - now) < 30 ? (
                one.map((page, j) => (
                  <div key={j} style={{ flex: 1, minWidth: 0 }}>
                    {view(page, false)}
                  </div>
                ))
              ) : (
                <div style={{ width: '100%', aspectRatio: `${2 * width} / ${height}` }} />
              )}
            </div>
          </Pressable>
        ))}
      </ScrollView>
      <LeftOut piece={piece} layout={layout} />
    </View>
  );
}

/** What can be done with the pages that are open. */
function Acts({
  piece,
  layout,
  spread,
  picked,
  onPick,
}: {
  piece: Book;
  layout: BookLayout;
  spread: readonly [BookPage | null, BookPage | null] | null;
  picked: { page: number; picture: number | null } | null;
  onPick: (picked: { page: number; picture: number | null } | null) => void;
}) {
  const router = useRouter();
  const [words, setWords] = useState(false);
  const [busy, setBusy] = useState(false);
  const { edits } = layout;
  const open =
    spread?.flatMap((page) =>
      page && (page.kind === 'pictures' || page.kind === 'full') && page.pictures.length ? [page] : [],
    ) ?? [];
  const page = open.find(({ number }) => number === picked?.page) ?? (open.length === 1 ? open[0]! : null);
  const picture = page?.pictures.find(({ id }) => id === picked?.picture) ?? null;
  const save = async (next: BookEdits, said: string) => {
    setBusy(true);
    const done = await act(
      () => call('changePiece', { params: { id: piece.id }, body: { edits: next, seen: layout.seen } }),
      said,
      'pieces',
    );
    if (!done) refreshTopics('pieces');
    setBusy(false);
  };
  const coarse = (picture ? [picture] : (page?.pictures ?? []))
    .filter(({ ppi }) => ppi < SHARP)
    .sort((a, b) => a.ppi - b.ppi)[0];
  const beside = (step: 1 | -1) => (page ? pageBeside(layout.pages, page, step) : null);
  const move = (step: 1 | -1) => {
    const to = beside(step);
    if (page && picture && to)
      void save(
        moveTo(edits, page, to, picture.id, step),
        step > 0 ? t`Moved to the next page` : t`Moved to the page before`,
      );
    onPick(null);
  };
  const reword = spread === null || Boolean(page) || spread.some((one) => one?.kind === 'title');
  return (
    <View className="items-center gap-2">
      <View className="flex-row flex-wrap justify-center gap-2" role="group" aria-label={t`What can be changed here`}>
        {open.length > 1 && !page ? (
          <Words kind="small" className="w-full text-center">{t`Tap a page or a picture to change it.`}</Words>
        ) : null}
        {page && !picture ? (
          <>
            {page.ways > 1 ? (
              <Chip
                label={t`Another arrangement`}
                onPress={() => busy || void save(otherWay(edits, page), t`Rearranged`)}
              />
            ) : null}
            <Chip
              label={page.kept ? t`Let this page flow again` : t`Keep this page as it is`}
              on={page.kept}
              onPress={() =>
                busy ||
                void save(
                  page.kept ? letFlow(edits, page) : keepPage(edits, page),
                  page.kept ? t`The page flows again` : t`The page stays as it is`,
                )
              }
            />
            {page.pictures.length === 1 ? (
              <Chip
                label={t`Over the whole page`}
                on={page.kind === 'full'}
                onPress={() =>
                  busy ||
                  void save(
                    overAll(edits, page, page.kind !== 'full'),
                    page.kind === 'full' ? t`It has a margin again` : t`It fills the page`,
                  )
                }
              />
            ) : null}
          </>
        ) : null}
        {page && picture ? (
          <>
            {page.pictures.length > 1 ? (
              <>
                <Chip
                  label={t`Earlier on the page`}
                  onPress={() => busy || void save(moveWithin(edits, page, picture.id, -1), t`Moved on the page`)}
                />
                <Chip
                  label={t`Later on the page`}
                  onPress={() => busy || void save(moveWithin(edits, page, picture.id, 1), t`Moved on the page`)}
                />
              </>
            ) : null}
            {beside(-1) ? <Chip label={t`To the page before`} onPress={() => busy || move(-1)} /> : null}
            {beside(1) ? <Chip label={t`To the next page`} onPress={() => busy || move(1)} /> : null}
            <Chip
              label={t`Leave it out`}
              onPress={() => {
                if (busy) return;
                onPick(null);
                void save(leaveOut(edits, picture.id), t`Left out of the book`);
              }}
            />
            <Chip
              label={t`On the cover`}
              on={layout.cover.picture?.id === picture.id}
              onPress={() => busy || void save({ ...edits, cover: picture.id }, t`Put on the cover`)}
            />
            <Chip label={t`Open the picture`} onPress={() => router.push(`/picture/${picture.id}`)} />
          </>
        ) : null}
        {reword ? <Chip label={t`Words`} icon="edit" onPress={() => setWords(true)} /> : null}
      </View>
      {coarse ? (
        <Words className={`text-center font-semi ${coarse.ppi < POOR ? 'text-brick' : 'text-marigold'}`}>
          {coarse.ppi < POOR
            ? t`One picture prints at ${sayNumber(Math.round(coarse.ppi))} points an inch: it will look coarse. Smaller would be better.`
            : t`One picture prints at ${sayNumber(Math.round(coarse.ppi))} points an inch: smaller would be sharper.`}
        </Words>
      ) : null}
      {busy ? <Words kind="small" aria-live="polite">{t`Laying out again …`}</Words> : null}
      {words ? (
        <BookWords
          layout={layout}
          page={page}
          picture={picture?.id ?? null}
          onSave={save}
          onClose={() => setWords(false)}
        />
      ) : null}
    </View>
  );
}
