import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refresh } from '@/api/query';
import { useOutbox } from '@/device/outbox';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { sayPart } from '@/words/said';
import { Wrong } from './Door';
import { EmailField, NewPasswordField, PasswordField } from './Fields';
import { LeaveSheet } from './LeaveSheet';
import { enter, goInto, signOut, useMe } from './session';
import { Passkeys } from './Passkeys';
import { SecondStep } from './SecondStep';
import { SignedInPlaces } from './SignedInPlaces';

/** Who is signed in: name, address, password, where else; which library; the ways out. */
export function You() {
  const router = useRouter();
  const me = useMe().data;
  const [open, setOpen] = useState<'account' | 'password' | 'second' | 'passkeys' | 'places' | 'leave' | 'out' | null>(
    null,
  );
  const waiting = useOutbox((outbox) => outbox.acts.length);
  const out = () => void signOut().then(() => router.replace('/sign-in'), trouble);
  const close = () => setOpen(null);
  if (!me?.account || !me.member) return null;
  return (
    <View className="items-start gap-2">
      <Heading>{t`You`}</Heading>
      <Words>{`${me.member.name}, ${sayPart(me.member.part)}`}</Words>
      <Words className="text-soft">{me.account.email}</Words>
      {me.libraries.length > 1 ? (
        <View className="self-stretch">
          <Words kind="small">{t`The library in this tab`}</Words>
          <View role="group" aria-label={t`The library in this tab`} className="flex-row flex-wrap gap-x-2">
            {me.libraries.map(({ slug, name }) => (
              <Chip key={slug} label={name} on={slug === me.library?.slug} onPress={() => goInto(slug)} />
            ))}
          </View>
        </View>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        <Button label={t`Name and address`} weight="second" onPress={() => setOpen('account')} />
        <Button label={t`Password`} weight="second" onPress={() => setOpen('password')} />
        <Button
          label={me.account.second ? t`One-time codes: on` : t`One-time codes`}
          weight="second"
          onPress={() => setOpen('second')}
        />
        <Button label={t`Passkeys`} weight="second" onPress={() => setOpen('passkeys')} />
        <Button label={t`Where I’m signed in`} weight="second" onPress={() => setOpen('places')} />
        {me.member.part === 'keeper' ? (
          <Button label={t`Libraries`} weight="second" onPress={() => router.push('/libraries')} />
        ) : null}
        <Button label={t`Leave this library`} weight="second" onPress={() => setOpen('leave')} />
        <Button label={t`Sign out`} weight="second" onPress={() => (waiting ? setOpen('out') : out())} />
      </View>
      {open === 'account' ? <AccountSheet name={me.account.name} email={me.account.email} onClose={close} /> : null}
      {open === 'second' ? <SecondStep on={me.account.second} onClose={close} /> : null}
      {open === 'passkeys' ? <Passkeys onClose={close} /> : null}
      {open === 'password' ? <PasswordSheet onClose={close} /> : null}
      {open === 'places' ? <SignedInPlaces onClose={close} /> : null}
      {open === 'out' ? (
        <Sheet title={t`Sign out?`} onClose={close}>
          <Words>
            {plural(waiting, {
              one: '# change has not been sent yet. If you sign out now, it is lost.',
              other: '# changes have not been sent yet. If you sign out now, they are lost.',
            })}
          </Words>
          <Button label={t`Sign out anyway`} weight="brick" onPress={out} />
          <Button label={t`Stay`} weight="second" onPress={close} />
        </Sheet>
      ) : null}
      {open === 'leave' ? (
        <LeaveSheet
          title={t`Leave “${me.library!.name}”?`}
          text={t`You won’t see its pictures any longer, unless you’re invited again. Pictures you added stay.`}
          label={t`Leave`}
          stays={t`What I wrote stays`}
          goes={t`What I wrote goes`}
          onLeave={async (said) => {
            enter(await call('leave', { body: { said } }));
            router.replace('/arrivals');
          }}
          onClose={close}
        />
      ) : null}
    </View>
  );
}

function AccountSheet({ name: was, email: at, onClose }: { name: string; email: string; onClose: () => void }) {
  const [name, setName] = useState(was);
  const [email, setEmail] = useState(at);
  const [password, setPassword] = useState('');
  const [wrong, setWrong] = useState('');
  const moved = email.trim() !== at;
  const ready = name.trim() && email.trim() && (!moved || password);
  const save = async () => {
    setWrong('');
    try {
      await call('changeAccount', {
        body: { name: name.trim(), ...(moved ? { email: email.trim(), password } : {}) },
      });
      refresh('me', 'members');
      say(t`Saved`);
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={t`Name and address`} onClose={onClose}>
      <Field label={t`Your name`} value={name} onChangeText={setName} autoComplete="name" maxLength={160} />
      <EmailField value={email} onChangeText={setEmail} />
      {moved ? (
        <PasswordField label={t`Your password, for the new address`} value={password} onChangeText={setPassword} />
      ) : null}
      <Wrong text={wrong} />
      <Button label={t`Save`} disabled={!ready} onPress={() => void save()} />
    </Sheet>
  );
}

function PasswordSheet({ onClose }: { onClose: () => void }) {
  const [old, setOld] = useState('');
  const [password, setPassword] = useState('');
  const [wrong, setWrong] = useState('');
  const save = async () => {
    setWrong('');
    try {
      await call('changePassword', { body: { old, password } });
      say(t`Password changed. You’re signed out everywhere else.`);
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={t`A new password`} onClose={onClose}>
      <PasswordField label={t`The password you have`} value={old} onChangeText={setOld} />
      <NewPasswordField label={t`New password (at least ten characters)`} value={password} onChangeText={setPassword} />
      <Wrong text={wrong} />
      <Button label={t`Set the password`} disabled={!old || password.length < 10} onPress={() => void save()} />
    </Sheet>
  );
}
