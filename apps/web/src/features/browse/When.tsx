import { t } from '@lingui/core/macro';
import type { Strip } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useCallback, useMemo } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useAsk, useAsked } from '@/state/ask';
import { useLook } from '@/state/look';
import { useWide } from '@/state/wide';
import { Button } from '@/ui/Button';
import { Empty, Failed, Waiting } from '@/ui/State';
import { Above, eventsById } from './Above';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { headingHeight } from './EventHeading';
import { PictureGrid } from './Grid';
import { TimePath } from './TimePath';
import { useStrip } from '@/state/useStrip';

/** What stands there while an answer is waited for; what is typed above it stays. */
const NONE: Strip = { ids: new Int32Array(0), ratios: new Float32Array(0), days: [], events: [] };

/** The library by time: months, events and days, with the ribbon at the edge. */
export function When() {
  const router = useRouter();
  const question = useAsked();
  const set = useAsk((state) => state.set);
  const { strip, error, refetch } = useStrip(question);
  const all = 'all' in question && question.all.length === 0;
  const { flat: asList, oldestFirst, sort } = useLook();
  // Days and events are headings of time alone.
  const flat = asList || sort !== 'date';
  const shown = useMemo(() => (strip && flat ? { ...strip, days: [], events: [] } : strip), [strip, flat]);
  const lacking =
    'lacks' in question && (question.lacks === 'place' || question.lacks === 'date') ? question.lacks : null;
  const wide = useWide();
  const events = useAnswer('events', {}, { select: eventsById }).data;
  const eventHeight = useCallback(
    (event: number, width: number) => headingHeight(events?.get(event) ?? null, width, wide),
    [events, wide],
  );
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
      place={JSON.stringify([question, flat, oldestFirst, sort])}
      ribbon={!flat}
      header={header}
      Heading={Above}
      eventHeight={eventHeight}
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
