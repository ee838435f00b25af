import type { ReactNode } from 'react';
import { View } from 'react-native';
import { DoubleBar, type Tone } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';

/** One fact about a picture with its heading. */
export function Fact({ title, tone = 'settled', children }: { title: string; tone?: Tone; children: ReactNode }) {
  return (
    <View className="mt-2 flex-row gap-2.5 border-t border-line pt-3">
      <View className="pt-1.5">
        <DoubleBar tone={tone} />
      </View>
      <View className="min-w-0 flex-1 gap-0.5">
        <Words kind="strong" role="heading" aria-level={2}>
          {title}
        </Words>
        {children}
      </View>
    </View>
  );
}
