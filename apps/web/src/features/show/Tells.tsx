import { t } from '@lingui/core/macro';
import type { ShowSettings } from '@gemmel/core';
import { Chip } from '@/ui/Button';
import { Group } from '@/ui/Choice';

type Told = ShowSettings['tells'];

/** What is told with pictures: each by a touch, or not. */
export function Tells({ label, tells, onChange }: { label: string; tells: Told; onChange: (tells: Told) => void }) {
  const chip = (of: keyof Told, said: string) => (
    <Chip label={said} on={tells[of]} onPress={() => onChange({ ...tells, [of]: !tells[of] })} />
  );
  return (
    <Group label={label}>
      {chip('caption', t`Captions`)}
      {chip('date', t`Dates`)}
      {chip('place', t`Places`)}
      {chip('names', t`Names`)}
    </Group>
  );
}
