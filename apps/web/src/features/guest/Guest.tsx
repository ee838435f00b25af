import { plural, t } from '@lingui/core/macro';
import type { GuestShare, ShowSlide } from '@gemmel/contract';
import { justify, places, PLAIN_SHOW } from '@gemmel/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { View } from 'react-native';
import { Told, wordsOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { StageSides, StageTop } from '@/features/picture/Stage';
import { Viewer } from '@/features/picture/Viewer';
import { useWide } from '@/state/wide';
import { Player } from '@/features/show/Show';
import { Button, IconButton } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { sayBytes, sayClock, sayDay } from '@/ui/say';
import { Empty, Failed, Waiting } from '@/ui/State';
import { placeholder } from '@/ui/thumb';
import { useSize } from '@/ui/useSize';
import { Words } from '@/ui/Words';
import { CORNER, SIZE, TYPE } from '@/ui/tokens';

const GAP = 3;
type Picture = GuestShare['pictures'][number];
const fileOf = (token: string, id: number, size: 'small' | 'large' | 'original') =>
  `/api/guest/${encodeURIComponent(token)}/pictures/${id}/${size}`;

/** What somebody sees who opened a link: a calm gallery, a big view, save one or all. No account, nothing else. */
export function Guest({ token }: { token: string }) {
  const { data, error, refetch } = useAnswer('guest', { params: { token } });
  const [open, setOpen] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);
  if (error) {
    const gone = error instanceof Told && (error.status === 404 || error.status === 410 || error.status === 400);
    return (
      <main>
        {gone ? (
          <Empty title={t`This share is closed`} text={wordsOf(error)} />
        ) : (
          <Failed error={error} again={() => void refetch()} />
        )}
      </main>
    );
  }
  if (!data) return <Waiting />;
  return (
    <main style={{ height: '100%', overflowY: 'auto' }}>
      <Gallery share={data} token={token} onOpen={setOpen} onPlay={() => setPlaying(true)} />
      {playing ? <GuestShow share={data} token={token} onClose={() => setPlaying(false)} /> : null}
      {open !== null ? <Big pictures={data.pictures} token={token} at={open} onGo={setOpen} /> : null}
    </main>
  );
}

/** A share as a show: its pictures in order, without words nobody has given away. */
function GuestShow({ share, token, onClose }: { share: GuestShare; token: string; onClose: () => void }) {
  const house = useMemo(() => {
    const by = new Map(
      share.pictures.map((one): [number, ShowSlide] => [
        one.id,
        {
          id: one.id,
          sha: '',
          thumb: one.thumb,
          kind: one.kind,
          seconds: one.seconds,
          taken: null,
          takenSpan: null,
          title: null,
          caption: null,
          place: one.town,
          names: [],
          faces: [],
        },
      ]),
    );
    return {
      data: {
        title: share.title,
        from: null,
        to: null,
        pictures: share.pictures.map((one) => ({
          id: one.id,
          ratio: one.shape,
          seconds: one.kind === 'video' ? one.seconds || 10 : null,
          taken: null,
        })),
        chapters: [],
      },
      error: null,
      known: by,
      large: (slide: ShowSlide) => fileOf(token, slide.id, 'large'),
      play: (slide: ShowSlide) => fileOf(token, slide.id, 'original'),
    };
  }, [share, token]);
  return (
    <Player house={house} title={share.title} settings={GUEST_SHOW} music={NO_MUSIC} sheet={null} onClose={onClose} />
  );
}
const GUEST_SHOW = { ...PLAIN_SHOW, tells: { ...PLAIN_SHOW.tells, place: true } };
const NO_MUSIC: { id: number; seconds: number }[] = [];

function Gallery({
  share,
  token,
  onOpen,
  onPlay,
}: {
  share: GuestShare;
  token: string;
  onOpen: (at: number) => void;
  onPlay: () => void;
}) {
  const wide = useWide();
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const rows = useMemo(() => {
    const ratios = share.pictures.map((p) => p.shape);
    if (!width) return [];
    return justify(ratios, 0, ratios.length, { width, rowHeight: wide ? 230 : 140, gap: GAP }).map((row) => ({
      ...row,
      cells: places(ratios, row, GAP),
    }));
  }, [share, width, wide]);
  return (
    <div style={{ maxWidth: 1180, margin: '0 auto', padding: wide ? '40px 26px 80px' : '24px 16px 60px' }}>
      <View className="mb-5 gap-1">
        <Rings size={46} />
        <Words kind="title">{share.title}</Words>
        <Words className="text-soft">
          {[
            plural(share.pictures.length, {
              one: `# picture from ${share.from}`,
              other: `# pictures from ${share.from}`,
            }),
            share.until ? t`open until ${sayDay(share.until)}` : '',
          ]
            .filter(Boolean)
            .join(' · ')}
        </Words>
        {share.pictures.length ? (
          <View className="mt-2.5 flex-row">
            <Button label={t`Play`} icon="play" onPress={onPlay} />
          </View>
        ) : null}
        {share.pictures.length ? (
          <a
            href={`/api/guest/${encodeURIComponent(token)}/zip`}
            download
            style={{
              alignSelf: 'flex-start',
              marginTop: 10,
              minHeight: SIZE.button,
              display: 'flex',
              alignItems: 'center',
              gap: 10,
              padding: '0 18px',
              borderRadius: CORNER.act,
              border: '1px solid rgb(var(--juniper))',
            }}
          >
            <Icon name="download" size={18} tone="juniper" />
            <Words className="font-semi text-body text-juniper">{t`Save all at full size (${sayBytes(share.bytes)})`}</Words>
          </a>
        ) : (
          <Words>{t`Nothing here yet.`}</Words>
        )}
      </View>
      <div ref={box}>
        {rows.map((row) => (
          <div key={row.from} style={{ position: 'relative', height: row.height, marginBottom: GAP }}>
            {row.cells.map((cell, i) => {
              const at = row.from + i;
              const picture = share.pictures[at]!;
              return (
                <button
                  key={picture.id}
                  type="button"
                  className="tile"
                  onClick={() => onOpen(at)}
                  aria-label={
                    picture.kind === 'video'
                      ? t`Clip ${at + 1} of ${share.pictures.length}`
                      : t`Picture ${at + 1} of ${share.pictures.length}`
                  }
                  style={{
                    left: cell.left,
                    width: cell.width,
                    height: row.height,
                    backgroundImage: placeholder(picture.thumb),
                  }}
                >
                  <img src={fileOf(token, picture.id, 'small')} alt="" loading="lazy" className="here" />
                  {picture.kind === 'video' ? (
                    <span
                      style={{
                        position: 'absolute',
                        right: 6,
                        bottom: 6,
                        background: 'rgb(11 16 15 / 0.75)',
                        color: '#fffbf3',
                        borderRadius: 8,
                        padding: '2px 7px',
                        fontSize: TYPE.tiny,
                      }}
                    >{`▸ ${sayClock(picture.seconds ?? 0)}`}</span>
                  ) : null}
                </button>
              );
            })}
          </div>
        ))}
      </div>
    </div>
  );
}

function Big({
  pictures,
  token,
  at,
  onGo,
}: {
  pictures: Picture[];
  token: string;
  at: number;
  onGo: (at: number | null) => void;
}) {
  const picture = pictures[at]!;
  const before = at > 0 ? () => onGo(at - 1) : undefined;
  const next = at + 1 < pictures.length ? () => onGo(at + 1) : undefined;
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => box.current?.focus(), []);
  return (
    <div
      ref={box}
      role="dialog"
      aria-modal="true"
      aria-label={t`Picture ${at + 1} of ${pictures.length}`}
      tabIndex={-1}
      onKeyDown={(event) => {
        if (event.key === 'ArrowRight') next?.();
        else if (event.key === 'ArrowLeft') before?.();
        else if (event.key === 'Escape') onGo(null);
      }}
      style={{ position: 'fixed', inset: 0, zIndex: 30, background: '#0b100f', outline: 'none' }}
    >
      <Viewer
        key={picture.id}
        picture={{
          id: picture.id,
          sha: String(picture.id),
          thumb: picture.thumb,
          kind: picture.kind,
          width: picture.shape * 1000,
          height: 1000,
          name: t`Picture ${at + 1} of ${pictures.length}`,
        }}
        src={fileOf(token, picture.id, 'large')}
        original={fileOf(token, picture.id, picture.kind === 'video' ? 'original' : 'large')}
        onNext={next}
        onBefore={before}
      />
      <StageTop>
        <IconButton name="away" tone="bright" label={t`Back to all pictures`} onPress={() => onGo(null)} />
        <Words className="text-small text-bright" aria-live="polite">{t`${at + 1} of ${pictures.length}`}</Words>
        <a
          href={`${fileOf(token, picture.id, 'original')}?save`}
          download
          aria-label={t`Save this picture at full size`}
          style={{
            width: SIZE.touch,
            height: SIZE.touch,
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
          }}
        >
          <Icon name="download" tone="bright" />
        </a>
      </StageTop>
      <StageSides before={before} next={next} />
    </div>
  );
}
