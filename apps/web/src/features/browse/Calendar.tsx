import { useHelps } from '@/features/account/session';
import { plural, t } from '@lingui/core/macro';
import {
  type CalendarMonth,
  calendarOf,
  type CalendarYear,
  type DayRun,
  fullDay,
  fullness,
  readWhen,
} from '@gemmel/core';
import { useRouter } from 'expo-router';
import { useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { View } from 'react-native';
import { useAsk, useAsked } from '@/state/ask';
import { say } from '@/state/toast';
import { useWide } from '@/state/wide';
import { Button, Chip } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { capital, firstDayOfWeek, sayLongDay, sayMonth, sayMonthName, sayNumber, weekdays } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { MakeEvent } from '../event/MakeEvent';
import { BrowseHeader } from '@/features/question/BrowseHeader';
import { useStrip } from '@/state/useStrip';
import { SIZE, TYPE } from '@/ui/tokens';

/** How strongly a day is coloured, by how full it is. */
const SHADE = [0, 0.16, 0.34, 0.78, 1];

/** The days that are known, without those of which only a month, a season or a year is. */
const exactDays = (days: readonly DayRun[]) =>
  days.filter(([, , said]) => said === undefined).map(([day, n]): [string | null, number] => [day, n]);

/** What is asked for as a calendar: months with their days, or whole years. Days that stand out lead to their pictures. */
export function Calendar() {
  const router = useRouter();
  const wide = useWide();
  const question = useAsked();
  const narrow = useAsk((state) => state.narrow);
  const { strip, error, refetch } = useStrip(question);
  const [whole, setWhole] = useState(false);
  const helps = useHelps();
  const [making, setMaking] = useState(false);
  const newest = strip?.days.find(([day, , said]) => day && !said)?.[0] ?? null;
  const years = useMemo(() => (strip ? calendarOf(exactDays(strip.days)) : []), [strip]);
  const full = useMemo(() => fullDay(years), [years]);
  const undated = strip?.days.reduce((sum, [day, n]) => (day === null ? sum + n : sum), 0) ?? 0;
  const vague = strip?.days.reduce((sum, [, n, said]) => (said ? sum + n : sum), 0) ?? 0;
  const open = (from: string, to: string) => {
    narrow({ taken: { from, to } });
    router.push('/browse');
  };
  const jump = (typed: string) => {
    const when = readWhen(typed, new Date().getFullYear());
    if (!when) return say(t`“${typed}” isn’t a date we can read. Try “May 2024”, “2019” or “16 May 2026”.`);
    // A summer, a year or a month has pictures that know no more than that: they stand apart from the days, and lead on.
    const [first, last] = [when.from, when.to];
    const whole = when.exact !== 'day';
    const there =
      whole &&
      !document.getElementById(`month-${first.slice(0, 7)}`) &&
      strip?.days.some(([day]) => day && day >= first && day <= last);
    const near =
      document.getElementById(`month-${when.from.slice(0, 7)}`) ??
      document.getElementById(`year-${when.from.slice(0, 4)}`) ??
      nearest(years, when.from);
    if (there && when.exact !== 'year') return open(first, last);
    if (!near) return;
    const landed = near.id.replace(/^(month|year)-/, '');
    if (!first.startsWith(landed) && !landed.startsWith(first.slice(0, 7)))
      say(t`No pictures from then. The nearest are from ${landed.length === 4 ? landed : sayMonth(landed)}.`);
    near.scrollIntoView({ block: 'start' });
    near?.querySelector<HTMLElement>('[data-day][tabindex="0"]')?.focus({ preventScroll: true });
  };
  return (
    <Page>
      <BrowseHeader way="when" />
      {error ? <Failed error={error} again={() => void refetch()} /> : !strip ? <Waiting /> : null}
      {strip && years.length === 0 ? (
        <Empty title={t`No dates yet`} text={t`Pictures appear in the calendar as soon as they have a date.`} />
      ) : null}
      {years.length ? (
        <View className="mb-4 flex-row flex-wrap items-end gap-3">
          <View className="min-w-44 flex-1" style={{ maxWidth: 300 }}>
            <Jump onJump={jump} />
          </View>
          <View className="flex-row gap-1">
            <Chip label={t`Months`} on={!whole} onPress={() => setWhole(false)} />
            <Chip label={t`Years`} on={whole} onPress={() => setWhole(true)} />
          </View>
          {helps ? (
            <Button label={t`Make an event`} weight="quiet" icon="plus" onPress={() => setMaking(true)} />
          ) : null}
        </View>
      ) : null}
      {years.map((year) => (
        <section key={year.year} id={`year-${year.year}`} aria-label={`${year.year}`} style={{ marginBottom: 26 }}>
          <View className="mb-2 flex-row items-center gap-2.5">
            <DoubleBar />
            <Words kind="heading" className="flex-1 text-title">{`${year.year}`}</Words>
            <Button
              label={plural(year.pictures, { one: '# picture', other: '# pictures' })}
              weight="quiet"
              className="min-h-touch px-1"
              onPress={() => open(`${year.year}-01-01`, `${year.year}-12-31`)}
            />
          </View>
          <div
            style={{
              display: 'grid',
              gap: whole ? 14 : 22,
              gridTemplateColumns: whole
                ? `repeat(auto-fill, minmax(${wide ? 150 : 104}px, 1fr))`
                : `repeat(auto-fill, minmax(${wide ? 300 : 280}px, 1fr))`,
            }}
          >
            {year.months.map((month) => (
              <Month key={month.month} month={month} full={full} small={whole} onOpen={open} />
            ))}
          </div>
        </section>
      ))}
      {making ? <MakeEvent from={newest} onClose={() => setMaking(false)} /> : null}
      {vague ? (
        <Button
          label={plural(vague, {
            one: '# picture has only a month, season or year, so it isn’t shown here.',
            other: '# pictures have only a month, season or year, so they aren’t shown here.',
          })}
          weight="second"
          className="mb-2 self-start"
          onPress={() => {
            narrow({ all: [{ has: 'date' }, { lacks: 'day' }] });
            router.push('/browse');
          }}
        />
      ) : null}
      {undated ? (
        <Button
          label={plural(undated, { one: '# picture without a date', other: '# pictures without a date' })}
          weight="second"
          className="self-start"
          onPress={() => {
            narrow({ lacks: 'date' });
            router.push('/browse');
          }}
        />
      ) : null}
    </Page>
  );
}

/** The month with pictures that is nearest to a day nobody photographed in. */
function nearest(years: readonly CalendarYear[], day: string): HTMLElement | null {
  const months = years.flatMap((year) => year.months.map((m) => m.month));
  const before = months.find((month) => month <= day.slice(0, 7)) ?? months[months.length - 1];
  return before ? document.getElementById(`month-${before}`) : null;
}

function Jump({ onJump }: { onJump: (typed: string) => void }) {
  const [typed, setTyped] = useState('');
  return (
    <Field
      label={t`Go to`}
      placeholder={t`May 2024, 2019 …`}
      value={typed}
      onChangeText={setTyped}
      autoCapitalize="none"
      onSubmitEditing={() => typed.trim() && onJump(typed.trim())}
    />
  );
}

interface MonthProps {
  month: CalendarMonth;
  full: number;
  small: boolean;
  onOpen: (from: string, to: string) => void;
}

/** One month. Arrow keys go from day to day, through the days with pictures; Enter opens one. */
function Month({ month, full, small, onOpen }: MonthProps) {
  const first = month.days.findIndex((n) => n > 0);
  const [stop, setStop] = useState(first);
  const grid = useRef<HTMLDivElement>(null);
  const dayOf = (i: number) => `${month.month}-${String(i + 1).padStart(2, '0')}`;
  const move = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 7, ArrowUp: -7 }[event.key];
    if (!step) return;
    event.preventDefault();
    // On to the next day with pictures in that direction; by whole weeks when going up and down.
    for (let i = stop + step; i >= 0 && i < month.days.length; i += Math.abs(step) === 7 ? Math.sign(step) : step)
      if (month.days[i]) {
        setStop(i);
        grid.current?.querySelector<HTMLElement>(`[data-day="${i}"]`)?.focus();
        return;
      }
  };
  const last = dayOf(month.days.length - 1);
  const name = capital(small ? sayMonthName(Number(month.month.slice(5))) : sayMonth(month.month));
  return (
    <section id={`month-${month.month}`} aria-label={capital(sayMonth(month.month))} style={{ scrollMarginTop: 12 }}>
      <button
        type="button"
        onClick={() => onOpen(dayOf(0), last)}
        aria-label={`${capital(sayMonth(month.month))}: ${plural(month.pictures, { one: '# picture', other: '# pictures' })}`}
        style={{
          all: 'unset',
          cursor: 'pointer',
          display: 'flex',
          width: '100%',
          minHeight: small ? 32 : 44,
          alignItems: 'center',
        }}
        className="focus-visible:outline"
      >
        <Words className={small ? 'flex-1 font-semi text-small' : 'flex-1 font-serif text-lead'}>{name}</Words>
        <Words kind="small">{sayNumber(month.pictures)}</Words>
      </button>
      {small ? null : (
        <div aria-hidden style={{ display: 'grid', gridTemplateColumns: 'repeat(7, 1fr)', gap: SIZE.hair }}>
          {weekdays().map(({ day, name: short }) => (
            <Words key={day} kind="tiny" className="text-center">
              {short}
            </Words>
          ))}
        </div>
      )}
      <div
        ref={grid}
        role="group"
        aria-label={t`Days of ${sayMonth(month.month)}`}
        onKeyDown={move}
        style={{ display: 'grid', gridTemplateColumns: 'repeat(7, 1fr)', gap: small ? 2 : 3 }}
      >
        {month.days.map((pictures, i) => {
          const place = i === 0 ? { gridColumnStart: ((month.starts + 8 - firstDayOfWeek()) % 7) + 1 } : {};
          const level = fullness(pictures, full);
          const shade = {
            ...place,
            borderRadius: small ? 3 : 8,
            minHeight: small ? 13 : 44,
            background: level ? `rgb(var(--juniper) / ${SHADE[level]})` : 'transparent',
          };
          if (!pictures)
            return (
              <div
                key={i}
                aria-hidden
                style={{ ...shade, display: 'flex', alignItems: 'center', justifyContent: 'center' }}
              >
                {small ? (
                  <span style={{ width: 3, height: 3, borderRadius: 2, background: 'rgb(var(--line))' }} />
                ) : (
                  <Words kind="tiny">{i + 1}</Words>
                )}
              </div>
            );
          const day = dayOf(i);
          return (
            <button
              key={i}
              type="button"
              data-day={i}
              tabIndex={i === stop ? 0 : -1}
              aria-label={`${capital(sayLongDay(day))}: ${plural(pictures, { one: '# picture', other: '# pictures' })}`}
              title={`${capital(sayLongDay(day))}: ${plural(pictures, { one: '# picture', other: '# pictures' })}`}
              onFocus={() => setStop(i)}
              onClick={() => onOpen(day, day)}
              style={{
                ...shade,
                border: 'none',
                padding: 0,
                cursor: 'pointer',
                display: 'flex',
                flexDirection: 'column',
                alignItems: 'center',
                justifyContent: 'center',
                color: level >= 3 ? 'rgb(var(--card))' : 'rgb(var(--ink))',
                fontFamily: 'Figtree_600SemiBold',
                fontSize: small ? 0 : 15,
                lineHeight: '18px',
              }}
            >
              {i + 1}
              {small ? null : (
                <span style={{ fontSize: TYPE.tiny, fontFamily: 'Figtree_400Regular', lineHeight: '15px' }}>
                  {sayNumber(pictures)}
                </span>
              )}
            </button>
          );
        })}
      </div>
    </section>
  );
}
