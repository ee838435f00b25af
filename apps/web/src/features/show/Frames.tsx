import { t } from '@lingui/core/macro';
import type { Frame } from '@gemmel/contract';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Heading } from '@/ui/DoubleBar';
import { sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { FrameSheet } from './FrameSheet';

/** Digital frames that are fed, each with when it last asked. */
export function Frames() {
  const frames = useAnswer('frames', {}).data?.frames ?? [];
  const [open, setOpen] = useState<Frame | null>(null);
  if (frames.length === 0) return null;
  return (
    <View className="mt-7">
      <Heading right={frames.length}>{t`Digital frames`}</Heading>
      {frames.map((frame) => (
        <Pressable
          key={frame.id}
          role="button"
          onPress={() => setOpen(frame)}
          className="min-h-field justify-center border-t border-line py-1.5 active:opacity-70"
        >
          <Words kind="strong" numberOfLines={2}>
            {frame.name}
          </Words>
          <Words kind="small">
            {frame.seen ? t`Last asked for a picture ${sayWhen(frame.seen)}` : t`Has not asked for a picture yet`}
          </Words>
        </Pressable>
      ))}
      {open ? <FrameSheet source={open.source} title={open.name} frame={open} onClose={() => setOpen(null)} /> : null}
    </View>
  );
}
