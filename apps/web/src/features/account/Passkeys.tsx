import type { PublicKeyCredentialCreationOptionsJSON } from '@simplewebauthn/browser';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { Wrong } from './Door';
import { PasswordField } from './Fields';

/** Whether a passkey can open this door: browsers know them over an encrypted way alone, and by a name, not a number. */
export const canPasskey = (): boolean =>
  window.isSecureContext && 'PublicKeyCredential' in window && !/^[\d.]+$|:/.test(location.hostname);

/** What went wrong with a passkey, in words: the browser's own are written for others. */
export const passkeyWords = (error: unknown): string =>
  error instanceof Error && ['NotAllowedError', 'AbortError', 'InvalidStateError'].includes(error.name)
    ? error.name === 'InvalidStateError'
      ? t`There’s a passkey for this account on this device already.`
      : t`It was stopped, or took too long. Try again when you’re ready.`
    : wordsOf(error);

/** The passkeys of whoever is signed in; another is made after the password. */
export function Passkeys({ onClose }: { onClose: () => void }) {
  const passkeys = useAnswer('passkeys', {}).data?.passkeys ?? [];
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [wrong, setWrong] = useState('');
  const add = async () => {
    setWrong('');
    try {
      const { startRegistration } = await import('@simplewebauthn/browser');
      const optionsJSON = (await call('beginPasskey', { body: { password } })) as unknown;
      const response = await startRegistration({ optionsJSON: optionsJSON as PublicKeyCredentialCreationOptionsJSON });
      await call('addPasskey', { body: { name: name.trim(), response: { ...response } } });
      refresh('passkeys');
      setName('');
      setPassword('');
      say(t`From now on it opens the door by itself`);
    } catch (error) {
      setWrong(passkeyWords(error));
    }
  };
  const end = (id: number) => call('endPasskey', { params: { id } }).then(() => refresh('passkeys'), trouble);
  return (
    <Sheet title={t`Passkeys`} onClose={onClose}>
      <Words className="text-soft">{t`Your fingerprint, your face or the code of your device opens the door, instead of the password. Nothing of it leaves the device.`}</Words>
      {passkeys.map((one) => (
        <View key={one.id} className="flex-row items-center gap-3 border-t border-line py-2">
          <View className="min-w-0 flex-1">
            <Words kind="strong">{one.name}</Words>
            <Words kind="small">{one.used ? t`Last used ${sayWhen(one.used)}` : t`Not used yet`}</Words>
          </View>
          <Button label={t`Remove`} weight="second" onPress={() => void end(one.id)} />
        </View>
      ))}
      {canPasskey() ? (
        <>
          <Field
            label={t`What it’s called, such as “my phone”`}
            value={name}
            onChangeText={setName}
            maxLength={80}
            autoComplete="off"
          />
          <PasswordField
            value={password}
            onChangeText={setPassword}
            onSubmitEditing={() => name.trim() && password && void add()}
          />
          <Wrong text={wrong} />
          <Button label={t`Make a passkey`} disabled={!name.trim() || !password} onPress={() => void add()} />
        </>
      ) : (
        <Words>{t`Browsers make passkeys only for an encrypted address with a name (https://…).`}</Words>
      )}
    </Sheet>
  );
}
