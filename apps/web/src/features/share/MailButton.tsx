import type { Share } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { useAnswer } from '@/api/query';
import { MailShareSheet } from '@/features/mail/MailShareSheet';
import { Button } from '@/ui/Button';

/** Sends a share's links by e-mail, where that can be done and somebody has an address. */
export function MailButton({ share }: { share: Share }) {
  const ready = useAnswer('mail', {}).data?.ready;
  const [open, setOpen] = useState(false);
  if (!ready || !share.guests.some((guest) => guest.path && (guest.email ?? guest.member))) return null;
  return (
    <>
      <Button label={t`Send by e-mail`} icon="send" weight="second" onPress={() => setOpen(true)} />
      {open ? <MailShareSheet share={share} onClose={() => setOpen(false)} /> : null}
    </>
  );
}
