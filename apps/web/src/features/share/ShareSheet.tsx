import type { Share } from '@gemmel/contract';
import { sayDay } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { Rings } from '@/ui/Rings';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { SIZE } from '@/ui/tokens';

/** A day `days` from today, as the calendar here has it. */
export function dayFromNow(days: number, now = new Date()): string {
  return new Date(Date.UTC(now.getFullYear(), now.getMonth(), now.getDate() + days)).toISOString().slice(0, 10);
}

const SPANS: [string, number | null][] = [
  ['A week', 7],
  ['A month', 30],
  ['Three months', 91],
  ['Until I close it', null],
];

/** Copies a share's whole address. */
export async function copyLink(path: string): Promise<void> {
  const link = new URL(path, location.href).href;
  try {
    await navigator.clipboard.writeText(link);
    say('The link is copied.');
  } catch {
    say(`This browser keeps its clipboard to itself. The link: ${link}`);
  }
}

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
      <Sheet title="It is open" onClose={onClose}>
        <View className="items-start gap-3">
          <Rings size={54} />
          <Words>
            Anybody with this link can look and save, without an account.
            {tellPlaces
              ? ' Towns are shown, never of pictures from your hidden places; names and captions are not.'
              : ' Places, names and captions are not shown.'}
          </Words>
        </View>
        <Field label="The link" value={new URL(share.path, location.href).href} readOnly selectTextOnFocus />
        <Button label="Copy the link" icon="link" onPress={() => void copyLink(share.path!)} />
        <a
          href={share.path}
          target="_blank"
          rel="noreferrer"
          style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center', justifyContent: 'center' }}
        >
          <Words className="font-semi text-juniper">See it as a guest</Words>
        </a>
      </Sheet>
    );
  return (
    <Sheet title="Share by a link" onClose={onClose}>
      <Field label="What guests read above it" value={title} onChangeText={setTitle} maxLength={160} />
      <View>
        <Words kind="small">Open for</Words>
        <View className="flex-row flex-wrap gap-2">
          {SPANS.map(([name, days]) => {
            const day = days === null ? null : dayFromNow(days);
            return <Chip key={name} label={name} on={until === day} onPress={() => setUntil(day)} />;
          })}
        </View>
      </View>
      <DayField label="Until and with" value={until} min={dayFromNow(0)} onChange={setUntil} />
      <View>
        <Words kind="small">Do guests see in which town a picture was taken?</Words>
        <View className="flex-row flex-wrap gap-2">
          <Chip label="No places" on={!tellPlaces} onPress={() => setTellPlaces(false)} />
          <Chip label="Towns, hidden places aside" on={tellPlaces} onPress={() => setTellPlaces(true)} />
        </View>
      </View>
      <Words kind="small">{`Guests may look and save; nothing else. ${until ? `It closes by itself after ${sayDay(until)}.` : 'It stays open until you close it.'}`}</Words>
      <Button
        label={busy ? 'One moment …' : 'Open the share'}
        disabled={busy || !title.trim()}
        onPress={() => void open()}
      />
    </Sheet>
  );
}
