import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { Button, Chip } from '@/ui/Button';
import { sayNumber } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { Doubles } from './Doubles';
import { sayRun, sayRunWhere } from './words';

/** Runs and doubles that somebody may choose between; neither ever decides by itself. */
export function Runs() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('runs', { query: { limit: 500 } });
  const [doubles, setDoubles] = useState(false);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const copies = doubles || (data.total === 0 && data.doubles > 0);
  return (
    <Page
      title={t`Choose the best`}
      right={router.canGoBack() ? <Button label={t`Back`} weight="quiet" onPress={() => router.back()} /> : null}
    >
      <View className="mb-2 flex-row flex-wrap gap-x-2" role="group" aria-label={t`What to choose between`}>
        <Chip label={t`Runs ${sayNumber(data.total)}`} on={!copies} onPress={() => setDoubles(false)} />
        <Chip label={t`Doubles ${sayNumber(data.doubles)}`} on={copies} onPress={() => setDoubles(true)} />
      </View>
      {copies ? (
        <Doubles />
      ) : data.total === 0 ? (
        <Empty
          title={t`Nothing to choose between`}
          text={t`Shots of the same moment are gathered here, with the best one proposed.`}
        />
      ) : (
        <View>
          <Words className="mb-2 text-soft">{t`Shots of the same moment. The first one of each is proposed; you decide.`}</Words>
          {data.runs.map((run) => (
            <Pressable
              key={run.id}
              role="link"
              onPress={() => router.push({ pathname: '/runs/[id]', params: { id: run.id } })}
              className="gap-2 border-t border-line py-3 active:opacity-80"
            >
              <Words kind="strong">{sayRun(run)}</Words>
              <Words kind="small" className="-mt-2">
                {sayRunWhere(run)}
              </Words>
              <div style={{ display: 'flex', gap: SIZE.hair, height: SIZE.strip, overflow: 'hidden' }}>
                {run.shas.map((sha) => (
                  <img
                    key={sha}
                    src={smallOf(sha)}
                    alt=""
                    loading="lazy"
                    style={{ height: '100%', borderRadius: CORNER.picture, background: 'rgb(var(--line))' }}
                  />
                ))}
              </div>
            </Pressable>
          ))}
          {data.runs.length < data.total ? (
            <Words kind="small" className="py-3">
              {plural(data.total - data.runs.length, {
                one: '# more run comes after these.',
                other: '# more runs come after these.',
              })}
            </Words>
          ) : null}
        </View>
      )}
    </Page>
  );
}
