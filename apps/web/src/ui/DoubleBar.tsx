import { t } from '@lingui/core/macro';
import type { ReactNode } from 'react';
import { View } from 'react-native';
import { Words } from './Words';
import { SIZE } from './tokens';

export type Tone = 'settled' | 'waiting' | 'rule';
const FILL: Record<Tone, string> = { settled: 'bg-juniper', waiting: 'bg-glow', rule: 'bg-plum' };

/** The double bar. With a share (0..1) it is a progress indicator, without one a mark. */
export function DoubleBar({
  tone = 'settled',
  share,
  width = 18,
  label,
}: {
  tone?: Tone;
  share?: number;
  width?: number;
  label?: string;
}) {
  const part = Math.max(0, Math.min(1, share ?? 1));
  const said =
    share === undefined
      ? { 'aria-hidden': true }
      : {
          role: 'progressbar' as const,
          'aria-valuenow': Math.round(part * 100),
          'aria-valuemin': 0,
          'aria-valuemax': 100,
          'aria-label': label ?? t`Progress`,
        };
  const height = share === undefined ? 4 : 5;
  return (
    <View style={{ width, gap: SIZE.hair }} {...said}>
      {[0, 1].map((i) => (
        <View key={i} className="overflow-hidden rounded-full bg-line" style={{ height }}>
          <View className={`rounded-full ${FILL[tone]}`} style={{ width: `${part * 100}%`, height }} />
        </View>
      ))}
    </View>
  );
}

/** A heading with its double bar, and room at the right for a count or an act. */
export function Heading({
  children,
  tone = 'settled',
  right,
}: {
  children: ReactNode;
  tone?: Tone;
  right?: ReactNode;
}) {
  return (
    <View className="mb-2 flex-row items-center gap-2.5">
      <DoubleBar tone={tone} />
      <Words kind="heading" className="min-w-0 flex-1">
        {children}
      </Words>
      {typeof right === 'string' || typeof right === 'number' ? <Words kind="small">{right}</Words> : right}
    </View>
  );
}
