import type { ReactNode } from 'react';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { useWide } from '@/state/wide';
import { DoubleBar } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { CORNER, SIZE } from '@/ui/tokens';

/** A card with pictures, what is asked, and the answers. */
export function Card({
  title,
  text,
  pictures,
  children,
}: {
  title: string;
  text: string;
  pictures: readonly { id: number; sha: string }[];
  children: ReactNode;
}) {
  const wide = useWide();
  const [first, ...rest] = pictures;
  return (
    <View className="gap-3 rounded-card border border-line bg-card p-4" role="group" aria-label={title}>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: rest.length ? '2fr 1fr 1fr' : '1fr',
          gridAutoRows: wide ? 112 : 84,
          gap: SIZE.hair,
        }}
      >
        {first ? (
          <img
            src={smallOf(first.sha)}
            alt=""
            style={{
              gridRow: rest.length > 2 ? 'span 2' : undefined,
              width: '100%',
              height: '100%',
              objectFit: 'cover',
              borderRadius: CORNER.picture,
            }}
          />
        ) : null}
        {rest.slice(0, 4).map((picture) => (
          <img
            key={picture.id}
            src={smallOf(picture.sha)}
            alt=""
            style={{ width: '100%', height: '100%', objectFit: 'cover', borderRadius: CORNER.picture }}
          />
        ))}
      </div>
      <View className="flex-row items-center gap-3">
        <DoubleBar tone="waiting" />
        <View className="min-w-0 flex-1">
          <Words kind="heading">{title}</Words>
          <Words kind="small">{text}</Words>
        </View>
      </View>
      {children}
    </View>
  );
}
