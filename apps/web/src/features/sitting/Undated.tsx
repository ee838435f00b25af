import { plural, t } from '@lingui/core/macro';
import type { Sitting as Open } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { usePile } from '@/state/pile';
import { Button } from '@/ui/Button';
import { DatesSheet } from '../time/DatesSheet';
import { Card } from './Card';
import type { OnDone } from './questions';
import { sayRemembered } from '@/words/said';

/** Asks when pictures of one folder were taken. */
export function Undated({ group, onDone }: { group: Open['undated'][number]; onDone: OnDone }) {
  const router = useRouter();
  const [dating, setDating] = useState(false);
  return (
    <Card
      title={plural(group.ids.length, { one: '# picture without a date', other: '# pictures without a date' })}
      text={[
        group.name === null ? t`They came without a folder.` : t`They came in “${group.name}”.`,
        group.guess ? t`Its name says ${sayRemembered(group.guess)}.` : '',
      ]
        .filter(Boolean)
        .join(' ')}
      pictures={group.best}
    >
      <View className="flex-row flex-wrap gap-2">
        <Button label={t`Give a date`} onPress={() => setDating(true)} />
        <Button
          label={t`See them`}
          weight="second"
          onPress={() => {
            usePile.getState().add(group.ids);
            router.push('/pile');
          }}
        />
        <Button label={t`Later`} weight="quiet" onPress={() => onDone('skipped')} />
      </View>
      {dating ? (
        <DatesSheet
          ids={group.ids}
          onClose={() => setDating(false)}
          onMended={() => onDone('dated', Promise.resolve(true))}
        />
      ) : null}
    </Card>
  );
}
