import { plural, t } from '@lingui/core/macro';
import type { Batch } from '@gemmel/contract';
import { Link } from 'expo-router';
import { View } from 'react-native';
import { smallOf } from '@/api/client';
import { DoubleBar } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { Rings } from '@/ui/Rings';
import { sayShare, sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { AlbumOffer } from './AlbumOffer';
import { BatchActs } from './BatchActs';
import { GuestBatch } from './GuestBatch';
import { useSending } from './sending';
import { standing } from './standing';
import { CORNER, SIZE } from '@/ui/tokens';
import { batchName } from '@/words/said';

/** One batch: how far it is or what became of it, and what is still to do with it. */
export function BatchCard({ batch, full, again }: { batch: Batch; full: boolean; again: () => void }) {
  const sending = useSending((store) => store.sendings[batch.id]);
  const coming = batch.state === 'coming';
  const out = batch.counts.skipped + batch.counts.aside + batch.counts.failed + (sending?.unread.length ?? 0);
  return (
    <View className="mb-3 gap-2 rounded-card border border-line bg-card p-4" role="group" aria-label={batchName(batch)}>
      <View className="flex-row items-start gap-3">
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={2}>
            {batchName(batch)}
          </Words>
          <Words kind="small" aria-live={coming ? 'polite' : undefined}>
            {standing(batch, sending, full)}
          </Words>
          <Words kind="tiny">{sayWhen(batch.createdAt)}</Words>
        </View>
        {batch.state === 'done' ? <Rings size={36} label={t`All stored`} /> : null}
      </View>
      {batch.state !== 'done' ? (
        <DoubleBar
          tone={coming && !full ? 'settled' : 'waiting'}
          share={batch.share}
          width={'100%' as unknown as number}
          label={`${batchName(batch)}: ${sayShare(batch.share)}`}
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
        <Words kind="small" className="text-marigold">
          {plural(batch.conflicts, {
            one: '# fact where two sources disagree',
            other: '# facts where two sources disagree',
          })}
        </Words>
      ) : null}
      <Link
        href={{ pathname: '/batch/[id]', params: { id: batch.id } }}
        style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center', gap: 6 }}
      >
        <Words className="font-semi text-small text-juniper">
          {out
            ? plural(out, { one: 'See every file: # left out, and why', other: 'See every file: # left out, and why' })
            : t`See every file and what became of it`}
        </Words>
        <Icon name="right" size={15} tone="juniper" />
      </Link>
      {batch.guest ? <GuestBatch batch={batch} /> : <AlbumOffer batch={batch} />}
    </View>
  );
}
