import { t } from '@lingui/core/macro';
import type { SavedShow, ShowSource } from '@gemmel/contract';
import type { ShowSettings } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { act } from '@/state/acts';
import { useMe } from '@/features/account/session';
import { ShareSheet } from '@/features/share/ShareSheet';
import { makeSomething } from '@/state/making';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { ShowFields } from './ShowFields';

/** How a show is played: its order, pace, words, movement and music; and keeping it with all that. */
export function ShowSheet({
  source,
  title,
  saved,
  settings,
  mayKeep,
  onSettings,
  onClose,
}: {
  source: ShowSource;
  title: string;
  saved: SavedShow | null;
  settings: ShowSettings;
  mayKeep: boolean;
  onSettings: (settings: ShowSettings) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(saved?.name ?? title);
  const [changed, setChanged] = useState(false);
  const [sharing, setSharing] = useState(false);
  const keeper = useMe().data?.member?.part === 'keeper';
  const set = (more: Partial<ShowSettings>) => {
    setChanged(true);
    onSettings({ ...settings, ...more });
  };
  const keep = async () => {
    const done = saved
      ? await act(
          () => call('changeShow', { params: { id: saved.id }, body: { name: name.trim(), settings } }),
          t`Show changed`,
          'shows',
        )
      : await act(
          () => call('makeShow', { body: { name: name.trim(), source, settings } }),
          [t`Show “${name.trim()}” kept`, t`It is played by one tap under Albums.`],
          'shows',
        );
    if (done) onClose();
  };
  const remove = async () => {
    const done = await act(
      () => call('removeShow', { params: { id: saved!.id } }),
      [t`Show “${saved!.name}” removed`, t`Its pictures and its music stay.`],
      'shows',
    );
    if (done) onClose();
  };
  if (sharing && saved) return <ShareSheet what={{ show: saved.id }} title={saved.name} onClose={onClose} />;
  return (
    <Sheet title={t`How it is played`} onClose={onClose}>
      <ShowFields settings={settings} mayChange={mayKeep} endless onChange={(next) => set(next)} />
      {mayKeep ? (
        <View className="gap-2 border-t border-line pt-3">
          <Field label={t`Name of the show`} value={name} onChangeText={setName} maxLength={160} />
          <Button
            label={saved ? t`Save the changes` : t`Keep this show`}
            disabled={!name.trim() || Boolean(saved && !changed && name.trim() === saved.name)}
            onPress={() => void keep()}
          />
          {saved && keeper ? (
            <Button label={t`Share this show`} weight="second" icon="send" onPress={() => setSharing(true)} />
          ) : null}
          <Button
            label={t`Make a film of it`}
            weight="second"
            icon="play"
            onPress={() => {
              onClose();
              makeSomething({ source, title: name.trim() || title, show: settings });
            }}
          />
          {saved ? <Button label={t`Remove this show`} weight="brick" onPress={() => void remove()} /> : null}
        </View>
      ) : null}
    </Sheet>
  );
}
