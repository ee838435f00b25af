import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { wordsOf } from '@/api/client';
import { Button, Chip } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { Wrong } from './Door';

/** Asks once more before somebody goes, and what becomes of what they wrote. */
export function LeaveSheet({
  title,
  text,
  label,
  stays,
  goes,
  onLeave,
  onClose,
}: {
  title: string;
  text: string;
  label: string;
  stays: string;
  goes: string;
  onLeave: (said: 'stays' | 'goes') => Promise<void>;
  onClose: () => void;
}) {
  const [said, setSaid] = useState<'stays' | 'goes'>('stays');
  const [wrong, setWrong] = useState('');
  return (
    <Sheet title={title} onClose={onClose}>
      <Words>{text}</Words>
      <View role="group" aria-label={t`Comments`} className="flex-row flex-wrap gap-x-2">
        <Chip label={stays} on={said === 'stays'} onPress={() => setSaid('stays')} />
        <Chip label={goes} on={said === 'goes'} onPress={() => setSaid('goes')} />
      </View>
      <Wrong text={wrong} />
      <Button label={label} onPress={() => void onLeave(said).catch((why: unknown) => setWrong(wordsOf(why)))} />
    </Sheet>
  );
}
