import { plural, t } from '@lingui/core/macro';
import type { FaceMark } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useAnswer, queries } from '@/api/query';
import { besideOf, call, largeOf, shownOf } from '@/api/client';
import { noteSeen } from '@/state/seen';
import { useStrip } from '@/state/useStrip';
import { useAsk, useSequence } from '@/state/ask';
import { usePile } from '@/state/pile';
import { useLying, useWide } from '@/state/wide';
import { IconButton } from '@/ui/Button';
import { isForPage } from '@/ui/keys';
import { Failed, Waiting } from '@/ui/State';
import { placeholder } from '@/ui/thumb';
import { ActMenu } from '@/features/pile/ActMenu';
import { useMe } from '@/features/account/session';
import { toBin } from '@/features/bin/acts';
import { keyAct } from '@/features/said/acts';
import { ClipPlayer } from './ClipPlayer';
import { DrawFace } from './DrawFace';
import { FaceOvals } from './FaceOvals';
import { FaceSheet } from './FaceSheet';
import { Facts } from './Facts';
import { KeysSheet } from '../said/KeysSheet';
import { ActSheet, SHEET_KEYS, type SheetAct } from '../pile/acts';
import { StageSides, StageTop } from './Stage';
import { useOpening } from './opening';
import { Viewer } from './Viewer';

/** The neighbours of a picture: in the list it was opened from, or, after a reload, in what Browse is asking for. */
function useNeighbours(id: number): { before: number | null; next: number | null } {
  const { ids } = useSequence();
  const question = useAsk((ask) => ask.question);
  const known = Array.prototype.includes.call(ids, id);
  const { strip } = useStrip(question);
  return useMemo(() => {
    const list: ArrayLike<number> = known ? ids : (strip?.ids ?? []);
    const at = Array.prototype.indexOf.call(list, id);
    return { before: at > 0 ? list[at - 1]! : null, next: at >= 0 && at + 1 < list.length ? list[at + 1]! : null };
  }, [known, ids, strip, id]);
}

/** One picture, large, with everything that is said about it. */
export function PicturePage({ id }: { id: number }) {
  const router = useRouter();
  const wide = useWide();
  const { data, error, refetch, isPlaceholderData } = useAnswer('picture', { params: { id } });
  const opening = useOpening(id);
  // What the grid knows of this one is more than what is known of the one before it.
  const picture = isPlaceholderData && opening ? undefined : data;
  const { before, next } = useNeighbours(id);
  const from = useSequence((sequence) => sequence.from);
  const onPile = usePile((pile) => pile.has.has(id));
  const toggle = usePile((pile) => pile.toggle);
  const [faces, setFaces] = useState(false);
  const [closer, setClose] = useState(false);
  // On its side a phone is for looking.
  const lying = useLying();
  const close = closer || lying;
  const [face, setFace] = useState<FaceMark | null>(null);
  const [drawingId, setDrawingId] = useState<number | null>(null);
  const drawing = drawingId === id;
  const [menu, setMenu] = useState(false);
  const [keysShown, setKeysShown] = useState(false);
  const [sheet, setSheet] = useState<SheetAct | null>(null);
  const helps = useMe().data?.member?.part !== 'relative';
  const [movingId, setMovingId] = useState<number | null>(null);
  const moving = movingId === id;
  const setMoving = (on: boolean) => setMovingId(on ? id : null);

  const go = (to: number | null) => to !== null && router.replace({ pathname: '/picture/[id]', params: { id: to } });
  const leave = () => router.navigate(from as '/browse');
  /** Once a picture has gone to the bin, its neighbour is shown, or where it was opened from. */
  const goneFrom = (gone: number) => () => {
    useSequence.getState().without(gone);
    const to = next ?? before;
    if (to === null) leave();
    else go(to);
  };
  useEffect(() => noteSeen(id), [id]);
  useEffect(() => {
    for (const near of [next, before])
      if (near !== null)
        void queries
          .prefetchQuery({
            queryKey: ['picture', { params: { id: near } }],
            queryFn: () => call('picture', { params: { id: near } }),
          })
          .then(() => {
            const sha = queries.getQueryData<{ sha: string }>(['picture', { params: { id: near } }])?.sha;
            if (sha) new Image().src = largeOf(sha);
          });
  }, [next, before]);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!isForPage(event)) return;
      if (event.key === 'ArrowRight') go(next);
      else if (event.key === 'ArrowLeft') go(before);
      else if (event.key === 'Escape') {
        if (closer) setClose(false);
        else leave();
      } else if (event.key === 'p') toggle(id);
      else if (event.key === 'f') setFaces((on) => !on);
      else if (event.key === '?') setKeysShown(true);
      else if (helps && event.key === 'Delete') void toBin([id]).then((done) => done && goneFrom(id)());
      else if (helps && SHEET_KEYS[event.key]) setSheet(SHEET_KEYS[event.key]!);
      else if (event.key === ' ' && !(event.target as HTMLElement).closest('button,a,[role=radio]'))
        setClose((on) => !on);
      else if (!keyAct(event.key, [id], picture?.favourite)) return;
      event.preventDefault();
    };
    document.addEventListener('keydown', keys);
    return () => document.removeEventListener('keydown', keys);
  });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  const shown = picture ?? opening;
  if (!shown) return <Waiting />;
  const half = picture?.beside.find((file) => file.role === 'clip');
  const marks = picture?.faces.filter((f) => f.state !== 'not a face') ?? [];
  const goNext = next === null ? undefined : () => go(next);
  const goBefore = before === null ? undefined : () => go(before);
  const stage = (
    <div
      style={{
        position: 'relative',
        background: `linear-gradient(rgb(11 16 15 / 0.78), rgb(11 16 15 / 0.78)), ${placeholder(shown.thumb)} center / cover`,
        flexGrow: wide || close ? 1 : 0,
        height: wide ? undefined : close ? '100%' : '48%',
        minWidth: 0,
        minHeight: 0,
        flexShrink: 0,
      }}
    >
      {picture?.kind === 'video' ? (
        <ClipPlayer key={picture.id} picture={picture} />
      ) : (
        <Viewer
          key={shown.id}
          picture={shown}
          {...(shown.touched ? { original: shownOf(shown.id) } : {})}
          {...(opening ? { small: opening.small } : {})}
          onNext={goNext}
          onBefore={goBefore}
          onTap={() => setClose(!closer)}
          over={(box) =>
            !picture || isPlaceholderData ? null : drawing ? (
              <DrawFace picture={id} box={box} onDone={() => (setDrawingId(null), setFaces(true))} />
            ) : faces ? (
              <FaceOvals faces={marks} box={box} onFace={setFace} />
            ) : null
          }
        />
      )}
      {moving && picture && half ? (
        <video
          src={besideOf(picture.id, half.id)}
          autoPlay
          playsInline
          aria-label={t`The moving part of ${picture.name}`}
          onEnded={() => setMoving(false)}
          onError={() => setMoving(false)}
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', objectFit: 'contain' }}
        />
      ) : null}
      <StageTop>
        <IconButton
          name="away"
          tone="bright"
          label={closer && !lying ? t`Back to the details` : t`Back`}
          onPress={() => (closer && !lying ? setClose(false) : leave())}
        />
        <div style={{ display: 'flex' }}>
          {half ? (
            <IconButton
              name="play"
              tone={moving ? 'glow' : 'bright'}
              pressed={moving}
              label={moving ? t`Back to the still` : t`Play the moment`}
              onPress={() => setMoving(!moving)}
            />
          ) : null}
          {marks.length ? (
            <IconButton
              name="faces"
              tone={faces ? 'glow' : 'bright'}
              pressed={faces}
              label={
                faces ? t`Hide the faces` : plural(marks.length, { one: 'Show the face', other: 'Show the # faces' })
              }
              onPress={() => setFaces(!faces)}
            />
          ) : null}
          <IconButton
            name="pile"
            tone={onPile ? 'glow' : 'bright'}
            pressed={onPile}
            label={onPile ? t`Take off the pile` : t`Put on the pile`}
            onPress={() => toggle(id)}
          />
          {helps && picture?.kind === 'photo' ? (
            <IconButton
              name="touch"
              tone="bright"
              label={t`Touch up`}
              onPress={() => router.push({ pathname: '/touch-up/[id]', params: { id } })}
            />
          ) : null}
          <IconButton name="more" tone="bright" label={t`More for this picture`} onPress={() => setMenu(true)} />
          {close ? null : (
            <IconButton name="look" tone="bright" label={t`Look closer`} onPress={() => setClose(true)} />
          )}
        </div>
      </StageTop>
      {drawing ? null : <StageSides before={goBefore} next={goNext} />}
    </div>
  );
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: wide ? 'row' : 'column' }}>
      {stage}
      {close ? null : (
        <ScrollView
          style={wide ? { width: 390, flexGrow: 0, flexShrink: 0 } : { flex: 1 }}
          contentContainerStyle={{ padding: wide ? 22 : 18, paddingBottom: 60 }}
        >
          <View style={isPlaceholderData ? { opacity: 0.5 } : {}}>
            {picture ? (
              <Facts
                key={picture.id}
                picture={picture}
                onFaces={() => setFaces(true)}
                onDraw={picture.kind === 'photo' ? () => setDrawingId(id) : undefined}
              />
            ) : (
              <Waiting />
            )}
          </View>
        </ScrollView>
      )}
      {face ? <FaceSheet face={face} onClose={() => setFace(null)} /> : null}
      {menu ? <ActMenu ids={[id]} onBinned={goneFrom(id)} onClose={() => setMenu(false)} /> : null}
      {sheet ? <ActSheet act={sheet} ids={[id]} onClose={() => setSheet(null)} /> : null}
      {keysShown ? <KeysSheet onClose={() => setKeysShown(false)} /> : null}
    </div>
  );
}
