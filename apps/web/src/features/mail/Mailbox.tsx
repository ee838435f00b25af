import type { Answer, Api } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { sayBytes, sayWhen } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { CORNER } from '@/ui/tokens';
import { Words } from '@/ui/Words';

type Letter = Answer<Api['mailbox']>['letters'][number];

/** Whether e-mail can go out, and the mailbox that stands in for the outside world. */
export function MailSection() {
  const router = useRouter();
  const { data } = useAnswer('mail', {});
  if (!data) return null;
  return (
    <View className="items-start gap-2">
      <Heading>{t`E-mail`}</Heading>
      <Words className="text-soft">
        {data.standIn
          ? t`Nothing really goes out: a made-up mailbox catches every e-mail, and you can read it.`
          : data.ready
            ? t`E-mail goes out from ${data.from ?? ''}.`
            : t`No e-mail goes out. Whoever runs the machine sets it up in settings.json.`}
      </Words>
      {data.standIn ? (
        <Button label={t`Open the made-up mailbox`} weight="second" onPress={() => router.push('/mailbox')} />
      ) : null}
    </View>
  );
}

/** What the stand-in mailbox has caught. */
export function Mailbox() {
  const { data, error, refetch } = useAnswer('mailbox', {});
  const [open, setOpen] = useState<Letter | null>(null);
  return (
    <Page title={t`A made-up mailbox`} narrow>
      <View className="mb-4 items-start gap-2">
        <Words className="text-soft">{t`It stands in for everybody’s real mailbox. Nothing leaves this machine.`}</Words>
        <Button label={t`Look again`} weight="second" onPress={() => void refetch()} />
      </View>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.letters.length === 0 ? (
        <Empty title={t`No letters yet`} text={t`Send a share by e-mail, or invite somebody with an address.`} />
      ) : null}
      {data?.letters.map((letter) => (
        <Pressable
          key={letter.id}
          role="button"
          onPress={() => setOpen(letter)}
          className="min-h-field border-t border-line py-2 active:opacity-70"
        >
          <Words kind="strong">{letter.subject}</Words>
          <Words kind="small">{`${letter.to} · ${sayWhen(letter.at)}`}</Words>
        </Pressable>
      ))}
      {open ? (
        <Sheet title={open.subject} onClose={() => setOpen(null)}>
          <Words kind="small">{open.to}</Words>
          {open.html ? (
            <iframe
              title={open.subject}
              sandbox="allow-popups"
              srcDoc={open.html}
              style={{
                width: '100%',
                height: 460,
                border: '1px solid rgb(var(--line))',
                borderRadius: CORNER.small,
                background: '#F6F1E7',
              }}
            />
          ) : (
            <Words>{open.text}</Words>
          )}
          {open.attachments.map((one) => (
            <Words key={one.name} kind="small">{`${one.name}, ${sayBytes(one.bytes)}`}</Words>
          ))}
        </Sheet>
      ) : null}
    </Page>
  );
}
