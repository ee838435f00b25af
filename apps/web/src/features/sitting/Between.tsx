import { plural, t } from '@lingui/core/macro';
import type { Sitting as Open } from '@gemmel/contract';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { give } from '../place/acts';
import { Card } from './Card';
import type { OnDone } from './questions';
import { CORNER, SIZE } from '@/ui/tokens';

/** Asks whether pictures lie where those taken just before and after do. */
export function Between({ run, onDone }: { run: Open['unplaced'][number]; onDone: OnDone }) {
  const name = run.name ?? t`the same spot`;
  return (
    <Card
      title={plural(run.ids.length, {
        one: `# picture between two at ${name}`,
        other: `# pictures between two at ${name}`,
      })}
      text={plural(run.ids.length, {
        one: 'It has no place yet. Put it there too?',
        other: 'They have no place yet. Put them there too?',
      })}
      pictures={run.best}
    >
      <View className="flex-row items-center gap-2">
        <Words kind="small">{t`Taken just before and after:`}</Words>
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
          label={plural(run.ids.length, { one: 'Put it there', other: 'Put them there' })}
          onPress={() =>
            onDone('placed', give(run.ids, { lat: run.lat, lon: run.lon }, run.name, 'copied'), run.ids.length)
          }
        />
        <Button label={t`Later`} weight="second" onPress={() => onDone('skipped')} />
      </View>
    </Card>
  );
}
