import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refresh } from '@/api/query';
import { say } from '@/state/toast';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { QrCode } from '@/ui/QrCode';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { Wrong } from './Door';
import { PasswordField } from './Fields';

/** Sets up, or ends, a second step at the door: one-time codes from an application on the telephone. */
export function SecondStep({ on, onClose }: { on: boolean; onClose: () => void }) {
  const [password, setPassword] = useState('');
  const [begun, setBegun] = useState<{ secret: string; uri: string } | null>(null);
  const [code, setCode] = useState('');
  const [codes, setCodes] = useState<string[] | null>(null);
  const [wrong, setWrong] = useState('');
  const attempt = async (doing: () => Promise<void>) => {
    setWrong('');
    try {
      await doing();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  const begin = () => attempt(async () => setBegun(await call('beginSecond', { body: { password } })));
  const confirm = () =>
    attempt(async () => {
      setCodes((await call('confirmSecond', { body: { code } })).codes);
      refresh('me');
    });
  const end = () =>
    attempt(async () => {
      await call('endSecond', { body: { password } });
      refresh('me');
      say(t`Only the password is asked for from now on`);
      onClose();
    });
  if (codes)
    return (
      <Sheet title={t`For the day your phone is lost`} onClose={onClose}>
        <Words>{t`Each of these codes lets you in once. Write them down and keep them somewhere safe; they aren’t shown again.`}</Words>
        <View role="list" className="flex-row flex-wrap gap-x-6 gap-y-1">
          {codes.map((one) => (
            <Words key={one} role="listitem" className="font-semi">
              {one}
            </Words>
          ))}
        </View>
        <Button label={t`I’ve written them down`} onPress={onClose} />
      </Sheet>
    );
  if (begun)
    return (
      <Sheet title={t`One-time codes`} onClose={onClose}>
        <Words>{t`Photograph this with an app for one-time codes, or type the key into it.`}</Words>
        <QrCode text={begun.uri} label={t`The key as a code`} />
        <Field label={t`The key`} value={begun.secret} readOnly selectTextOnFocus />
        <Field
          label={t`The code the app shows`}
          value={code}
          onChangeText={setCode}
          inputMode="numeric"
          autoComplete="one-time-code"
          maxLength={10}
        />
        <Wrong text={wrong} />
        <Button label={t`Go on`} disabled={code.trim().length < 6} onPress={() => void confirm()} />
      </Sheet>
    );
  return (
    <Sheet title={t`One-time codes`} onClose={onClose}>
      <Words className="text-soft">
        {on
          ? t`A code from your phone is asked for beside the password.`
          : t`Somebody who has found out your password still can’t come in: a code from your phone is asked for, too.`}
      </Words>
      <PasswordField value={password} onChangeText={setPassword} onSubmitEditing={() => void (on ? end() : begin())} />
      <Wrong text={wrong} />
      <Button
        label={on ? t`Ask for no code` : t`Set it up`}
        weight={on ? 'second' : 'main'}
        disabled={!password}
        onPress={() => void (on ? end() : begin())}
      />
    </Sheet>
  );
}
