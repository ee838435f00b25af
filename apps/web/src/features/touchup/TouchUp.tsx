import '@/api/checked';
import {
  AS_TAKEN,
  type Corners,
  isAsTaken,
  PAPERS,
  type Paper,
  placeIn,
  placeOut,
  plainRecipe,
  proposeCrop,
  Recipe,
  sizeAfter,
} from '@gemmel/core';
import { i18n } from '@lingui/core';
import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import type { Answer, Api } from '@gemmel/contract';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useWide } from '@/state/wide';
import { Button, Chip, IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { isForPage } from '@/ui/keys';
import { sayWhen } from '@/ui/say';
import { Failed, Waiting } from '@/ui/State';
import { SIZE } from '@/ui/tokens';
import { useSize } from '@/ui/useSize';
import { Words } from '@/ui/Words';
import { CopyLook } from './CopyLook';
import { CornerFrame } from './CornerFrame';
import { CropFrame } from './CropFrame';
import { dialOf, DIALS, FILTERS, type LineId, linesOf, paperName, TOOLS, withDial, without } from './lines';
import { useTouched } from './useTouched';

/** How large a healed spot is, as a share of the long side. */
const SPOT = { spots: 0.018, redEyes: 0.016 } as const;

/** Where the corners of a print are looked for first. */
const INSET: Corners = [0.08, 0.08, 0.92, 0.08, 0.92, 0.92, 0.08, 0.92];

/** What stands before a print is made upright. */
const beforeCorners = (recipe: Recipe): Recipe => without(without(without(recipe, 'corners'), 'level'), 'crop');

/** A cut of its own within the frame before it is cut. */
const WHOLE = [0, 0, 1, 1] as const;

/**
 * How a picture is made: one line a step, newest last, each with its one dial under the thumb. The original stays; “As taken” is the
 * first line and brings everything back.
 */
export function TouchUp({ id }: { id: number }) {
  const { data: look, error, refetch } = useAnswer('look', { params: { id } });
  const { data: picture } = useAnswer('picture', { params: { id } });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  return look ? <Making id={id} look={look} name={picture?.name ?? ''} /> : <Waiting />;
}

function Making({ id, look, name }: { id: number; look: Answer<Api['look']>; name: string }) {
  const router = useRouter();
  const wide = useWide();
  const [steps, setSteps] = useState<{ list: readonly Recipe[]; at: number } | null>(null);
  const [line, setLine] = useState<LineId | null>(null);
  const [asTaken, setAsTaken] = useState(false);
  const [ratio, setRatio] = useState<{ paper: Paper; upright: boolean } | null>(null);
  const [adding, setAdding] = useState(false);
  const [earlier, setEarlier] = useState(false);
  const [copying, setCopying] = useState(false);
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const room = useSize(frame);
  const now = steps ?? { list: [look.recipe ?? AS_TAKEN], at: 0 };
  const recipe = now.list[now.at]!;
  // While it is cut, all of it is seen.
  const cutting = line === 'crop';
  const cornering = line === 'corners';
  const shown = useMemo(
    () => (asTaken ? AS_TAKEN : cutting ? without(recipe, 'crop') : cornering ? beforeCorners(recipe) : recipe),
    [recipe, asTaken, cutting, cornering],
  );
  const { size, failed, guess, corners: cornersIn } = useTouched(look.sha, shown, canvas);
  const saved = JSON.stringify(plainRecipe(look.recipe ?? AS_TAKEN));
  const changed = JSON.stringify(plainRecipe(recipe)) !== saved;

  /**
   * A further step, made of the recipe as it is by then; what was taken back before is gone. `same` while a dial is moved: one step for
   * one line. Null changes nothing.
   */
  const change = (make: (recipe: Recipe) => Recipe | null, same = false) =>
    setSteps((latest) => {
      const before = latest ?? { list: [look.recipe ?? AS_TAKEN], at: 0 };
      const next = make(before.list[before.at]!);
      if (!next) return before;
      const list = before.list.slice(0, before.at + 1);
      if (same && list.length > 1) list[list.length - 1] = next;
      else list.push(next);
      return { list, at: list.length - 1 };
    });
  const set = (next: Recipe, same = false) => change(() => next, same);
  const dialling = useRef<LineId | null>(null);
  const leave = () =>
    router.canGoBack() ? router.back() : router.replace({ pathname: '/picture/[id]', params: { id } });
  const keep = async () => {
    const done = await act(
      () => call('touchUp', { body: { ids: [id], recipe: isAsTaken(recipe) ? null : plainRecipe(recipe) } }),
      isAsTaken(recipe) ? t`Shown as it was taken` : t`Look kept; the original stays as it was`,
      'pictures',
      'acts',
    );
    if (done) leave();
  };
  const keepBeside = async () => {
    const done = await act(
      () => call('secondLook', { params: { id }, body: { recipe: plainRecipe(recipe) } }),
      t`A second look stands beside the first`,
      'pictures',
      'people',
      'library',
    );
    if (done) router.replace({ pathname: '/picture/[id]', params: { id: done.looks[0]! } });
  };
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!isForPage(event)) return;
      if (event.key === 'Escape') leave();
      else if (event.key === 'Enter' && changed && !(event.target as HTMLElement).closest('button,a,input'))
        void keep();
      else if (event.key === 'z' && !event.ctrlKey && !event.metaKey) setSteps({ ...now, at: Math.max(0, now.at - 1) });
      else if (event.key === 'y' && !event.ctrlKey && !event.metaKey)
        setSteps({ ...now, at: Math.min(now.list.length - 1, now.at + 1) });
      else if (event.key === 'b') setAsTaken(true);
      else if (event.key === 'r') addLine('turn');
      else if (event.key === 'a') addLine('automatic');
      else if (event.key === 'c') addLine('crop');
      else return;
      event.preventDefault();
    };
    const up = (event: KeyboardEvent) => event.key === 'b' && setAsTaken(false);
    document.addEventListener('keydown', keys);
    document.addEventListener('keyup', up);
    return () => {
      document.removeEventListener('keydown', keys);
      document.removeEventListener('keyup', up);
    };
  });
  const [w, h] = sizeAfter(look.width, look.height, without(recipe, 'crop'));
  const [cw, ch] = sizeAfter(look.width, look.height, recipe);
  const lines = linesOf(recipe, cw / ch);

  /** Faces within the frame before it is cut. */
  const facesIn = (): [number, number, number, number][] =>
    look.faces.map(([l, u, r, b]) => {
      const corners = [
        [l, u],
        [r, u],
        [l, b],
        [r, b],
      ].map((point) => placeIn(without(recipe, 'crop'), look.width, look.height, point as [number, number]));
      return [
        Math.min(...corners.map(([x]) => x)),
        Math.min(...corners.map(([, y]) => y)),
        Math.max(...corners.map(([x]) => x)),
        Math.max(...corners.map(([, y]) => y)),
      ];
    });
  const cutTo = (paper: Paper, upright: boolean) => {
    setRatio({ paper, upright });
    const wanted = upright ? 1 / PAPERS[paper] : PAPERS[paper];
    set({ ...recipe, crop: proposeCrop(w / h, wanted, facesIn()) });
  };
  function addLine(tool: LineId): void {
    setAdding(false);
    dialling.current = null;
    if (tool === 'turn') {
      // A cut turns with the picture; a mirrored one is turned the other way before it is mirrored.
      const turn = (((recipe.turn ?? 0) + (recipe.mirror ? 3 : 1)) % 4) as 0 | 1 | 2 | 3;
      const [l, u, r, b] = recipe.crop ?? WHOLE;
      const { turn: _, crop: __, corners, ...rest } = recipe;
      const [x0, y0, x1, y1, x2, y2, x3, y3] = corners ?? INSET;
      set(
        plainRecipe({
          ...rest,
          ...(turn ? { turn } : {}),
          ...(corners ? { corners: [1 - y3, x3, 1 - y0, x0, 1 - y1, x1, 1 - y2, x2] } : {}),
          crop: [1 - b, l, 1 - u, r],
        }),
      );
      setLine('turn');
    } else if (tool === 'mirror') {
      const { mirror, corners, level, ...rest } = recipe;
      const [l, u, r, b] = recipe.crop ?? WHOLE;
      const [x0, y0, x1, y1, x2, y2, x3, y3] = corners ?? INSET;
      set(
        plainRecipe({
          ...rest,
          ...(mirror ? {} : { mirror: true as const }),
          ...(corners ? { corners: [1 - x1, y1, 1 - x0, y0, 1 - x3, y3, 1 - x2, y2] } : {}),
          ...(level ? { level: -level } : {}),
          crop: [1 - r, u, 1 - l, b],
        }),
      );
      setLine(mirror ? null : 'mirror');
    } else if (tool === 'automatic' || tool === 'tired')
      void guess(tool).then((answer) => {
        if ('tones' in answer) change((latest) => ({ ...latest, tones: answer.tones, by: tool }));
        setLine(tool);
      });
    else if (tool === 'level') {
      setLine('level');
      if (!recipe.level)
        void guess('level').then((answer) => {
          // Whoever has turned the dial meanwhile knows better.
          if ('level' in answer && answer.level)
            change((latest) => (latest.level ? null : { ...latest, level: answer.level }));
        });
    } else if (tool === 'corners') {
      setLine('corners');
      if (!recipe.corners) {
        set({ ...recipe, corners: [...INSET] as [...Corners] });
        const { turn, mirror } = recipe;
        void cornersIn({ v: 1, ...(turn ? { turn } : {}), ...(mirror ? { mirror } : {}) }).then((found) => {
          // Whoever has moved a corner meanwhile knows better.
          if (found)
            change((latest) =>
              latest.corners?.every((v, i) => v === INSET[i])
                ? { ...latest, corners: [...found] as [...Corners] }
                : null,
            );
        });
      }
    } else if (tool === 'crop') {
      if (!recipe.crop) set({ ...recipe, crop: [0.04, 0.04, 0.96, 0.96] });
      setLine('crop');
    } else if (tool === 'grey') {
      set({ ...recipe, grey: FILTERS[0]![1] });
      setLine('grey');
    } else setLine(tool);
  }
  const turnDial = (value: number) => {
    if (!line) return;
    const same = dialling.current === line;
    dialling.current = line;
    set(line === 'level' ? { ...recipe, level: value } : withDial(recipe, line, value), same);
  };
  const spotting = line === 'spots' || line === 'redEyes' ? line : null;
  const touchSpot = (event: { clientX: number; clientY: number; currentTarget: EventTarget }) => {
    if (!spotting) return;
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const at = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] as const;
    const [x, y] = placeOut(recipe, look.width, look.height, at);
    set({ ...recipe, [spotting]: [...(recipe[spotting] ?? []), [x, y, SPOT[spotting]]] });
  };
  const scale = size ? Math.min(room.width / size.width, room.height / size.height) : 0;
  const stage = (
    <div
      style={{
        position: 'relative',
        flex: wide ? 1 : undefined,
        height: wide ? '100%' : '50%',
        minWidth: 0,
        background: '#0b100f',
        display: 'flex',
        flexDirection: 'column',
      }}
    >
      <View className="flex-row items-center justify-between px-2">
        <Pressable role="button" onPress={leave} className="min-h-touch justify-center px-2">
          <Words className="text-bright">{changed ? t`Leave as it was` : t`Back`}</Words>
        </Pressable>
        <Pressable
          role="button"
          disabled={!changed}
          onPress={() => void keep()}
          className={`min-h-touch justify-center px-2 ${changed ? '' : 'opacity-50'}`}
        >
          <Words kind="strong" className="text-glow">{t`Keep this look`}</Words>
        </Pressable>
      </View>
      <div ref={frame} style={{ flex: 1, minHeight: 0, margin: cutting || cornering ? 22 : 8, position: 'relative' }}>
        <div
          onClick={touchSpot}
          style={{
            position: 'absolute',
            left: '50%',
            top: '50%',
            transform: 'translate(-50%, -50%)',
            width: size ? size.width * scale : 0,
            height: size ? size.height * scale : 0,
            overflow: cutting || cornering ? 'visible' : 'hidden',
            cursor: spotting ? 'crosshair' : undefined,
          }}
        >
          <canvas
            ref={canvas}
            aria-label={name || t`The picture`}
            role="img"
            style={{ width: '100%', height: '100%' }}
          />
          {line === 'level' && !asTaken ? (
            <div
              aria-hidden
              style={{
                position: 'absolute',
                inset: 0,
                backgroundImage:
                  'linear-gradient(rgb(255 251 243 / 0.35) 1px, transparent 1px), linear-gradient(90deg, rgb(255 251 243 / 0.35) 1px, transparent 1px)',
                backgroundSize: '12.5% 12.5%',
                pointerEvents: 'none',
              }}
            />
          ) : null}
          {cornering && !asTaken ? (
            <CornerFrame
              corners={recipe.corners ?? INSET}
              onChange={(corners) => {
                const next = { ...recipe, corners: [...corners] as [...Corners] };
                if (!Recipe.safeParse(next).success) return;
                const same = dialling.current === 'corners';
                dialling.current = 'corners';
                set(next, same);
              }}
            />
          ) : null}
          {cutting && !asTaken ? (
            <div style={{ position: 'absolute', inset: 0, overflow: 'clip', overflowClipMargin: SIZE.touch }}>
              <CropFrame
                crop={recipe.crop ?? WHOLE}
                ratio={ratio ? ((ratio.upright ? 1 / PAPERS[ratio.paper] : PAPERS[ratio.paper]) * h) / w : null}
                onChange={(crop) => {
                  const same = dialling.current === 'crop';
                  dialling.current = 'crop';
                  set({ ...recipe, crop: [...crop] as [number, number, number, number] }, same);
                }}
              />
            </div>
          ) : null}
        </div>
        {failed ? <Words className="text-bright">{t`The picture can’t be loaded right now.`}</Words> : null}
        {!size && !failed ? <Waiting /> : null}
      </div>
      <View className="flex-row items-center justify-between px-2 pb-1">
        <Pressable
          role="button"
          onPressIn={() => setAsTaken(true)}
          onPressOut={() => setAsTaken(false)}
          className="min-h-touch min-w-0 flex-1 justify-center rounded-small px-2"
        >
          <Words kind="small" className="text-bright">{t`Hold to see it as taken`}</Words>
        </Pressable>
        <View className="shrink-0 flex-row">
          <IconButton
            name="left"
            tone="bright"
            label={t`One step back`}
            onPress={() => setSteps({ ...now, at: Math.max(0, now.at - 1) })}
          />
          <IconButton
            name="right"
            tone="bright"
            label={t`One step forward`}
            onPress={() => setSteps({ ...now, at: Math.min(now.list.length - 1, now.at + 1) })}
          />
        </View>
      </View>
    </div>
  );
  const dial = line === 'level' ? { least: -1500, most: 1500 } : line ? DIALS[line] : undefined;
  const opened = line && !lines.some((one) => one.id === line) ? [{ id: line, said: nameOf(line) }] : [];
  const sheet = (
    <ScrollView
      style={wide ? { width: 400, flexGrow: 0, flexShrink: 0 } : { flex: 1 }}
      contentContainerStyle={{ padding: wide ? SIZE.brim : SIZE.edge, paddingBottom: 40 }}
    >
      <Heading tone="rule">{t`How it is made`}</Heading>
      <Pressable
        role="button"
        onPress={() => {
          set(AS_TAKEN);
          setLine(null);
        }}
        className="min-h-touch justify-center border-b border-line"
      >
        <Words className="text-soft">{t`As taken`}</Words>
      </Pressable>
      {[...lines, ...opened].map(({ id: one, said }) => (
        <View key={one} className="border-b border-line py-1">
          <View className="min-h-touch flex-row items-center justify-between gap-2">
            <Pressable
              role="button"
              aria-expanded={line === one}
              onPress={() => {
                dialling.current = null;
                setLine(line === one ? null : one);
              }}
              className="min-h-touch min-w-0 flex-1 justify-center"
            >
              <Words kind={line === one ? 'strong' : undefined} className={line === one ? 'text-plum' : ''}>
                {said}
              </Words>
            </Pressable>
            {line === one ? (
              <Pressable
                role="button"
                onPress={() => {
                  set(without(recipe, one));
                  setLine(null);
                }}
                className="min-h-touch justify-center px-1"
              >
                <Words kind="small" className="font-semi text-plum">{t`take out`}</Words>
              </Pressable>
            ) : null}
          </View>
          {line === one && dial ? (
            <View>
              <input
                type="range"
                aria-label={said}
                min={dial.least}
                max={dial.most}
                step={one === 'level' ? 10 : 1}
                value={one === 'level' ? (recipe.level ?? 0) : dialOf(recipe, one)}
                onChange={(event) => turnDial(Number(event.target.value))}
                style={{ width: '100%', height: SIZE.touch, accentColor: 'rgb(var(--plum))' }}
              />
              <View className="flex-row justify-between">
                <Words kind="small">{one === 'level' ? t`to the left` : i18n._(DIALS[one]!.ends[0])}</Words>
                <Words kind="small">{one === 'level' ? t`to the right` : i18n._(DIALS[one]!.ends[1])}</Words>
              </View>
            </View>
          ) : null}
          {line === one && one === 'turn' ? <Chip label={t`Another quarter`} onPress={() => addLine('turn')} /> : null}
          {line === one && one === 'grey' ? (
            <View className="flex-row flex-wrap gap-x-2">
              {FILTERS.map(([name, grey]) => (
                <Chip
                  key={name.id}
                  tone="plum"
                  label={i18n._(name)}
                  on={recipe.grey?.join() === grey.join()}
                  onPress={() => set({ ...recipe, grey })}
                />
              ))}
            </View>
          ) : null}
          {line === one && one === 'crop' ? (
            <View className="flex-row flex-wrap gap-x-2">
              <Chip tone="plum" label={t`Free`} on={ratio === null} onPress={() => setRatio(null)} />
              {(Object.keys(PAPERS) as Paper[]).map((paper) => (
                <Chip
                  key={paper}
                  tone="plum"
                  label={paperName(paper)}
                  on={ratio?.paper === paper}
                  onPress={() => cutTo(paper, ratio?.upright ?? h > w)}
                />
              ))}
              {ratio && ratio.paper !== 'square' ? (
                <Chip
                  label={ratio.upright ? t`On its side` : t`Upright`}
                  icon="again"
                  onPress={() => cutTo(ratio.paper, !ratio.upright)}
                />
              ) : null}
            </View>
          ) : null}
          {line === one && one === 'corners' ? (
            <Words kind="small">{t`Move the corners onto those of the print.`}</Words>
          ) : null}
          {line === one && (one === 'spots' || one === 'redEyes') ? (
            <Words kind="small">
              {one === 'spots' ? t`Tap each spot on the picture.` : t`Tap each red eye on the picture.`}
            </Words>
          ) : null}
        </View>
      ))}
      {adding || lines.length === 0 ? (
        <View className="mt-2 gap-1">
          {TOOLS.map(([group, tools]) => (
            <View key={group.id} role="group" aria-label={i18n._(group)}>
              <Words kind="small">{i18n._(group)}</Words>
              <View className="flex-row flex-wrap gap-x-2">
                {tools.map(([tool, name]) => (
                  <Chip key={tool} label={i18n._(name)} onPress={() => addLine(tool)} />
                ))}
              </View>
            </View>
          ))}
          {look.last && !isAsTaken(look.last) ? (
            <Chip
              label={t`Like last time`}
              icon="again"
              onPress={() => {
                const { light, colour, grey, detail } = look.last!;
                set(
                  plainRecipe({
                    ...recipe,
                    ...(light ? { light } : {}),
                    ...(colour ? { colour } : {}),
                    ...(grey ? { grey } : {}),
                    ...(detail ? { detail } : {}),
                  }),
                );
              }}
            />
          ) : null}
        </View>
      ) : (
        <Button
          label={t`Add a line`}
          icon="plus"
          weight="quiet"
          className="self-start px-0"
          onPress={() => setAdding(true)}
        />
      )}
      <View className="mt-4 gap-1">
        <Words kind="small">
          {name ? t`The original, ${name}, stays as it is: ${look.width} × ${look.height}.` : ''}
        </Words>
        {changed && !isAsTaken(recipe) ? (
          <Button
            label={t`Keep it as a second look, beside the first`}
            icon="plus"
            weight="quiet"
            className="self-start px-0"
            onPress={() => void keepBeside()}
          />
        ) : null}
        {look.recipe && !changed ? (
          <Button
            label={t`Copy this look to others`}
            icon="pictures"
            weight="quiet"
            className="self-start px-0"
            onPress={() => setCopying(true)}
          />
        ) : null}
        {look.looks.length ? (
          <Button
            label={earlier ? t`Hide earlier looks` : t`Earlier looks`}
            icon="clock"
            weight="quiet"
            className="self-start px-0"
            onPress={() => setEarlier(!earlier)}
          />
        ) : null}
        {earlier
          ? look.looks.map((one) => (
              <Pressable
                key={one.id}
                role="button"
                onPress={() => {
                  set(one.recipe ?? AS_TAKEN);
                  setLine(null);
                }}
                className="min-h-touch justify-center border-t border-line py-1"
              >
                <Words>
                  {one.recipe
                    ? linesOf(one.recipe, 1)
                        .map((each) => each.said)
                        .join(' · ')
                    : t`As taken`}
                </Words>
                <Words kind="small">{one.by ? `${one.by}, ${sayWhen(one.at)}` : sayWhen(one.at)}</Words>
              </Pressable>
            ))
          : null}
      </View>
      {copying && look.recipe ? <CopyLook id={id} recipe={look.recipe} onClose={() => setCopying(false)} /> : null}
    </ScrollView>
  );
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: wide ? 'row' : 'column' }}>
      {stage}
      {sheet}
    </div>
  );
}

/** What a line that does nothing yet is called. */
function nameOf(line: LineId): string {
  for (const [, tools] of TOOLS) for (const [tool, name] of tools) if (tool === line) return i18n._(name);
  return '';
}
