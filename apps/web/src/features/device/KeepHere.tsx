import { t } from '@lingui/core/macro';
import { useEffect } from 'react';
import { canKeep, keepHere, keepNoLonger, keyOfWanted, type Kept, readKept, useKept, type Wanted } from '@/device/kept';
import { say, trouble } from '@/state/toast';
import { Button, IconButton } from '@/ui/Button';
import { sayNumber } from '@/ui/say';

/** Whether something is kept on this device; null while it is not. */
export function useKeptHere(wanted: Pick<Wanted, 'kind' | 'id'>): Kept | null {
  const one = useKept(({ kept }) => kept[keyOfWanted(wanted)]);
  const read = useKept((kept) => kept.read);
  useEffect(() => {
    if (!read) void readKept();
  }, [read]);
  return one ?? null;
}

async function turn(wanted: Wanted, kept: boolean): Promise<void> {
  if (kept) {
    await keepNoLonger(wanted);
    say(t`“${wanted.name}” is no longer on this device. It stays in the library.`);
  } else {
    say(t`“${wanted.name}” is coming onto this device.`);
    await keepHere(wanted);
  }
}

/** Keeps something on this device, or no longer; as a line of a menu. */
export function KeepHere({ wanted, onDone }: { wanted: Wanted; onDone: () => void }) {
  const kept = useKeptHere(wanted);
  if (!canKeep()) return null;
  const coming = kept?.state === 'coming' && kept.ids.length > 0;
  return (
    <Button
      label={
        !kept
          ? t`Keep on this device`
          : coming
            ? t`Coming onto this device: ${sayNumber(kept.done)} of ${sayNumber(kept.ids.length)}`
            : t`No longer keep on this device`
      }
      icon="phone"
      weight="quiet"
      className="min-h-touch justify-start px-2"
      onPress={() => {
        onDone();
        void turn(wanted, kept !== null).catch(trouble);
      }}
    />
  );
}

/** The same as a sign at the end of a row. */
export function KeepSign({ wanted }: { wanted: Wanted }) {
  const kept = useKeptHere(wanted);
  if (!canKeep()) return null;
  return (
    <IconButton
      name="phone"
      size={18}
      tone={kept ? 'juniper' : 'soft'}
      label={kept ? t`No longer keep “${wanted.name}” on this device` : t`Keep “${wanted.name}” on this device`}
      onPress={() => void turn(wanted, kept !== null).catch(trouble)}
    />
  );
}
