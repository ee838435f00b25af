import { plural, t } from '@lingui/core/macro';
import type { Pin } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { type ComponentProps, Fragment, useState } from 'react';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useAsk } from '@/state/ask';
import { Button, IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { sayNumber } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { lazily } from '@/ui/lazily';
import type { SortableList as List } from './SortableList';

const KeepHere = lazily(async () => (await import('@/features/device/KeepHere')).KeepHere);
/** Dragging is fetched a moment later; the list is there at once. */
const SortableList = lazily<ComponentProps<typeof List<Pin>>>(
  async () => (await import('./SortableList')).SortableList,
  ({ items, render }) => items.map((item) => <Fragment key={item.id}>{render(item, null)}</Fragment>),
);

/** Asks a pinned question again. */
export function useOpenPin(): (pin: Pin) => void {
  const router = useRouter();
  const set = useAsk((ask) => ask.set);
  return (pin) => {
    set(pin.question);
    router.push('/browse');
  };
}

/** The questions kept at hand, with their counts; the order is changed by dragging, the rest behind the dots. */
export function Pins({ heading = true }: { heading?: boolean }) {
  const pins = useAnswer('pins', {}).data?.pins ?? [];
  const open = useOpenPin();
  const [editing, setEditing] = useState<Pin | null>(null);
  if (pins.length === 0) return null;
  return (
    <View>
      {heading ? <Heading>{t`At hand`}</Heading> : null}
      <SortableList
        items={pins}
        onMove={(id, position) =>
          void act(() => call('changePin', { params: { id }, body: { position } }), t`Order changed`, 'pins')
        }
        render={(pin, grip) => (
          <View className="min-h-button flex-row items-center border-b border-line">
            {pins.length > 1 ? grip : null}
            <Pressable
              role="button"
              aria-label={`${pin.name}, ${plural(pin.pictures, { one: '# picture', other: '# pictures' })}`}
              onPress={() => open(pin)}
              className="min-h-touch min-w-0 flex-1 flex-row items-center justify-between gap-3 active:opacity-70"
            >
              <Words className="min-w-0 shrink" numberOfLines={2}>
                {pin.name}
              </Words>
              <Words kind="small">{sayNumber(pin.pictures)}</Words>
            </Pressable>
            <IconButton name="more" size={18} label={t`More for ${pin.name}`} onPress={() => setEditing(pin)} />
          </View>
        )}
      />
      {editing ? <PinSheet pin={editing} onClose={() => setEditing(null)} /> : null}
    </View>
  );
}

function PinSheet({ pin, onClose }: { pin: Pin; onClose: () => void }) {
  const [name, setName] = useState(pin.name);
  const rename = async () => {
    onClose();
    if (name.trim() && name.trim() !== pin.name)
      await act(
        () => call('changePin', { params: { id: pin.id }, body: { name: name.trim() } }),
        t`Now called ${name.trim()}`,
        'pins',
      );
  };
  return (
    <Sheet title={pin.name} onClose={onClose}>
      <Field
        label={t`Name`}
        value={name}
        onChangeText={setName}
        maxLength={120}
        onSubmitEditing={() => void rename()}
      />
      <Button label={t`Save`} onPress={() => void rename()} />
      <KeepHere wanted={{ kind: 'pin', id: pin.id, name: pin.name, question: pin.question }} onDone={onClose} />
      <Button
        label={t`No longer keep it at hand`}
        weight="quiet"
        onPress={() => {
          onClose();
          void act(() => call('removePin', { params: { id: pin.id } }), t`No longer at hand`, 'pins');
        }}
      />
    </Sheet>
  );
}
