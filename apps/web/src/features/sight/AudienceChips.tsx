import type { Audience } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { Chip } from '@/ui/Button';
import { Words } from '@/ui/Words';
import { AUDIENCES, sayAudience, sayMeans } from './audienceWords';

/** The audiences to choose from, with what the chosen one means. `none` is what it is called when nothing is said. */
export function AudienceChips({
  value,
  none,
  from = AUDIENCES,
  onChoose,
}: {
  value: Audience | null | undefined;
  none?: string;
  from?: readonly Audience[];
  onChoose: (audience: Audience | null) => void;
}) {
  return (
    <View>
      <View role="group" aria-label={t`Who it’s for`} className="flex-row flex-wrap gap-x-2">
        {none === undefined ? null : <Chip label={none} on={value === null} onPress={() => onChoose(null)} />}
        {from.map((one) => (
          <Chip key={one} label={sayAudience(one)} on={value === one} onPress={() => onChoose(one)} />
        ))}
      </View>
      {value ? <Words kind="small">{sayMeans(value)}</Words> : null}
    </View>
  );
}
