import { t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { IconButton } from '@/ui/Button';
import { change } from './acts';

/** The heart of a picture: gives it, and takes it away again. */
export function Heart({ picture, size = 22 }: { picture: Pick<Picture, 'id' | 'favourite'>; size?: number }) {
  const { id, favourite } = picture;
  return (
    <IconButton
      name="heart"
      tone="brick"
      size={size}
      filled={favourite}
      pressed={favourite}
      label={favourite ? t`Remove the heart` : t`Give it a heart`}
      onPress={() => void change([id], { favourite: !favourite }, favourite ? t`Heart removed` : t`Heart given`)}
    />
  );
}
