import type { Batch } from '@gemmel/contract';
import { Link } from 'expo-router';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { DoubleBar } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { count, sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { AlbumOffer } from './AlbumOffer';
import { BatchActs } from './BatchActs';
import { useSending } from './sending';
import { standing } from './standing';
import { CORNER, SIZE } from '@/ui/tokens';

/** One batch: how far it is or what became of it, and what is still to do with it. */
export function BatchCard({ batch, full, again }: { batch: Batch; full: boolean; again: () => void }) {
  const sending = useSending((store) => store.sendings[batch.id]);
  const coming = batch.state === 'coming';
  const out = batch.counts.skipped + batch.counts.aside + batch.counts.failed + (sending?.unread.length ?? 0);
  return (
    <View className="mb-3 gap-2 rounded-card border border-line bg-card p-4" role="group" aria-label={batch.name}>
      <View className="flex-row items-start gap-3">
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={2}>
            {batch.name}
          </Words>
          <Words kind="small" aria-live={coming ? 'polite' : undefined}>
            {standing(batch, sending, full)}
          </Words>
          <Words kind="tiny">{sayWhen(batch.createdAt)}</Words>
        </View>
        {batch.state === 'done' ? <Rings size={36} label="All stored" /> : null}
      </View>
      {batch.state !== 'done' ? (
        <DoubleBar
          tone={coming && !full ? 'settled' : 'waiting'}
          share={batch.share}
          width={'100%' as unknown as number}
          label={`${batch.name}: ${Math.floor(batch.share * 100)} per cent`}
        />
      ) : null}
      <BatchActs batch={batch} again={again} />
      {batch.covers.length ? (
        <View className="flex-row gap-hair overflow-hidden">
          {batch.covers.slice(0, 6).map((sha) => (
            <img
              key={sha}
              src={smallOf(sha)}
              alt=""
              style={{
                height: 56,
                minWidth: 0,
                flex: 1,
                objectFit: 'cover',
                borderRadius: CORNER.picture,
                maxWidth: 84,
              }}
            />
          ))}
        </View>
      ) : null}
      {batch.conflicts ? (
        <Words
          kind="small"
          className="text-marigold"
        >{`${count(batch.conflicts, 'thing is', 'things are')} said differently elsewhere`}</Words>
      ) : null}
      <Link
        href={{ pathname: '/batch/[id]', params: { id: batch.id } }}
        style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center', gap: 6 }}
      >
        <Words className="font-semi text-small text-juniper">
          {out ? `See every file: ${out} left out, and why` : 'See every file and what became of it'}
        </Words>
        <Icon name="right" size={15} tone="juniper" />
      </Link>
      <AlbumOffer batch={batch} />
    </View>
  );
}
