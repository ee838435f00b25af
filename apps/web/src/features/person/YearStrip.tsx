import { plural, t } from '@lingui/core/macro';
import { Pressable, View } from 'react-native';
import Svg, { Rect } from 'react-native-svg';
import { colour } from '@/ui/Icon';
import { Words } from '@/ui/Words';

const HEIGHT = 44;

/** A strip across the years: a bar for each, as high as it is full. A bar leads to that year alone; again, back to all. */
export function YearStrip({
  years,
  chosen,
  onYear,
}: {
  years: readonly (readonly [year: number, pictures: number])[];
  chosen: number | null;
  onYear: (year: number | null) => void;
}) {
  const first = years[0]?.[0];
  const last = years[years.length - 1]?.[0];
  if (first === undefined || last === undefined) return null;
  const counts = new Map(years);
  const most = Math.max(...counts.values());
  const all = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  // A long life without pictures in between is cut short to the years that have some.
  const shown = all.length > 24 ? years.map(([year]) => year) : all;
  return (
    <div
      role="group"
      aria-label={t`Across the years`}
      style={{ display: 'flex', gap: 4, overflowX: 'auto', paddingBottom: 4 }}
    >
      {shown.map((year) => {
        const n = counts.get(year) ?? 0;
        const on = chosen === year;
        const tall = n ? Math.max(4, (HEIGHT * Math.sqrt(n)) / Math.sqrt(most)) : 2;
        return (
          <Pressable
            key={year}
            role="button"
            aria-pressed={on}
            disabled={!n}
            aria-label={`${year}: ${plural(n, { one: '# picture', other: '# pictures' })}`}
            onPress={() => onYear(on ? null : year)}
            className="min-w-touch items-center"
          >
            <View style={{ height: HEIGHT, justifyContent: 'flex-end' }}>
              <Svg width={22} height={tall}>
                {[0, 12].map((x) => (
                  <Rect
                    key={x}
                    x={x}
                    y={0}
                    width={9}
                    height={tall}
                    rx={2}
                    fill={colour(on ? 'glow' : n ? 'juniper' : 'line')}
                  />
                ))}
              </Svg>
            </View>
            <Words kind="tiny" className={on ? 'font-bold text-ink' : 'text-soft'}>
              {year}
            </Words>
          </Pressable>
        );
      })}
    </div>
  );
}
