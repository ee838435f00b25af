import { plural, t } from '@lingui/core/macro';
import { phrase, SIZES, type Condition } from '@gemmel/core';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Chip } from '@/ui/Button';
import { sayNumber } from '@/ui/say';
import { Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { words } from '@/words/said';
import { useNames } from './names';

/** What the pictures of the library are made up of, that a condition may ask for. */
export type FacetSubject = 'mark' | 'observed' | 'camera' | 'lens' | 'format' | 'shape' | 'size';

/** What there is of a kind, each with how many pictures it is said of: to choose one. */
export function FacetValue({ of, onTake }: { of: FacetSubject; onTake: (made: Condition) => void }) {
  const names = useNames();
  const { data } = useAnswer('facets', { body: { question: { all: [] } } });
  if (!data) return <Waiting />;
  const offered: { condition: Condition; pictures: number }[] = {
    mark: data.marks.map((one) => ({ condition: { mark: one.of }, pictures: one.pictures })),
    observed: data.observed.map((one) => ({ condition: { observed: one.of }, pictures: one.pictures })),
    camera: data.cameras.map((one) => ({ condition: { camera: one.of }, pictures: one.pictures })),
    lens: data.lenses.map((one) => ({ condition: { lens: one.of }, pictures: one.pictures })),
    format: data.formats.map((one) => ({ condition: { format: one.of }, pictures: one.pictures })),
    shape: data.shapes.map((one) => ({ condition: { shape: one.of }, pictures: one.pictures })),
    size: data.sizes.flatMap((one) => {
      const size = SIZES[one.of];
      return size ? [{ condition: { size }, pictures: one.pictures }] : [];
    }),
  }[of];
  if (offered.length === 0) return <Words className="text-soft">{t`Nothing to choose from yet.`}</Words>;
  return (
    <View className="flex-row flex-wrap gap-2">
      {offered.map(({ condition, pictures }) => {
        const { lead, value } = phrase(condition, names, words());
        return (
          <Chip
            key={JSON.stringify(condition)}
            tone="plum"
            label={`${value || lead} · ${sayNumber(pictures)}`}
            onPress={() => onTake(condition)}
          />
        );
      })}
    </View>
  );
}

/** At least so many faces. */
export function FacesValue({ onTake }: { onTake: (made: Condition) => void }) {
  return (
    <View className="flex-row flex-wrap gap-2">
      {[1, 2, 3, 5, 10].map((min) => (
        <Chip
          key={min}
          tone="plum"
          label={plural(min, { one: '# face or more', other: '# faces or more' })}
          onPress={() => onTake({ faces: { min } })}
        />
      ))}
    </View>
  );
}

/** Changed by anybody in some days. */
export function ChangedValue({ onTake }: { onTake: (made: Condition) => void }) {
  return (
    <View className="flex-row flex-wrap gap-2">
      {(
        [
          [1, t`Today`],
          [7, t`In the last 7 days`],
          [31, t`In the last month`],
        ] as const
      ).map(([lastDays, label]) => (
        <Chip key={lastDays} tone="plum" label={label} onPress={() => onTake({ changed: { lastDays } })} />
      ))}
    </View>
  );
}
