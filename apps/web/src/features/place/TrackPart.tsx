import { plural, t } from '@lingui/core/macro';
import type { TrackAnswer } from '@gemmel/contract';
import { useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Words } from '@/ui/Words';
import { readAmount } from '../time/amounts';
import { giveEach } from './acts';
import { readGpx, type Point } from './track';

/** "40 seconds", "3 minutes". */
const within = (seconds: number): string =>
  seconds < 90
    ? plural(seconds, { one: '# second', other: '# seconds' })
    : plural(Math.round(seconds / 60), { one: '# minute', other: '# minutes' });

/** Gives pictures the places a recorded track says, by their times; what it would do is shown first. */
export function TrackPart({ ids, onDone }: { ids: readonly number[]; onDone: () => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [track, setTrack] = useState<Point[] | null>(null);
  const [shift, setShift] = useState('');
  const [minutes, setMinutes] = useState('10');
  const [answer, setAnswer] = useState<TrackAnswer | null>(null);
  const [told, setTold] = useState('');
  const seconds = shift.trim() ? readAmount(shift) : 0;
  const tolerance = Math.round(Number(minutes) * 60);
  const open = async (file: File | undefined) => {
    if (!file) return;
    const points = readGpx(await file.text());
    setName(file.name);
    setTrack(points?.length ? points : null);
    setTold(
      points === null
        ? t`“${file.name}” isn’t a GPX track.`
        : points.length === 0
          ? t`The points in “${file.name}” have no times.`
          : '',
    );
  };
  useEffect(() => {
    let here = true;
    const timer = setTimeout(() => {
      if (!track || seconds === null || !(tolerance >= 1)) return setAnswer(null);
      call('byTrack', {
        body: { ids: [...ids], track, shift: seconds, tolerance: Math.min(86_400, tolerance) },
      }).then(
        (said) => here && setAnswer(said),
        (error: unknown) => here && setTold(wordsOf(error)),
      );
    }, 200);
    return () => {
      here = false;
      clearTimeout(timer);
    };
  }, [track, seconds, tolerance, ids]);
  const middle = answer?.placed.length
    ? [...answer.placed].sort((a, b) => a.seconds - b.seconds)[answer.placed.length >> 1]!.seconds
    : 0;
  return (
    <View className="gap-2.5">
      <input
        ref={input}
        type="file"
        accept=".gpx,application/gpx+xml"
        hidden
        data-testid="gpx"
        aria-label={t`Choose a track`}
        onChange={(event) => {
          void open(event.currentTarget.files?.[0]);
          event.currentTarget.value = '';
        }}
      />
      <Button
        label={track ? t`Choose another track than “${name}”` : t`From a recorded track (GPX)`}
        weight="second"
        icon="compass"
        onPress={() => input.current?.click()}
      />
      {told ? (
        <Words role="alert" className="text-brick">
          {told}
        </Words>
      ) : null}
      {track ? (
        <>
          <View className="flex-row gap-3">
            <View className="min-w-0 flex-1">
              <Field
                label={t`Add to the camera’s clock`}
                placeholder={t`1:02, -45 min`}
                value={shift}
                onChangeText={setShift}
                maxLength={30}
              />
            </View>
            <View className="min-w-0 flex-1">
              <Field
                label={t`Match within (minutes)`}
                value={minutes}
                onChangeText={setMinutes}
                inputMode="numeric"
                maxLength={4}
              />
            </View>
          </View>
          {answer ? (
            <Words kind="small" aria-live="polite">
              {answer.placed.length
                ? [
                    plural(answer.placed.length, {
                      one: `# picture lies on the track, within ${within(middle)} of a point.`,
                      other: `# pictures lie on the track, half of them within ${within(middle)} of a point.`,
                    }),
                    answer.left
                      ? plural(answer.left, {
                          one: 'The track says nothing about # other.',
                          other: 'The track says nothing about # others.',
                        })
                      : '',
                  ]
                    .filter(Boolean)
                    .join(' ')
                : t`The track says nothing about these pictures. Is the camera’s clock right?`}
            </Words>
          ) : null}
          <Button
            label={
              answer?.placed.length
                ? plural(answer.placed.length, {
                    one: 'Put # picture on the track',
                    other: 'Put # pictures on the track',
                  })
                : t`Put them on the track`
            }
            disabled={!answer?.placed.length}
            onPress={() => {
              onDone();
              void giveEach(
                answer!.placed.map(({ id, lat, lon }) => ({ ids: [id], spot: { lat, lon } })),
                plural(answer!.placed.length, {
                  one: '# picture put on the track',
                  other: '# pictures put on the track',
                }),
                'track',
              );
            }}
          />
        </>
      ) : null}
    </View>
  );
}
