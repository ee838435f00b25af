import { t } from '@lingui/core/macro';
import { isEverything, type Question, type Strip, stripUnder } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useCallback, useMemo } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk, useAsked } from '@/state/ask';
import { isOfTime, sortOf, useLook } from '@/state/look';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Above, eventsById, groupHeight } from './Above';
import { useNames } from '@/features/question/names';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { headingHeight } from './EventHeading';
import { PictureGrid } from './Grid';
import { TimePath } from './TimePath';
import { useFolded } from '@/state/stacks';
import { useStrip } from '@/state/useStrip';

/** What stands there while an answer is waited for; what is typed above it stays. */
const NONE: Strip = { ids: new Int32Array(0), ratios: new Float32Array(0), days: [], events: [] };

/** The library by time: months, events and days, with the ribbon at the edge. */
export function When() {
  const router = useRouter();
  const question = useAsked();
  const set = useAsk((state) => state.set);
  const { headed, oldestFirst, sort } = useLook();
  const ofTime = isOfTime(headed);
  const { strip, error, refetch } = useStrip(question, ofTime ? undefined : headed);
  const all = isEverything(question);
  // Events, days and months are headings of time alone.
  const order = sortOf(sort, question);
  const under = !ofTime || order !== 'date' ? 'none' : headed;
  const { strip: folded, stacks } = useFolded(strip);
  const shown = useMemo(() => folded && stripUnder(folded, under), [folded, under]);
  const lacking =
    'lacks' in question && (question.lacks === 'place' || question.lacks === 'date') ? question.lacks : null;
  const wide = useWide();
  const events = useAnswer('events', {}, { select: eventsById }).data;
  const eventHeight = useCallback(
    (event: number, width: number) => headingHeight(events?.get(event) ?? null, width, wide),
    [events, wide],
  );
  const names = useNames(!ofTime);
  const heightOfGroup = useCallback((of: Question | null, width: number) => groupHeight(of, names, width), [names]);
  const header = (
    <BrowseHeader way="when">
      <TimePath />
      {lacking ? (
        <Button
          label={lacking === 'place' ? t`Give them a place` : t`Give them a date`}
          weight="second"
          icon="right"
          className="mb-3 self-start"
          onPress={() => router.push('/sitting')}
        />
      ) : null}
    </BrowseHeader>
  );
  return (
    <PictureGrid
      strip={shown ?? NONE}
      from="/browse"
      screen="browse"
      stacks={stacks}
      place={JSON.stringify([question, headed, oldestFirst, order])}
      ribbon={under !== 'none'}
      onlyMonths={under === 'month'}
      header={header}
      Heading={Above}
      eventHeight={eventHeight}
      groupHeight={heightOfGroup}
      empty={
        !shown ? (
          <View className="px-edge">{error ? <Failed error={error} again={() => void refetch()} /> : <Waiting />}</View>
        ) : all ? (
          <Empty
            title={t`Your library will grow here`}
            text={t`By month, event and day, as soon as the first pictures are in.`}
          >
            <Button label={t`Bring in pictures`} onPress={() => router.push('/arrivals')} />
          </Empty>
        ) : (
          <Empty title={t`No pictures match`} text={t`Remove a chip, or ask differently.`}>
            <Button label={t`Show every picture`} weight="second" onPress={() => set({ all: [] })} />
          </Empty>
        )
      }
    />
  );
}
