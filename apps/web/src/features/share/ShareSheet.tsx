import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import type { Share } from '@gemmel/contract';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { copyLink } from '@/state/copyLink';
import { trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { Rings } from '@/ui/Rings';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { SIZE } from '@/ui/tokens';
import { sayDay } from '@/ui/say';

/** A day `days` from today, as the calendar here has it. */
export function dayFromNow(days: number, now = new Date()): string {
  return new Date(Date.UTC(now.getFullYear(), now.getMonth(), now.getDate() + days)).toISOString().slice(0, 10);
}

const SPANS: [MessageDescriptor, number | null][] = [
  [msg`A week`, 7],
  [msg`A month`, 30],
  [msg`Three months`, 91],
  [msg`Until I close it`, null],
];

/** Shares an album or some pictures by a link, look only, until a day. */
export function ShareSheet({
  what,
  title: suggested,
  onClose,
}: {
  what: { album: number } | { ids: readonly number[] };
  title: string;
  onClose: () => void;
}) {
  const [title, setTitle] = useState(suggested);
  const [until, setUntil] = useState<string | null>(dayFromNow(30));
  const [share, setShare] = useState<Share | null>(null);
  const [tellPlaces, setTellPlaces] = useState(false);
  const [busy, setBusy] = useState(false);
  const open = async () => {
    setBusy(true);
    try {
      const opened = await call('openShare', {
        body: {
          title: title.trim(),
          until,
          tellPlaces,
          ...('album' in what ? { album: what.album } : { ids: [...what.ids] }),
        },
      });
      setShare(opened.share);
      refresh('shares', 'library');
    } catch (error) {
      trouble(error);
    }
    setBusy(false);
  };
  if (share?.path)
    return (
      <Sheet title={t`Your share is open`} onClose={onClose}>
        <View className="items-start gap-3">
          <Rings size={54} />
          <Words>{`${t`Anyone with this link can look and save, without an account.`} ${
            tellPlaces
              ? t`They see towns, except for your hidden places, but no names or captions.`
              : t`They don’t see places, names or captions.`
          }`}</Words>
        </View>
        <Field label={t`The link`} value={new URL(share.path, location.href).href} readOnly selectTextOnFocus />
        <Button label={t`Copy the link`} icon="link" onPress={() => void copyLink(share.path!)} />
        <a
          href={share.path}
          target="_blank"
          rel="noreferrer"
          style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center', justifyContent: 'center' }}
        >
          <Words className="font-semi text-juniper">{t`See it as a guest`}</Words>
        </a>
      </Sheet>
    );
  return (
    <Sheet title={t`Share by link`} onClose={onClose}>
      <Field label={t`Title for guests`} value={title} onChangeText={setTitle} maxLength={160} />
      <View>
        <Words kind="small">{t`Open for`}</Words>
        <View className="flex-row flex-wrap gap-2">
          {SPANS.map(([name, days]) => {
            const day = days === null ? null : dayFromNow(days);
            return <Chip key={days} label={i18n._(name)} on={until === day} onPress={() => setUntil(day)} />;
          })}
        </View>
      </View>
      <DayField label={t`Last day`} value={until} min={dayFromNow(0)} onChange={setUntil} />
      <View>
        <Words kind="small">{t`May guests see the town a picture was taken in?`}</Words>
        <View className="flex-row flex-wrap gap-2">
          <Chip label={t`No places`} on={!tellPlaces} onPress={() => setTellPlaces(false)} />
          <Chip label={t`Towns, except hidden places`} on={tellPlaces} onPress={() => setTellPlaces(true)} />
        </View>
      </View>
      <Words kind="small">{`${t`Guests can look and save, nothing else.`} ${until ? t`It closes by itself after ${sayDay(until)}.` : t`It stays open until you close it.`}`}</Words>
      <Button
        label={busy ? t`One moment …` : t`Open the share`}
        disabled={busy || !title.trim()}
        onPress={() => void open()}
      />
    </Sheet>
  );
}
