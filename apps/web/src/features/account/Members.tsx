import type { Invite, Member } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { call, wordsOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { copyLink } from '@/state/copyLink';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Field } from '@/ui/Field';
import { Icon } from '@/ui/Icon';
import { Sheet } from '@/ui/Sheet';
import { sayDay, sayWhen } from '@/ui/say';
import { Words } from '@/ui/Words';
import { sayMay, sayPart } from '@/words/said';
import { Wrong } from './Door';
import { LeaveSheet } from './LeaveSheet';
import { useMe } from './session';

const PARTS = ['relative', 'helper', 'keeper'] as const;

/** Who belongs to the library and who is invited, for its keeper. */
export function Members() {
  const answer = useAnswer('members', {}).data;
  const own = useMe().data?.member?.id;
  const [open, setOpen] = useState<Member | Invite | 'invite' | null>(null);
  const close = () => setOpen(null);
  return (
    <View className="items-start gap-2">
      <Heading>{t`Who belongs`}</Heading>
      <View className="self-stretch">
        {answer?.members.map((one) => (
          <Line
            key={one.id}
            name={one.id === own ? t`${one.name} (you)` : one.name}
            about={`${sayPart(one.part)} · ${one.seen ? t`here ${sayWhen(one.seen)}` : t`not here yet`}`}
            onPress={() => setOpen(one)}
          />
        ))}
        {answer?.invites.map((one) => (
          <Line
            key={`invite ${one.id}`}
            name={one.name}
            about={
              one.state === 'over'
                ? t`Invited as ${sayPart(one.part)}; the invitation is over`
                : t`Invited as ${sayPart(one.part)} until ${sayDay(one.until.slice(0, 10))}`
            }
            onPress={() => setOpen(one)}
          />
        ))}
      </View>
      <Button label={t`Invite somebody`} icon="plus" onPress={() => setOpen('invite')} />
      {open === 'invite' ? <InviteSheet onClose={close} /> : null}
      {open && open !== 'invite' && 'until' in open ? <InvitedSheet invite={open} onClose={close} /> : null}
      {open && open !== 'invite' && 'since' in open ? (
        <MemberSheet member={open} own={open.id === own} onClose={close} />
      ) : null}
    </View>
  );
}

function Line({ name, about, onPress }: { name: string; about: string; onPress: () => void }) {
  return (
    <Pressable
      role="button"
      onPress={onPress}
      className="min-h-touch flex-row items-center gap-3 border-t border-line py-2 active:opacity-70"
    >
      <View className="min-w-0 flex-1">
        <Words kind="strong">{name}</Words>
        <Words kind="small">{about}</Words>
      </View>
      <Icon name="right" size={18} tone="soft" />
    </Pressable>
  );
}

/** The parts to choose from, with what the chosen one may do. */
function PartChoice({ part, onChoose }: { part: Member['part']; onChoose: (part: Member['part']) => void }) {
  return (
    <View>
      <View role="group" aria-label={t`Part`} className="flex-row flex-wrap gap-x-2">
        {PARTS.map((one) => (
          <Chip key={one} label={sayPart(one)} on={part === one} onPress={() => onChoose(one)} />
        ))}
      </View>
      <Words kind="small">{sayMay(part)}</Words>
    </View>
  );
}

/** A link that was just made: it is shown this once. */
function LinkMade({ path, text }: { path: string; text: string }) {
  const link = new URL(path, location.href).href;
  return (
    <View className="gap-3">
      <Words>{text}</Words>
      <Field label={t`The link`} value={link} readOnly selectTextOnFocus />
      <Button label={t`Copy the link`} icon="link" onPress={() => void copyLink(path)} />
    </View>
  );
}

function InviteSheet({ onClose }: { onClose: () => void }) {
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const [part, setPart] = useState<Member['part']>('relative');
  const [path, setPath] = useState<string | null>(null);
  const [sent, setSent] = useState(false);
  const [wrong, setWrong] = useState('');
  const make = async () => {
    setWrong('');
    try {
      const made = await call('invite', {
        body: { name: name.trim(), part, ...(email.trim() ? { email: email.trim() } : {}) },
      });
      setPath(made.path);
      setSent(made.sent);
      refresh('members');
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={path ? t`${name.trim()} is invited` : t`Invite somebody`} onClose={onClose}>
      {path ? (
        <LinkMade
          path={path}
          text={
            sent
              ? t`The link has gone to ${email.trim()}. It lets in whoever opens it first, once, within seven days.`
              : t`Send ${name.trim()} this link. It lets in whoever opens it first, once, within seven days.`
          }
        />
      ) : (
        <>
          <Field label={t`Their name`} value={name} onChangeText={setName} maxLength={160} />
          <Field
            label={t`E-mail address, if you know it`}
            value={email}
            onChangeText={setEmail}
            inputMode="email"
            autoCapitalize="none"
          />
          <PartChoice part={part} onChoose={setPart} />
          <Wrong text={wrong} />
          <Button label={t`Make the invitation`} disabled={!name.trim()} onPress={() => void make()} />
        </>
      )}
    </Sheet>
  );
}

function InvitedSheet({ invite, onClose }: { invite: Invite; onClose: () => void }) {
  const [path, setPath] = useState<string | null>(null);
  const renew = () =>
    call('renewInvite', { params: { id: invite.id } }).then(
      (made) => (setPath(made.path), refresh('members')),
      trouble,
    );
  const revoke = () =>
    call('revokeInvite', { params: { id: invite.id } }).then(() => {
      refresh('members');
      say(t`The invitation is taken back`);
      onClose();
    }, trouble);
  return (
    <Sheet title={t`${invite.name} is invited`} onClose={onClose}>
      {path ? (
        <LinkMade path={path} text={t`A new link, good for seven days. The one before no longer works.`} />
      ) : (
        <>
          <Words>{t`Nobody has come in by this invitation yet. Its link was shown when it was made.`}</Words>
          <Button label={t`Make a new link`} onPress={() => void renew()} />
          <Button label={t`Take the invitation back`} weight="second" onPress={() => void revoke()} />
        </>
      )}
    </Sheet>
  );
}

function MemberSheet({ member, own, onClose }: { member: Member; own: boolean; onClose: () => void }) {
  const [name, setName] = useState(member.name);
  const [part, setPart] = useState(member.part);
  const [path, setPath] = useState<string | null>(null);
  const [leaving, setLeaving] = useState(false);
  const [wrong, setWrong] = useState('');
  const { id } = member;
  const router = useRouter();
  const save = async () => {
    setWrong('');
    try {
      await call('changeMember', { params: { id }, body: { name: name.trim(), part } });
      refresh('members', 'me');
      say(t`Saved`);
      onClose();
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  const reset = () =>
    call('resetMember', { params: { id } }).then(
      (made) => setPath(made.path),
      (error: unknown) => setWrong(wordsOf(error)),
    );
  if (leaving)
    return (
      <LeaveSheet
        title={t`Let ${member.name} go?`}
        text={t`They no longer see anything of this library, at once. Pictures they added stay.`}
        label={t`Let them go`}
        stays={t`What they wrote stays`}
        goes={t`What they wrote goes`}
        onLeave={async (said) => {
          await call('removeMember', { params: { id }, body: { said } });
          refresh('members');
          say(t`${member.name} no longer belongs to this library`);
          onClose();
        }}
        onClose={onClose}
      />
    );
  return (
    <Sheet title={member.name} onClose={onClose}>
      {path ? (
        <LinkMade path={path} text={t`Send ${member.name} this link. It sets a new password, once, within a day.`} />
      ) : (
        <>
          <Words className="text-soft">{member.email}</Words>
          <Field label={t`Called here`} value={name} onChangeText={setName} maxLength={160} />
          <PartChoice part={part} onChoose={setPart} />
          <Wrong text={wrong} />
          <Button label={t`Save`} disabled={!name.trim()} onPress={() => void save()} />
          {member.part === 'relative' ? (
            <Button
              label={t`What they see`}
              weight="second"
              onPress={() => {
                onClose();
                router.push({ pathname: '/member/[id]', params: { id } });
              }}
            />
          ) : null}
          {own ? null : (
            <>
              <Button label={t`Forgot their password`} weight="second" onPress={() => void reset()} />
              <Button label={t`Let them go`} weight="second" onPress={() => setLeaving(true)} />
            </>
          )}
        </>
      )}
    </Sheet>
  );
}
