import { plural, t } from '@lingui/core/macro';
import type { CardOffer } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { DoubleBar } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { sayNumber } from '@/ui/say';
import { Words } from '@/ui/Words';

/** What a card holds, in words. */
export function cardLine(card: CardOffer): string {
  if (card.listing)
    return card.listing.total
      ? t`Looking: ${sayNumber(card.listing.done)} of ${sayNumber(card.listing.total)}`
      : t`Looking at what’s on it …`;
  if (card.fresh === 0)
    return plural(card.files, { one: '# picture, already here', other: '# pictures, all of them already here' });
  const here = card.files - card.fresh;
  return [
    plural(card.fresh, { one: '# new picture', other: '# new pictures' }),
    here ? plural(here, { one: '# already here', other: '# already here' }) : '',
  ]
    .filter(Boolean)
    .join(', ');
}

/** Cards and phones that are there now, each with what it offers. */
export function CardOffers() {
  const cards = useAnswer('cards', {}).data?.cards ?? [];
  const shown = cards.filter((card) => !card.putOff);
  return shown.map((card) => <Offer key={card.id} card={card} />);
}

function Offer({ card }: { card: CardOffer }) {
  const router = useRouter();
  const open = () => router.push({ pathname: '/card/[id]', params: { id: card.id } });
  const later = () =>
    void call('changeSource', { params: { id: card.id }, body: { putOff: true } }).then(
      () => refresh('cards', 'library'),
      trouble,
    );
  return (
    <View
      className={`gap-3 rounded-card border bg-card p-4 ${card.fresh ? 'border-marigold' : 'border-line'}`}
      role="group"
      aria-label={t`Card ${card.name}`}
    >
      <View className="flex-row items-center gap-3">
        <DoubleBar tone={card.fresh ? 'waiting' : 'settled'} width={34} />
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={2}>{t`${card.name} is connected`}</Words>
          <Words kind="small" aria-live="polite">{`${cardLine(card)}${card.device ? ` · ${card.device}` : ''}`}</Words>
        </View>
        <Icon name="card" size={22} tone="soft" />
      </View>
      <View className="flex-row gap-2">
        <Button
          className="flex-1"
          label={t`See what’s on it`}
          weight={card.fresh || card.listing ? 'main' : 'second'}
          onPress={open}
        />
        <Button label={t`Not now`} weight="quiet" onPress={later} />
      </View>
    </View>
  );
}
