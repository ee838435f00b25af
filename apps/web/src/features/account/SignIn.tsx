import { t } from '@lingui/core/macro';
import { Redirect, useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call, Told, wordsOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { language } from '@/words/speak';
import { Door, DoorForm, Wrong } from './Door';
import { EmailField, NewPasswordField, PasswordField } from './Fields';
import { canPasskey, passkeyWords } from './Passkeys';
import { afterDoor, makeLibrary, signIn, signInByPasskey, useMe } from './session';

/** The door: sign in, or, while nobody has, make the keeper's account. */
export function SignIn() {
  const me = useMe();
  const [there] = useState(afterDoor);
  if (me.data?.signedIn) return <Redirect href={there} />;
  return (
    <Door>
      {me.error ? (
        <Failed error={me.error} again={() => void me.refetch()} />
      ) : !me.data ? (
        <Waiting />
      ) : me.data.firstRun ? (
        <NewLibrary asksCode={me.data.setUpCode} />
      ) : (
        <SignInForm demo={me.data.demo} mail={me.data.mail} there={there} />
      )}
    </Door>
  );
}

function SignInForm({
  demo,
  mail,
  there,
}: {
  demo: { email: string; password: string } | null;
  /** Whether a forgotten password can be set anew by e-mail. */
  mail: boolean;
  there: ReturnType<typeof afterDoor>;
}) {
  const router = useRouter();
  const [email, setEmail] = useState(demo?.email ?? '');
  const [password, setPassword] = useState(demo?.password ?? '');
  const [code, setCode] = useState<string | null>(null);
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const go = async () => {
    setBusy(true);
    setWrong('');
    try {
      await signIn(email, password, code ?? undefined);
      router.replace(there);
    } catch (error) {
      if (error instanceof Told && error.saying?.code === 'code-needed') setCode('');
      else setWrong(wordsOf(error));
      setBusy(false);
    }
  };
  const goByPasskey = async () => {
    setWrong('');
    try {
      await signInByPasskey();
      router.replace(there);
    } catch (error) {
      setWrong(passkeyWords(error));
    }
  };
  return (
    <DoorForm onSend={() => void go()}>
      <Words className="text-soft">{t`The household’s pictures, kept whole and in order.`}</Words>
      {demo ? (
        <View className="rounded-card bg-honey px-4 py-3">
          <Words className="text-body">{t`This is the demo with a made-up household. Its keeper’s address and password are already filled in.`}</Words>
        </View>
      ) : null}
      <EmailField value={email} onChangeText={setEmail} />
      <PasswordField value={password} onChangeText={setPassword} onSubmitEditing={() => void go()} />
      {code === null ? null : (
        <Field
          label={t`The code from your phone`}
          value={code}
          onChangeText={setCode}
          inputMode="numeric"
          autoComplete="one-time-code"
          autoFocus
          maxLength={20}
          onSubmitEditing={() => void go()}
        />
      )}
      <Wrong text={wrong} />
      <Button
        label={busy ? t`One moment …` : t`Sign in`}
        onPress={() => void go()}
        disabled={busy || !email || !password}
      />
      {canPasskey() ? (
        <Button label={t`Sign in with a passkey`} weight="second" disabled={busy} onPress={() => void goByPasskey()} />
      ) : null}
      {mail ? <Forgotten email={email} /> : null}
      {demo || mail ? null : (
        <Words kind="small">{t`Forgotten your password? Whoever keeps your library can send you a link for a new one.`}</Words>
      )}
    </DoorForm>
  );
}

/** Asks for a link for a new password by e-mail; says the same whether somebody has the address or not. */
function Forgotten({ email }: { email: string }) {
  const [done, setDone] = useState(false);
  const [wrong, setWrong] = useState('');
  const ask = () =>
    call('forgotPassword', { body: { email } }).then(
      () => setDone(true),
      (error: unknown) => setWrong(wordsOf(error)),
    );
  if (done)
    return (
      <Words
        kind="small"
        role="status"
      >{t`If somebody here has this address, a link for a new password is on its way to it.`}</Words>
    );
  return (
    <View className="items-start">
      <Button
        label={t`Forgotten your password?`}
        weight="quiet"
        className="min-h-touch px-0"
        disabled={!email.includes('@')}
        onPress={() => void ask()}
      />
      {email.includes('@') ? null : <Words kind="small">{t`Write your address first.`}</Words>}
      <Wrong text={wrong} />
    </View>
  );
}

/** `asksCode`: over the network, only whoever started Gemmel may begin its library. */
function NewLibrary({ asksCode }: { asksCode: boolean }) {
  const router = useRouter();
  const [values, setValues] = useState({ library: t`Home library`, name: '', email: '', password: '' });
  const [code, setCode] = useState('');
  const [wrong, setWrong] = useState('');
  const set = (key: keyof typeof values) => (text: string) => setValues((v) => ({ ...v, [key]: text }));
  const ready = values.library && values.name && values.email && values.password.length >= 10 && (!asksCode || code);
  const go = async () => {
    setWrong('');
    try {
      await makeLibrary({ ...values, language: language(), ...(asksCode ? { code } : {}) });
      router.replace('/arrivals');
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <View className="gap-4">
      <Words kind="heading">{t`Who keeps the pictures?`}</Words>
      <Words className="text-soft">{t`This library is empty and doesn’t have a keeper yet. The keeper runs everything; others can be invited later.`}</Words>
      <Field label={t`Name of the library`} value={values.library} onChangeText={set('library')} />
      <Field label={t`Your name`} value={values.name} onChangeText={set('name')} autoComplete="name" />
      <EmailField value={values.email} onChangeText={set('email')} />
      <NewPasswordField
        value={values.password}
        onChangeText={set('password')}
        onSubmitEditing={() => ready && void go()}
      />
      {asksCode ? (
        <View className="gap-1.5">
          <Field label={t`Set-up code`} value={code} onChangeText={setCode} inputMode="numeric" autoComplete="off" />
          <Words kind="small">{t`Eight digits, printed on the machine where Gemmel was started. They prove that this library is yours.`}</Words>
        </View>
      ) : null}
      <Wrong text={wrong} />
      <Button label={t`Start the library`} onPress={() => void go()} disabled={!ready} />
    </View>
  );
}
