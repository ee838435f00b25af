import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { openOwnEyes } from '@/api/eyes';
import { useMe } from '@/features/account/session';
import { Button } from '@/ui/Button';
import { Words } from '@/ui/Words';

/** Says that a keeper looks as somebody else does, and leads back. */
export function Looking() {
  const me = useMe().data;
  if (!me?.looking || !me.member) return null;
  return (
    <View
      role="status"
      className="flex-row flex-wrap items-center justify-between gap-x-4 border-b border-plum bg-lilac px-4 py-1"
    >
      <Words className="min-w-0 flex-1 font-medium text-small text-plum">{t`You see what ${me.member.name} sees. Nothing can be changed from here.`}</Words>
      <Button label={t`Back to yours`} weight="quiet" className="min-h-touch px-2 py-0" onPress={openOwnEyes} />
    </View>
  );
}
