import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { wordsOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Empty, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { Door, DoorForm, Wrong } from './Door';
import { NewPasswordField } from './Fields';
import { setByLink } from './session';

/** Sets a new password by a link that was sent. */
export function NewPassword({ token }: { token: string }) {
  const router = useRouter();
  const { data, error } = useAnswer('resetOf', { params: { token } });
  const [password, setPassword] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const go = async () => {
    if (busy || password.length < 10) return;
    setBusy(true);
    setWrong('');
    try {
      const me = await setByLink(token, password);
      // Who is asked for a code comes in by the door.
      router.replace(me.signedIn ? '/arrivals' : '/sign-in');
    } catch (why) {
      setWrong(wordsOf(why));
      setBusy(false);
    }
  };
  return (
    <Door title={t`A new password`}>
      {error ? (
        <Empty title={wordsOf(error)} text={t`Nothing has been changed.`}>
          <Button label={t`Sign in`} onPress={() => router.replace('/sign-in')} />
        </Empty>
      ) : !data ? (
        <Waiting />
      ) : (
        <DoorForm onSend={() => void go()}>
          <Words className="text-soft">{t`For ${data.name}, ${data.email}. You’ll be signed out wherever you’re still signed in.`}</Words>
          <NewPasswordField
            label={t`New password (at least ten characters)`}
            value={password}
            onChangeText={setPassword}
            onSubmitEditing={() => void go()}
          />
          <Wrong text={wrong} />
          <Button
            label={busy ? t`One moment …` : t`Set the password`}
            onPress={() => void go()}
            disabled={busy || password.length < 10}
          />
        </DoorForm>
      )}
    </Door>
  );
}
