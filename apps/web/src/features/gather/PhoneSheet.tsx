import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { QrCode } from '@/ui/QrCode';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';

/** A phone's way in, as it is shown once. */
export interface Key {
  slug: string;
  password: string;
  name: string;
}

/** The address a phone's sync application is given. */
export const addressOf = (slug: string): string => `${window.location.origin}/dav/${slug}/`;

/** The address with name and password in it, as sync applications read it from a QR code. */
export function codeOf({ slug, password }: Pick<Key, 'slug' | 'password'>): string {
  const url = new URL(addressOf(slug));
  url.username = slug;
  url.password = password;
  return url.toString();
}

/** Lets a phone deliver by itself: its name first, then what its sync application has to know. */
export function PhoneSheet({ given, onClose }: { given: Key | null; onClose: () => void }) {
  const [name, setName] = useState('');
  const [key, setKey] = useState<Key | null>(given);
  const [busy, setBusy] = useState(false);
  const add = async () => {
    setBusy(true);
    try {
      setKey({ ...(await call('addPhone', { body: { name: name.trim() } })), name: name.trim() });
      refresh('ledger');
    } catch (error) {
      trouble(error);
    }
    setBusy(false);
  };
  if (!key)
    return (
      <Sheet title={t`Connect a phone`} onClose={onClose}>
        <Words>{t`Any app that can sync a phone’s pictures to a WebDAV address can send them here by itself. Pictures later deleted on the phone stay here.`}</Words>
        <Field
          label={t`Whose phone is it?`}
          placeholder={t`Noor’s phone`}
          value={name}
          onChangeText={setName}
          maxLength={60}
          autoFocus
          onSubmitEditing={() => name.trim() && void add()}
        />
        <Button label={t`Connect it`} disabled={!name.trim() || busy} onPress={() => void add()} />
      </Sheet>
    );
  return (
    <Sheet title={key.name} onClose={onClose}>
      <Words>{t`In the phone’s sync app, choose WebDAV and scan this, or write it down. The password is shown only once.`}</Words>
      {/^(127\.|localhost$)/.test(window.location.hostname) ? (
        <Words
          kind="small"
          className="text-marigold"
        >{t`This address works only on this computer. For phones in the house, start Gemmel with --host 0.0.0.0 and open this page at the computer’s own address.`}</Words>
      ) : null}
      <QrCode text={codeOf(key)} label={t`QR code with the address, name and password`} />
      {(
        [
          [t`Address`, addressOf(key.slug)],
          [t`Name`, key.slug],
          [t`Password`, key.password],
        ] as const
      ).map(([label, value]) => (
        <View key={label} className="flex-row items-center gap-3 border-t border-line pt-2">
          <View className="min-w-0 flex-1">
            <Words kind="small">{label}</Words>
            <Words selectable className="font-semi" aria-label={`${label}: ${value}`}>
              {value}
            </Words>
          </View>
          <Button
            label={t`Copy`}
            weight="quiet"
            className="min-h-touch px-2"
            onPress={() =>
              void navigator.clipboard?.writeText(value).then(
                () => say(t`Copied`),
                () => say(t`Couldn’t copy it here. Select it by hand instead.`),
              )
            }
          />
        </View>
      ))}
      <Button label={t`Done`} onPress={onClose} />
    </Sheet>
  );
}
