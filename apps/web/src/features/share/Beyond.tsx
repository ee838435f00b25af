import type { ShareOf, ShareReach } from '@gemmel/contract';
import { plural, t } from '@lingui/core/macro';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useTiles } from '@/state/tiles';
import { Chip } from '@/ui/Button';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { tileLabel } from '@/words/said';

const MOST = 8;

/** Which of what is shared is for fewer people than a link reaches, and whether it is shared all the same. */
export function Beyond({
  of,
  reach,
  onReach,
}: {
  of: ShareOf;
  reach: ShareReach;
  onReach: (reach: ShareReach) => void;
}) {
  const { data } = useAnswer('tryShare', { body: { of, reach: 'link' } });
  const tiles = useTiles(data?.beyond.ids.slice(0, MOST) ?? []);
  if (!data) return <Words kind="small">{t`Counting …`}</Words>;
  const { pictures, beyond } = data;
  const kept = beyond.house + beyond.family;
  return (
    <View className="gap-1.5">
      <Words className="font-semi text-small">
        {plural(reach === 'link' ? pictures : pictures + kept, {
          one: '# picture is shared',
          other: '# pictures are shared',
        })}
      </Words>
      {kept ? (
        <View className="gap-1.5 rounded-card border border-marigold bg-card p-3">
          <Words className="text-small">
            {plural(kept, {
              one: '# picture in it has been only for the house or the family so far.',
              other: '# pictures in it have been only for the house or the family so far.',
            })}
          </Words>
          <div style={{ display: 'flex', gap: SIZE.hair, flexWrap: 'wrap' }}>
            {data.beyond.ids.slice(0, MOST).map((id) => {
              const tile = tiles.get(id);
              return tile ? (
                <img
                  key={id}
                  src={smallOf(tile.sha)}
                  alt={tileLabel(tile)}
                  style={{ width: SIZE.touch, height: SIZE.touch, objectFit: 'cover', borderRadius: CORNER.picture }}
                />
              ) : null;
            })}
          </div>
          <View role="group" aria-label={t`Share them?`} className="flex-row flex-wrap gap-x-2">
            <Chip label={t`Leave them out`} on={reach === 'link'} onPress={() => onReach('link')} />
            <Chip label={t`Share them, too`} on={reach !== 'link'} onPress={() => onReach('house')} />
          </View>
          {reach === 'link' ? null : (
            <Words kind="small">{t`Whatever comes later and is for the house will be in it as well.`}</Words>
          )}
        </View>
      ) : null}
      {beyond.me ? (
        <Words kind="small">
          {plural(beyond.me, {
            one: '# picture is only somebody’s own, and stays out.',
            other: '# pictures are only somebody’s own, and stay out.',
          })}
        </Words>
      ) : null}
    </View>
  );
}
