import { t } from '@lingui/core/macro';
import type { SavedShow } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { KeepSign } from '@/features/device/KeepHere';
import { Show } from './Show';

/** Shows that are kept, each played by one tap. */
export function SavedShows() {
  const shows = useAnswer('shows', {}).data?.shows ?? [];
  const [playing, setPlaying] = useState<SavedShow | null>(null);
  if (shows.length === 0) return null;
  return (
    <View className="mb-7">
      <Heading right={shows.length}>{t`Shows`}</Heading>
      {shows.map((show) => (
        <View key={show.id} className="min-h-field flex-row items-center gap-1 border-t border-line">
          <Pressable
            role="button"
            aria-label={t`Play ${show.name}`}
            onPress={() => setPlaying(show)}
            className="min-h-field min-w-0 flex-1 flex-row items-center gap-3 py-1.5"
          >
            {show.cover ? (
              <img
                src={smallOf(show.cover)}
                alt=""
                loading="lazy"
                style={{ width: SIZE.strip, height: SIZE.touch, objectFit: 'cover', borderRadius: CORNER.picture }}
              />
            ) : null}
            <Words className="min-w-0 flex-1" numberOfLines={2}>
              {show.name}
            </Words>
            <Icon name="play" size={18} tone="juniper" />
          </Pressable>
          <KeepSign wanted={{ kind: 'show', id: show.id, name: show.name, show }} />
        </View>
      ))}
      {playing ? (
        <Show source={playing.source} title={playing.name} saved={playing} onClose={() => setPlaying(null)} />
      ) : null}
    </View>
  );
}
