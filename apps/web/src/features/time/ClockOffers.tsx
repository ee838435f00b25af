import { plural, t } from '@lingui/core/macro';
import type { ClockOffer } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { Words } from '@/ui/Words';
import { clockEarlier, clockEvidence, clockLater, clockTitle } from './clockWords';
import { CORNER, SIZE } from '@/ui/tokens';
import { sayTimeOfDay } from '@/ui/say';

/** Clocks that disagree, each with its evidence and a way to mend it. */
export function ClockOffers() {
  const clocks = useAnswer('clocks', {}).data?.clocks ?? [];
  return clocks.map((clock) => <Offer key={clock.id} clock={clock} />);
}

/** Whether pictures before or after those with proof are to be mended, too: a line with a box to tick. */
function Further({ text, on, onTurn }: { text: string; on: boolean; onTurn: () => void }) {
  return (
    <Pressable
      role="checkbox"
      aria-checked={on}
      aria-label={text}
      onPress={onTurn}
      className="min-h-touch flex-row items-center gap-3 active:opacity-80"
    >
      <View
        className={`size-6 items-center justify-center rounded-full border ${on ? 'border-juniper bg-juniper' : 'border-soft'}`}
      >
        {on ? <Icon name="tick" size={15} tone="paper" /> : null}
      </View>
      <Words kind="small" className="min-w-0 flex-1">
        {text}
      </Words>
    </Pressable>
  );
}

function Offer({ clock }: { clock: ClockOffer }) {
  const [earlier, setEarlier] = useState(false);
  // A clock stays wrong until somebody sets it; one that is off by summer time or a zone is right again at home.
  const [later, setLater] = useState(clock.kind === 'a wrong clock');
  const pictures =
    clock.pictures + (earlier ? (clock.earlier?.pictures ?? 0) : 0) + (later ? (clock.later?.pictures ?? 0) : 0);
  const answer = async (mend: boolean) => {
    await act(
      () => call('answerClock', { params: { id: clock.id }, body: mend ? { mend, earlier, later } : { mend } }),
      ({ mended }) =>
        mend
          ? [
              plural(mended, {
                one: `# picture from ${clock.device} now shows the right time`,
                other: `# pictures from ${clock.device} now show the right time`,
              }),
              t`Events are being checked again.`,
            ]
          : t`${clock.device}: clock kept as it is`,
      'clocks',
      'pictures',
    );
  };
  return (
    <View
      className="gap-3 rounded-card border border-marigold bg-card p-4"
      role="group"
      aria-label={t`Clock of ${clock.device}`}
    >
      <View className="flex-row items-center gap-3">
        <DoubleBar tone="waiting" width={34} />
        <View className="min-w-0 flex-1">
          <Words kind="strong">{clockTitle(clock)}</Words>
          <Words kind="small">{clockEvidence(clock)}</Words>
        </View>
        <Icon name="date" size={20} tone="soft" />
      </View>
      <View className="flex-row gap-3">
        {clock.examples.slice(0, 3).map((pair) => (
          <View key={`${pair.sha} ${pair.other}`} className="min-w-0 flex-1 gap-1">
            <View className="flex-row gap-hair">
              {[pair.sha, pair.other].map((sha) => (
                <img
                  key={sha}
                  src={smallOf(sha)}
                  alt=""
                  style={{ flex: 1, minWidth: 0, height: SIZE.touch, objectFit: 'cover', borderRadius: CORNER.picture }}
                />
              ))}
            </View>
            <Words
              kind="tiny"
              className="text-center"
            >{t`${sayTimeOfDay(pair.taken)} and ${sayTimeOfDay(pair.otherTaken)}`}</Words>
          </View>
        ))}
      </View>
      {clock.earlier ? (
        <Further text={clockEarlier(clock.earlier)} on={earlier} onTurn={() => setEarlier(!earlier)} />
      ) : null}
      {clock.later ? <Further text={clockLater(clock.later)} on={later} onTurn={() => setLater(!later)} /> : null}
      <View className="flex-row flex-wrap gap-2">
        <Button
          className="grow"
          label={plural(pictures, { one: 'Correct # picture', other: 'Correct # pictures' })}
          onPress={() => void answer(true)}
        />
        <Button label={t`This clock is right`} weight="quiet" onPress={() => void answer(false)} />
      </View>
    </View>
  );
}
