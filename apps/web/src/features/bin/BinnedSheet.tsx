import { t } from '@lingui/core/macro';
import type { Binned } from '@gemmel/contract';
import { View } from 'react-native';
import { largeOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { sayBytes, sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { placeholder } from '@/ui/thumb';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { bringBack } from './acts';
import { sayUntil } from './words';

/** One picture of the bin, large enough to decide about it. */
export function BinnedSheet({
  binned,
  onClose,
  onRemove,
}: {
  binned: Binned;
  onClose: () => void;
  /** Removes it for good; nothing for those who may not. */
  onRemove?: (() => void) | undefined;
}) {
  const { by } = binned;
  const when = sayWhen(binned.at);
  return (
    <Sheet title={binned.name} onClose={onClose}>
      <img
        src={largeOf(binned.sha)}
        alt={binned.name}
        style={{
          width: '100%',
          maxHeight: '52vh',
          aspectRatio: `${binned.width} / ${binned.height}`,
          objectFit: 'contain',
          borderRadius: CORNER.picture,
          background: `${placeholder(binned.thumb)} center / cover`,
        }}
      />
      <Words className="text-soft">{by ? t`Binned by ${by} on ${when}` : t`Binned on ${when}`}</Words>
      <Words className="text-soft">{t`${sayBytes(binned.bytes)}, here ${sayUntil(binned)}`}</Words>
      <View className="gap-2">
        <Button
          icon="again"
          label={t`Bring it back`}
          onPress={() => {
            onClose();
            void bringBack({ ids: [binned.id] });
          }}
        />
        {onRemove ? <Button weight="brick" label={t`Remove it for good`} onPress={onRemove} /> : null}
      </View>
    </Sheet>
  );
}
