import type { EventDetail, Sitting as Open } from '@gemmel/contract';
import { saySpan } from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useMemo, useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useSteps } from '@/state/acts';
import { usePile } from '@/state/pile';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Rings } from '@/ui/Rings';
import { count, sayLongDay, sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { nameIt, remove } from '../event/acts';
import { give } from '../place/acts';
import { ClockOffers } from '../time/ClockOffers';
import { DatesSheet } from '../time/DatesSheet';

/** One open question: an event to name, pictures between two at a place, pictures of a folder without a date. */
type Question =
  | { kind: 'event'; key: string; event: EventDetail }
  | { kind: 'place'; key: string; run: Open['unplaced'][number] }
  | { kind: 'date'; key: string; group: Open['undated'][number] };

const questionsOf = (open: Open): Question[] => [
  ...open.events.map((event): Question => ({ kind: 'event', key: `e${event.event.id}`, event })),
  ...open.unplaced.map((run): Question => ({ kind: 'place', key: `p${run.ids[0]}`, run })),
  ...open.undated.map((group): Question => ({ kind: 'date', key: `d${group.ids[0]}`, group })),
];

type Done = 'named' | 'placed' | 'dated' | 'skipped';

/**
 * How a question was answered. `settled` once the server no longer asks it; asked again after that, it was undone, as it was
 * when its act is no longer among the steps of this tab.
 */
interface Answered {
  what: Done;
  n: number;
  settled: boolean;
  act: number | null;
}

/** The second step of a sitting: what is open about days, events and places, one at a time, each answered or left for later. */
export function Sitting() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('sitting', {});
  const [given, setAnswers] = useState<ReadonlyMap<string, Answered>>(new Map());
  const steps = useSteps((all) => all.done);
  const answers = useMemo(() => {
    const standing = new Set(steps.map((step) => step.act));
    return new Map([...given].filter(([, a]) => a.act === null || standing.has(a.act)));
  }, [given, steps]);
  const [seen, setSeen] = useState(data);
  if (data && data !== seen) {
    setSeen(data);
    const asked = new Set(questionsOf(data).map((q) => q.key));
    setAnswers(
      new Map(
        [...answers]
          .filter(([key, a]) => !(a.settled && asked.has(key)))
          .map(([key, a]) => [key, { ...a, settled: a.what !== 'skipped' && !asked.has(key) }]),
      ),
    );
  }
  if (!data)
    return (
      <Page title="Days and events" narrow>
        {error ? <Failed error={error} again={() => void refetch()} /> : <Waiting />}
      </Page>
    );
  const open = questionsOf(data).filter((q) => !answers.has(q.key));
  const now = open[0];
  const done = (what: Done, key: string, n = 1) =>
    setAnswers((old) =>
      new Map(old).set(key, {
        what,
        n,
        settled: false,
        act: what === 'skipped' ? null : (useSteps.getState().done.at(-1)?.act ?? null),
      }),
    );
  const sum = (what: Done) => [...answers.values()].reduce((n, a) => (a.what === what ? n + a.n : n), 0);
  const tally = { named: sum('named'), placed: sum('placed'), dated: sum('dated'), skipped: sum('skipped') };
  const answered = [...answers.values()].filter((a) => a.what !== 'skipped').length;
  const waiting = Math.max(open.length, 0) + Math.max(0, data.unnamed - data.events.length);
  return (
    <Page title="Days and events" narrow>
      <View className="mb-3 min-h-8 flex-row items-center gap-3" aria-live="polite">
        <Words kind="small">
          {[
            waiting ? `${sayNumber(waiting)} still open` : 'Nothing is open',
            answered ? `${answered} answered` : null,
            tally.skipped ? `${tally.skipped} left for later` : null,
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
        <NameEvent key={now.key} detail={now.event} onDone={(what) => done(what, now.key)} />
      ) : now?.kind === 'place' ? (
        <Between key={now.key} run={now.run} onDone={(what, n) => done(what, now.key, n)} />
      ) : now?.kind === 'date' ? (
        <Undated key={now.key} group={now.group} onDone={(what, n) => done(what, now.key, n)} />
      ) : null}
      {!now && !data.clocks ? (
        answered || tally.skipped ? (
          <View className="items-center gap-3 py-10">
            <Rings size={64} />
            <Words kind="heading">That was the last of it</Words>
            <View className="gap-1">
              {[
                tally.named ? `${count(tally.named, 'event')} named` : null,
                tally.placed ? `${count(tally.placed, 'picture')} put in their place` : null,
                tally.dated ? `${count(tally.dated, 'group')} dated` : null,
                tally.skipped ? `${count(tally.skipped, 'question')} left for later` : null,
              ]
                .filter((line): line is string => line !== null)
                .map((line) => (
                  <Words key={line} className="text-center text-soft">
                    {line}
                  </Words>
                ))}
            </View>
            <Button label="Back to Arrivals" onPress={() => router.navigate('/arrivals')} />
            {tally.skipped ? (
              <Button
                label="Ask the skipped ones again"
                weight="quiet"
                onPress={() => setAnswers(new Map([...answers].filter(([, a]) => a.what !== 'skipped')))}
              />
            ) : null}
          </View>
        ) : (
          <Empty
            title="Every day has its event and every event its name"
            text="Unnamed events, clocks that disagree and pictures without a date or place are asked about here."
          >
            <Button label="Back to Arrivals" onPress={() => router.navigate('/arrivals')} />
          </Empty>
        )
      ) : null}
    </Page>
  );
}

/** A card with pictures, what is asked, and the answers. */
function Card({
  title,
  text,
  pictures,
  children,
}: {
  title: string;
  text: string;
  pictures: readonly { id: number; sha: string }[];
  children: ReactNode;
}) {
  const wide = useWide();
  const [first, ...rest] = pictures;
  return (
    <View className="gap-3 rounded-card border border-line bg-card p-4" role="group" aria-label={title}>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: rest.length ? '2fr 1fr 1fr' : '1fr',
          gridAutoRows: wide ? 112 : 84,
          gap: 3,
        }}
      >
        {first ? (
          <img
            src={smallOf(first.sha)}
            alt=""
            style={{
              gridRow: rest.length > 2 ? 'span 2' : undefined,
              width: '100%',
              height: '100%',
              objectFit: 'cover',
              borderRadius: 4,
            }}
          />
        ) : null}
        {rest.slice(0, 4).map((picture) => (
          <img
            key={picture.id}
            src={smallOf(picture.sha)}
            alt=""
            style={{ width: '100%', height: '100%', objectFit: 'cover', borderRadius: 4 }}
          />
        ))}
      </div>
      <View className="flex-row items-center gap-3">
        <DoubleBar tone="waiting" />
        <View className="min-w-0 flex-1">
          <Words kind="heading">{title}</Words>
          <Words kind="small">{text}</Words>
        </View>
      </View>
      {children}
    </View>
  );
}

function NameEvent({ detail, onDone }: { detail: EventDetail; onDone: (what: 'named' | 'skipped') => void }) {
  const { event, best, names } = detail;
  const [typed, setTyped] = useState('');
  const when = event.start === event.end ? sayLongDay(event.start) : saySpan(event.start, event.end);
  const call = (name: string) => {
    onDone('named');
    void nameIt(event, name);
  };
  const facts = [count(event.pictures, 'picture'), event.place, event.people.length ? event.people.join(', ') : null];
  return (
    <Card title={when} text={facts.filter(Boolean).join(' · ')} pictures={best}>
      {names.length ? (
        <View className="flex-row flex-wrap gap-x-2">
          {names.map((name) => (
            <Chip key={name} label={name} onPress={() => call(name)} />
          ))}
        </View>
      ) : null}
      <Field
        label="Or in your words"
        placeholder="Kite day, first snow …"
        value={typed}
        onChangeText={setTyped}
        maxLength={160}
        onSubmitEditing={() => typed.trim() && call(typed.trim())}
      />
      <View className="flex-row flex-wrap gap-2">
        <Button label="Call it that" disabled={!typed.trim()} onPress={() => call(typed.trim())} />
        <Button label="Later" weight="second" onPress={() => onDone('skipped')} />
        <Button
          label="No event"
          weight="quiet"
          onPress={() => {
            onDone('named');
            void remove(event.id, when);
          }}
        />
      </View>
    </Card>
  );
}

function Between({
  run,
  onDone,
}: {
  run: Open['unplaced'][number];
  onDone: (what: 'placed' | 'skipped', n?: number) => void;
}) {
  const n = count(run.ids.length, 'picture');
  return (
    <Card
      title={`${n} between two at ${run.name}`}
      text={
        run.ids.length === 1
          ? 'It has no place of its own. Put it there too?'
          : 'They have no place of their own. Put them there too?'
      }
      pictures={run.best}
    >
      <View className="flex-row items-center gap-2">
        <Words kind="small">Taken just before and after:</Words>
        {[run.before, run.after].map((picture) => (
          <img
            key={picture.id}
            src={smallOf(picture.sha)}
            alt=""
            style={{ width: 56, height: 44, objectFit: 'cover', borderRadius: 4 }}
          />
        ))}
      </View>
      <View className="flex-row flex-wrap gap-2">
        <Button
          label={`Put ${run.ids.length === 1 ? 'it' : 'them'} there`}
          onPress={() => {
            onDone('placed', run.ids.length);
            void give(run.ids, { lat: run.lat, lon: run.lon }, `at ${run.name}`, 'copied');
          }}
        />
        <Button label="Later" weight="second" onPress={() => onDone('skipped')} />
      </View>
    </Card>
  );
}

function Undated({
  group,
  onDone,
}: {
  group: Open['undated'][number];
  onDone: (what: 'dated' | 'skipped', n?: number) => void;
}) {
  const router = useRouter();
  const [dating, setDating] = useState(false);
  const n = count(group.ids.length, 'picture');
  return (
    <Card
      title={`${n} without a date`}
      text={`They came in “${group.name}”.${group.guess ? ` Its name says ${group.guess}.` : ''}`}
      pictures={group.best}
    >
      <View className="flex-row flex-wrap gap-2">
        <Button label="Say when" onPress={() => setDating(true)} />
        <Button
          label="Look at them"
          weight="second"
          onPress={() => {
            usePile.getState().add(group.ids);
            router.push('/pile');
          }}
        />
        <Button label="Later" weight="quiet" onPress={() => onDone('skipped')} />
      </View>
      {dating ? <DatesSheet ids={group.ids} onClose={() => setDating(false)} onMended={() => onDone('dated')} /> : null}
    </Card>
  );
}
