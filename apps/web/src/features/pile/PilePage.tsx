import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useSequence } from '@/state/ask';
import { usePile } from '@/state/pile';
import { useTiles } from '@/state/tiles';
import { smallOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { Empty, Page } from '@/ui/State';
import { Words } from '@/ui/Words';
import { PileActs } from './PileActs';
import { CORNER, SIZE } from '@/ui/tokens';
import { tileLabel } from '@/words/said';

const MOST = 300;

/** The pictures in hand, and what can be done with all of them. */
export function PilePage() {
  const router = useRouter();
  const { ids, drop } = usePile();
  const shown = useMemo(() => ids.slice(0, MOST), [ids]);
  const tiles = useTiles(shown);
  if (ids.length === 0)
    return (
      <Page title={t`The pile`}>
        <Empty
          title={t`Nothing on the pile`}
          text={t`Press and hold a picture to put it here, or use its corner mark on a wide screen. The pile stays together on every page until you put it down.`}
        >
          <Button label={t`Browse the library`} onPress={() => router.push('/browse')} />
        </Empty>
      </Page>
    );
  return (
    <Page title={t`The pile`}>
      <Words className="mb-3 text-soft">
        {plural(ids.length, {
          one: '# picture in hand. Lying here moves and copies nothing.',
          other: '# pictures in hand. Lying here moves and copies nothing.',
        })}
      </Words>
      <View className="mb-4 max-w-read rounded-card border border-line bg-card px-2">
        <PileActs />
      </View>
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(104px, 1fr))', gap: 8 }}>
        {shown.map((id) => {
          const tile = tiles.get(id);
          return (
            <div key={id} style={{ position: 'relative', height: 112 }}>
              <button
                type="button"
                aria-label={tile ? t`Open ${tileLabel(tile)}` : t`Open the picture`}
                onClick={() => {
                  useSequence.getState().open(ids, '/pile');
                  router.push({ pathname: '/picture/[id]', params: { id } });
                }}
                style={{
                  all: 'unset',
                  cursor: 'pointer',
                  display: 'block',
                  width: '100%',
                  height: '100%',
                  borderRadius: CORNER.picture,
                  overflow: 'hidden',
                  background: 'rgb(var(--line))',
                }}
              >
                {tile ? (
                  <img src={smallOf(tile.sha)} alt="" style={{ width: '100%', height: '100%', objectFit: 'contain' }} />
                ) : null}
              </button>
              <button
                type="button"
                aria-label={tile ? t`Put down ${tileLabel(tile)}` : t`Put down`}
                onClick={() => drop([id])}
                style={{
                  position: 'absolute',
                  top: -6,
                  right: -6,
                  width: SIZE.touch,
                  height: SIZE.touch,
                  border: 0,
                  background: 'none',
                  cursor: 'pointer',
                  display: 'flex',
                  alignItems: 'center',
                  justifyContent: 'center',
                }}
              >
                <span
                  style={{
                    width: 26,
                    height: 26,
                    borderRadius: 13,
                    background: 'rgb(var(--card) / 0.94)',
                    display: 'flex',
                    alignItems: 'center',
                    justifyContent: 'center',
                  }}
                >
                  <Icon name="away" size={14} />
                </span>
              </button>
            </div>
          );
        })}
      </div>
      {ids.length > MOST ? (
        <Words kind="small" className="mt-3">
          {plural(ids.length - MOST, { one: 'and # more picture', other: 'and # more pictures' })}
        </Words>
      ) : null}
    </Page>
  );
}
