import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { useWindowDimensions, View } from 'react-native';
import { portraitOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useWide } from '@/state/wide';
import { Button, IconButton } from '@/ui/Button';
import { isForPage } from '@/ui/keys';
import { capital, sayList } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { choose } from './acts';
import { FacesTable } from './FacesTable';
import { Linked } from './Linked';
import { sayAgainst, sayFor, sayRun, sayRunWhere } from './words';

/** Most shots that stand side by side. */
const BESIDE = { phone: 2, wide: 6 } as const;

/** One run: its shots side by side, each person's faces in a row, the proposal with its reasons, and the choice. */
export function RunPage({ id }: { id: number }) {
  const router = useRouter();
  const wide = useWide();
  const { width: screen } = useWindowDimensions();
  const { data: run, error, refetch } = useAnswer('run', { params: { id } });
  const list = useAnswer('runs', { query: { limit: 500 } }).data;
  const [picked, setPicked] = useState<ReadonlySet<number> | null>(null);
  const [lookedAt, setLookedAt] = useState<readonly number[]>([]);
  const [face, setFace] = useState<number | null>(null);
  // Somebody else may have taken shots away meanwhile, also ones that were picked here.
  const kept = useMemo(() => {
    const there = run?.shots.filter((shot) => picked?.has(shot.id)).map((shot) => shot.id) ?? [];
    return new Set(there.length ? there : run ? [run.best] : []);
  }, [picked, run]);
  const at = list?.runs.findIndex((one) => one.id === id) ?? -1;
  const next = list?.runs[at + 1]?.id ?? (at > 0 ? list?.runs[0]?.id : undefined);
  const goOn = () =>
    next === undefined || next === id
      ? router.replace('/runs')
      : router.replace({ pathname: '/runs/[id]', params: { id: next } });
  const toggle = (shot: number) => {
    const now = new Set(kept);
    if (!now.delete(shot)) now.add(shot);
    if (now.size) setPicked(now);
    setLookedAt((before) => [shot, ...before.filter((one) => one !== shot)]);
  };
  const done = async (keep: readonly number[]) => {
    if (await choose(id, keep)) goOn();
  };
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!isForPage(event) || !run) return;
      const shot = run.shots[Number(event.key) - 1];
      if (shot) toggle(shot.id);
      else if (event.key === 'Enter' && !(event.target as HTMLElement).closest('button,a')) void done([...kept]);
      else if (event.key === 'Escape') router.navigate('/runs');
      else return;
      event.preventDefault();
    };
    document.addEventListener('keydown', keys);
    return () => document.removeEventListener('keydown', keys);
  });
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!run) return <Waiting />;
  const { shots, names } = run;
  const number = (shot: number) => shots.findIndex((one) => one.id === shot) + 1;
  // What was touched last stands beside what is proposed; on a wide screen all of them do.
  const most = wide ? BESIDE.wide : BESIDE.phone;
  const order = [...new Set([...lookedAt, run.best, ...shots.map((one) => one.id)])]
    // One that was looked at may have gone meanwhile.
    .filter((one) => number(one) > 0)
    .slice(0, most);
  const beside =
    wide || order.length < 2
      ? shots.filter((one) => order.includes(one.id))
      : order.map((one) => shots[number(one) - 1]!);
  const from = shots[0]!.taken;
  // On a phone the stage is as high as the shots need side by side.
  const ratio = Math.min(...beside.map((one) => one.width / one.height));
  const stage = Math.min(290, Math.max(140, Math.round(screen / beside.length / ratio)));
  const reasons = run.reasons.map((why) => sayFor(why, names)).filter((one) => one !== null);
  const against = shots.flatMap((shot) => {
    const words = [...new Set(shot.against.map((why) => sayAgainst(why, names)).filter((one) => one !== null))];
    return words.length ? [t`${number(shot.id)}: ${sayList(words.slice(0, 2))}`] : [];
  });
  const going = shots.length - kept.size;
  const keepLabel =
    going === 0
      ? t`Keep all`
      : kept.size === 1
        ? plural(going, {
            one: `Keep ${number([...kept][0]!)}, bin the other`,
            other: `Keep ${number([...kept][0]!)}, bin the other #`,
          })
        : plural(going, { one: `Keep ${kept.size}, bin #`, other: `Keep ${kept.size}, bin #` });
  return (
    <Page>
      <View className="flex-row items-center justify-between pt-2">
        <View className="-ml-3 flex-row items-center">
          <IconButton name="left" label={t`All runs`} onPress={() => router.navigate('/runs')} />
          <Words kind="small">{t`Runs`}</Words>
        </View>
        {list && at >= 0 ? <Words kind="small">{t`${at + 1} of ${list.total}`}</Words> : null}
      </View>
      <Words kind="title">{sayRun({ shots: shots.length, from, to: shots[shots.length - 1]!.taken })}</Words>
      <Words kind="small" className="mb-3">
        {sayRunWhere({ ...run, from })}
      </Words>
      <View className={wide ? 'flex-row items-start gap-6' : ''}>
        <Linked
          key={id}
          shots={beside}
          number={number}
          style={
            wide
              ? {
                  flex: 1,
                  minWidth: 0,
                  height: 'calc(100vh - 170px)',
                  borderRadius: CORNER.picture,
                  overflow: 'hidden',
                }
              : { height: stage, marginLeft: -SIZE.edge, marginRight: -SIZE.edge }
          }
        />
        <View className={wide ? 'shrink-0' : 'mt-2'} style={wide ? { width: 420 } : {}}>
          <FacesTable
            shots={shots}
            names={names}
            kept={kept}
            best={run.best}
            looked={order}
            onColumn={toggle}
            onFace={setFace}
          />
          <Words className="my-2">
            <Words kind="strong">{t`Number ${number(run.best)}:`}</Words>
            {` ${reasons.length ? sayList(reasons.slice(0, 3)) : t`all of them are much alike`}. `}
            <Words className="text-soft">{against.map((one) => capital(one)).join('; ')}</Words>
          </Words>
          <View className="flex-row flex-wrap gap-2">
            <Button className="min-w-40 flex-1" label={keepLabel} onPress={() => void done([...kept])} />
            {going ? (
              <Button
                className="min-w-40 flex-1"
                weight="second"
                label={t`Keep all`}
                onPress={() => void done(shots.map((one) => one.id))}
              />
            ) : null}
          </View>
          <View className="flex-row flex-wrap justify-center">
            <Button weight="quiet" label={t`Later`} onPress={goOn} />
          </View>
          <Words kind="small">{t`Tap a number to keep that shot too, or not. What is binned can be brought back.`}</Words>
        </View>
      </View>
      {face === null ? null : (
        <Sheet title={names[String(face)] ?? t`One face in every shot`} onClose={() => setFace(null)}>
          <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(130px, 1fr))', gap: 10 }}>
            {shots.map((shot) => {
              const mine = shot.faces.find((one) => one.who === face);
              return mine ? (
                <figure key={shot.id} style={{ margin: 0 }}>
                  <img
                    src={portraitOf(mine.id)}
                    alt=""
                    style={{ width: '100%', aspectRatio: '4 / 5', objectFit: 'cover', borderRadius: '50%' }}
                  />
                  <figcaption style={{ textAlign: 'center' }}>
                    <Words kind={kept.has(shot.id) ? 'strong' : 'small'}>{number(shot.id)}</Words>
                  </figcaption>
                </figure>
              ) : null;
            })}
          </div>
        </Sheet>
      )}
    </Page>
  );
}
