import type { Invited } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { wordsOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Empty, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { sayYouMay } from '@/words/said';
import { language } from '@/words/speak';
import { Door, DoorForm, Wrong } from './Door';
import { EmailField, NewPasswordField } from './Fields';
import { accept, comeBackTo, signOut, useMe } from './session';

/** What an invitation's link opens: who asks whom into which library, and the way in. */
export function Invitation({ token }: { token: string }) {
  const router = useRouter();
  const me = useMe().data;
  const { data, error } = useAnswer('invited', { params: { token } });
  return (
    <Door title={data?.library ?? t`An invitation`}>
      {error ? (
        <Empty title={wordsOf(error)} text={t`It may have been used already, or be more than seven days old.`}>
          <Button label={t`Sign in`} onPress={() => router.replace('/sign-in')} />
        </Empty>
      ) : !data || !me ? (
        <Waiting />
      ) : (
        <View className="gap-4">
          <View className="gap-1 rounded-card bg-honey px-4 py-3">
            <Words className="text-body">{t`${data.from} invites you to “${data.library}”, the household’s pictures.`}</Words>
            <Words className="text-body">{sayYouMay(data.part)}</Words>
          </View>
          {me.account ? (
            <AsYou token={token} name={me.account.name} email={me.account.email} />
          ) : (
            <Newcomer token={token} invited={data} />
          )}
        </View>
      )}
    </Door>
  );
}

/** For somebody who is signed in already: one touch. */
function AsYou({ token, name, email }: { token: string; name: string; email: string }) {
  const router = useRouter();
  const [wrong, setWrong] = useState('');
  const go = () =>
    accept(token, null).then(
      () => router.replace('/arrivals'),
      (why: unknown) => setWrong(wordsOf(why)),
    );
  return (
    <View className="gap-4">
      <Words className="text-soft">{t`You’re signed in as ${name}, ${email}.`}</Words>
      <Wrong text={wrong} />
      <Button label={t`Come in`} onPress={() => void go()} />
      <Button label={t`That isn’t me`} weight="second" onPress={() => void signOut()} />
    </View>
  );
}

/** For somebody new: their name, address and a password. */
function Newcomer({ token, invited }: { token: string; invited: Invited }) {
  const router = useRouter();
  const [values, setValues] = useState({ name: invited.name, email: invited.email ?? '', password: '' });
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const set = (key: keyof typeof values) => (text: string) => setValues((v) => ({ ...v, [key]: text }));
  const ready = values.name.trim() && values.email.trim() && values.password.length >= 10;
  const go = async () => {
    if (busy || !ready) return;
    setBusy(true);
    setWrong('');
    try {
      await accept(token, { ...values, email: values.email.trim(), language: language() });
      router.replace('/arrivals');
    } catch (why) {
      setWrong(wordsOf(why));
      setBusy(false);
    }
  };
  return (
    <DoorForm onSend={() => void go()}>
      <Field label={t`Your name`} value={values.name} onChangeText={set('name')} autoComplete="name" maxLength={160} />
      <EmailField value={values.email} onChangeText={set('email')} />
      <NewPasswordField value={values.password} onChangeText={set('password')} onSubmitEditing={() => void go()} />
      <Wrong text={wrong} />
      <Button label={busy ? t`One moment …` : t`Come in`} onPress={() => void go()} disabled={busy || !ready} />
      <Button
        label={t`I have an account`}
        weight="second"
        onPress={() => {
          comeBackTo(`/invite/${token}`);
          router.push('/sign-in');
        }}
      />
    </DoorForm>
  );
}
