import type { Share } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { useMe } from '@/features/account/session';
import { copyLink } from '@/state/copyLink';
import { Button, IconButton } from '@/ui/Button';
import { QrCode } from '@/ui/QrCode';
import { Words } from '@/ui/Words';
import { ReachLine } from './Reach';

/** A whole link: with the address guests are given, or that of the page. */
export const useWhole = () => {
  const address = useMe().data?.address ?? null;
  return (path: string) => new URL(path, address ?? location.href).href;
};
const canSend = () => typeof navigator.share === 'function';

/** A link to hand out: copied, sent by what this device has for it, or shown as a code to photograph. */
export function LinkLine({ name, about, path, title }: { name: string; about?: string; path: string; title: string }) {
  const [code, setCode] = useState(false);
  const whole = useWhole();
  const send = () =>
    navigator.share({ title, url: whole(path) }).catch(() => {
      // Put away without choosing anything.
    });
  return (
    <View className="border-t border-line py-1.5">
      <View className="flex-row items-center">
        <View className="min-w-0 flex-1">
          <Words kind="strong" numberOfLines={1}>
            {name}
          </Words>
          {about ? <Words kind="small">{about}</Words> : null}
        </View>
        <IconButton name="link" label={t`Copy the link for ${name}`} onPress={() => void copyLink(whole(path))} />
        {canSend() ? <IconButton name="send" label={t`Send the link for ${name}`} onPress={() => void send()} /> : null}
        <IconButton
          name="browse"
          label={t`Show the link for ${name} as a code`}
          pressed={code}
          onPress={() => setCode(!code)}
        />
      </View>
      {code ? <QrCode text={whole(path)} label={t`The link as a code`} /> : null}
    </View>
  );
}

/** All links of a share: the one for anybody, and those of named people. */
export function Links({ share }: { share: Share }) {
  return (
    <View>
      <ReachLine />
      {share.path ? (
        <LinkLine
          name={t`Anybody with the link`}
          {...(share.word ? { about: t`and the word` } : {})}
          path={share.path}
          title={share.title}
        />
      ) : null}
      {share.guests.map((guest) =>
        guest.path ? (
          <LinkLine
            key={guest.id}
            name={guest.name}
            about={guest.member ? t`Finds it in the parlour, too` : (guest.email ?? t`A link of their own`)}
            path={guest.path}
            title={share.title}
          />
        ) : null,
      )}
    </View>
  );
}

/** The best link to look at it as a guest does. */
export const ownLook = (share: Share): string | null =>
  share.path ?? share.guests.find((guest) => guest.path)?.path ?? null;

/** A quiet way to look at a share as its guests do. */
export function LookAsGuest({ share }: { share: Share }) {
  const path = ownLook(share);
  if (!path) return null;
  return (
    <Button label={t`See it as a guest`} weight="quiet" onPress={() => window.open(path, '_blank', 'noreferrer')} />
  );
}
