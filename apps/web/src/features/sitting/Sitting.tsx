import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Rings } from '@/ui/Rings';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { ClockOffers } from '../time/ClockOffers';
import { Between } from './Between';
import { NameEvent } from './NameEvent';
import { questionsOf, type OnDone } from './questions';
import { Undated } from './Undated';
import { useAnswers } from './useAnswers';

/** The second step of a sitting: what is open about days, events and places, one at a time, each answered or left for later. */
export function Sitting() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('sitting', {});
  const { answers, tally, answer, askSkipped } = useAnswers(data);
  if (!data)
    return (
      <Page title={t`Days and events`} narrow>
        {error ? <Failed error={error} again={() => void refetch()} /> : <Waiting />}
      </Page>
    );
  const open = questionsOf(data).filter((q) => !answers.has(q.key));
  const now = open[0];
  const done: OnDone = (what, doing, n) => now && answer(now.key, what, doing, n);
  const answered = [...answers.values()].filter((a) => a.what !== 'skipped').length;
  const waiting = Math.max(open.length, 0) + Math.max(0, data.unnamed - data.events.length);
  return (
    <Page title={t`Days and events`} narrow>
      <View className="mb-3 min-h-8 flex-row items-center gap-3" aria-live="polite">
        <Words kind="small">
          {[
            waiting ? plural(waiting, { one: '# still open', other: '# still open' }) : t`Nothing open`,
            answered ? plural(answered, { one: '# answered', other: '# answered' }) : null,
            tally.skipped ? plural(tally.skipped, { one: '# left for later', other: '# left for later' }) : null,
          ]
            .filter(Boolean)
            .join(' · ')}
        </Words>
      </View>
      {data.clocks ? (
        <View className="mb-4 gap-4">
          <ClockOffers />
        </View>
      ) : null}
      {now?.kind === 'event' ? (
        <NameEvent key={now.key} detail={now.event} onDone={done} />
      ) : now?.kind === 'place' ? (
        <Between key={now.key} run={now.run} onDone={done} />
      ) : now?.kind === 'date' ? (
        <Undated key={now.key} group={now.group} onDone={done} />
      ) : null}
      {!now && !data.clocks ? (
        answered || tally.skipped ? (
          <View className="items-center gap-3 py-10">
            <Rings size={64} />
            <Words kind="heading">{t`That’s all of them`}</Words>
            <View className="gap-1">
              {[
                tally.named ? plural(tally.named, { one: '# event named', other: '# events named' }) : null,
                tally.placed
                  ? plural(tally.placed, { one: '# picture put in its place', other: '# pictures put in their places' })
                  : null,
                tally.dated ? plural(tally.dated, { one: '# group dated', other: '# groups dated' }) : null,
                tally.skipped
                  ? plural(tally.skipped, { one: '# question left for later', other: '# questions left for later' })
                  : null,
              ]
                .filter((line): line is string => line !== null)
                .map((line) => (
                  <Words key={line} className="text-center text-soft">
                    {line}
                  </Words>
                ))}
            </View>
            <Button label={t`Back to Arrivals`} onPress={() => router.navigate('/arrivals')} />
            {tally.skipped ? (
              <Button label={t`Ask the skipped ones again`} weight="quiet" onPress={askSkipped} />
            ) : null}
          </View>
        ) : (
          <Empty
            title={t`Every event has a name`}
            text={t`You’ll be asked here about events without a name, clocks that disagree and pictures without a date or place.`}
          >
            <Button label={t`Back to Arrivals`} onPress={() => router.navigate('/arrivals')} />
          </Empty>
        )
      ) : null}
    </Page>
  );
}
