import type { Sitting as Open } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { usePile } from '@/state/pile';
import { Button } from '@/ui/Button';
import { count } from '@/ui/say';
import { DatesSheet } from '../time/DatesSheet';
import { Card } from './Card';
import type { OnDone } from './questions';

/** Asks when pictures of one folder were taken. */
export function Undated({ group, onDone }: { group: Open['undated'][number]; onDone: OnDone }) {
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
