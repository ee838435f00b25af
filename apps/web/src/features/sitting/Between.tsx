import type { Sitting as Open } from '@gemmel/contract';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { count } from '@/ui/say';
import { Words } from '@/ui/Words';
import { give } from '../place/acts';
import { Card } from './Card';
import type { OnDone } from './questions';
import { CORNER, SIZE } from '@/ui/tokens';

/** Asks whether pictures lie where those taken just before and after do. */
export function Between({ run, onDone }: { run: Open['unplaced'][number]; onDone: OnDone }) {
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
            style={{ width: 56, height: SIZE.touch, objectFit: 'cover', borderRadius: CORNER.picture }}
          />
        ))}
      </View>
      <View className="flex-row flex-wrap gap-2">
        <Button
          label={`Put ${run.ids.length === 1 ? 'it' : 'them'} there`}
          onPress={() =>
            onDone('placed', give(run.ids, { lat: run.lat, lon: run.lon }, `at ${run.name}`, 'copied'), run.ids.length)
          }
        />
        <Button label="Later" weight="second" onPress={() => onDone('skipped')} />
      </View>
    </Card>
  );
}
