import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { useLine } from '@/device/line';
import { useOutbox } from '@/device/outbox';
import { takeUpdate, useUpdate } from '@/device/worker';
import { trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Words } from '@/ui/Words';

/** Says above every page that there is no connection, that something needs a word, or that a new version is there. */
export function AwayLine() {
  const router = useRouter();
  const away = useLine((line) => line.away);
  const acts = useOutbox((outbox) => outbox.acts);
  const update = useUpdate(({ waiting: one, taken }) => taken || one !== null);
  const [taking, setTaking] = useState(false);
  const stuck = acts.filter((act) => act.stuck).length;
  const waiting = acts.length - stuck;
  const take = () => {
    setTaking(true);
    const over = () => setTaking(false);
    void takeUpdate().catch(trouble).then(over, over);
  };
  const see = () => router.push('/device');
  if (away)
    return (
      <Line
        text={
          waiting
            ? plural(waiting, {
                one: 'No connection. # change waits to be sent.',
                other: 'No connection. # changes wait to be sent.',
              })
            : t`No connection. You see what this device keeps.`
        }
        label={t`See what’s here`}
        onPress={see}
      />
    );
  if (stuck)
    return (
      <Line
        text={plural(stuck, {
          one: '# change you made without a connection needs a decision.',
          other: '# changes you made without a connection need a decision.',
        })}
        label={t`Decide`}
        onPress={see}
      />
    );
  if (update)
    return <Line text={t`A new version of Gemmel is ready.`} label={t`Use it now`} disabled={taking} onPress={take} />;
  return null;
}

interface LineProps {
  text: string;
  label: string;
  disabled?: boolean;
  onPress: () => void;
}

function Line({ text, label, disabled, onPress }: LineProps) {
  return (
    <View
      role="status"
      className="flex-row flex-wrap items-center justify-between gap-x-4 border-b border-line bg-honey px-4 py-1"
    >
      <Words className="min-w-0 flex-1 font-medium text-small text-ink">{text}</Words>
      <Button label={label} weight="quiet" disabled={disabled} className="min-h-touch px-2 py-0" onPress={onPress} />
    </View>
  );
}
