import { plural, t } from '@lingui/core/macro';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Empty, Failed, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { pairUp } from './acts';

/** Pictures that seem to be front and back of one print; each is asked about, none is decided. */
export function Backs() {
  const { data, error, refetch } = useAnswer('backs', {});
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  if (data.total === 0)
    return (
      <Empty
        title={t`No backs without a front`}
        text={t`When a front and a back come in as “12.jpg” and “12 back.jpg”, they are offered here as one print. Any two pictures can be joined from the pile.`}
      />
    );
  const all = data.pairs.map(({ front, back }) => ({ front: front.id, back: back.id }));
  return (
    <View>
      <Words className="mb-2 text-soft">{t`Going by their names, these are the two sides of one print. Together they are one picture that can be turned over.`}</Words>
      {data.total > 1 ? (
        <Button
          className="mb-3 self-start"
          label={plural(all.length, { one: 'Join # pair', other: 'Join all # pairs' })}
          onPress={() => void pairUp(all, true)}
        />
      ) : null}
      {data.pairs.map(({ front, back }) => (
        <View key={front.id} className="gap-2 border-t border-line py-3">
          <div style={{ display: 'flex', gap: SIZE.hair, height: SIZE.tile }}>
            {[front, back].map((one) => (
              <img
                key={one.id}
                src={smallOf(one.sha)}
                alt={one.name}
                loading="lazy"
                style={{
                  height: '100%',
                  maxWidth: '50%',
                  aspectRatio: String(one.shape),
                  objectFit: 'cover',
                  borderRadius: CORNER.picture,
                  background: 'rgb(var(--line))',
                }}
              />
            ))}
          </div>
          <Words kind="small">{t`${front.name} and ${back.name}`}</Words>
          <View className="flex-row flex-wrap gap-2">
            <Button label={t`One print`} onPress={() => void pairUp([{ front: front.id, back: back.id }], true)} />
            <Button
              weight="second"
              label={t`Two pictures`}
              onPress={() => void pairUp([{ front: front.id, back: back.id }], false)}
            />
          </View>
        </View>
      ))}
    </View>
  );
}
