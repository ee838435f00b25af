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
import { Backs } from './Backs';
import { useLately } from './lately';

/** Scans with several prints on the glass, and prints whose front and back came as two pictures. */
export function Scans() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('scans', { query: { limit: 200 } });
  const { data: backs } = useAnswer('backs', {});
  const lately = useLately();
  const [sides, setSides] = useState<boolean | null>(null);
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const showSides = sides ?? (data.total === 0 && (backs?.total ?? 0) > 0);
  return (
    <Page
      title={t`Scans`}
      right={router.canGoBack() ? <Button label={t`Back`} weight="quiet" onPress={() => router.back()} /> : null}
    >
      <View className="mb-2 flex-row flex-wrap gap-x-2" role="group" aria-label={t`What to look at`}>
        <Chip label={t`On the glass ${sayNumber(data.total)}`} on={!showSides} onPress={() => setSides(false)} />
        <Chip
          label={t`Fronts and backs ${sayNumber(backs?.total ?? 0)}`}
          on={showSides}
          onPress={() => setSides(true)}
        />
      </View>
      {lately.ids.length ? (
        <View className="mb-3 gap-2 rounded-card border border-line bg-card p-4">
          <Words>
            {plural(lately.ids.length, {
              one: '# print was cut out just now. When was it, where, and who is on it?',
              other: '# prints were cut out just now. When was it, where, and who is on them?',
            })}
          </Words>
          <View className="flex-row flex-wrap gap-2">
            <Button
              label={t`Fill in one sheet`}
              onPress={() => router.push({ pathname: '/sheet', params: { ids: lately.ids.join(',') } })}
            />
            <Button label={t`Not now`} weight="quiet" onPress={lately.clear} />
          </View>
        </View>
      ) : null}
      {showSides ? (
        <Backs />
      ) : data.total === 0 ? (
        <Empty
          title={t`No scans to take apart`}
          text={t`Scans with prints on the glass are gathered here, so that each print can become a picture of its own.`}
        />
      ) : (
        <View>
          <Words className="mb-3 text-soft">{t`Each print on the glass can become a picture of its own. The scan stays as it is.`}</Words>
          <div
            style={{
              display: 'grid',
              gridTemplateColumns: `repeat(auto-fill, minmax(${SIZE.tile + SIZE.touch}px, 1fr))`,
              gap: SIZE.edge,
            }}
          >
            {data.scans.map((scan) => (
              <Pressable
                key={scan.id}
                role="link"
                onPress={() => router.push({ pathname: '/scans/[id]', params: { id: scan.id } })}
                className="active:opacity-80"
              >
                <div style={{ position: 'relative', aspectRatio: String(scan.shape) }}>
                  <img
                    src={smallOf(scan.sha)}
                    alt=""
                    loading="lazy"
                    style={{
                      width: '100%',
                      height: '100%',
                      borderRadius: CORNER.picture,
                      background: 'rgb(var(--line))',
                    }}
                  />
                  <svg
                    viewBox="0 0 100 100"
                    preserveAspectRatio="none"
                    aria-hidden
                    style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
                  >
                    {scan.prints.map((print, i) => {
                      const points = [0, 1, 2, 3]
                        .map((n) => `${print[2 * n]! * 100},${print[2 * n + 1]! * 100}`)
                        .join(' ');
                      return (
                        <g key={i} fill="none" vectorEffect="non-scaling-stroke">
                          <polygon points={points} stroke="#fffbf3" strokeWidth={4} vectorEffect="non-scaling-stroke" />
                          <polygon points={points} stroke="#5f3a59" strokeWidth={2} vectorEffect="non-scaling-stroke" />
                        </g>
                      );
                    })}
                  </svg>
                </div>
                <Words kind="strong" numberOfLines={1} className="mt-1">
                  {scan.name}
                </Words>
                <Words kind="small">{plural(scan.prints.length, { one: '# print', other: '# prints' })}</Words>
              </Pressable>
            ))}
          </div>
          {data.scans.length < data.total ? (
            <Words kind="small" className="py-3">
              {plural(data.total - data.scans.length, {
                one: '# more scan comes after these.',
                other: '# more scans come after these.',
              })}
            </Words>
          ) : null}
        </View>
      )}
    </Page>
  );
}
