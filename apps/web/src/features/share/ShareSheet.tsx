import type { Share, ShareOf } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh } from '@/api/query';
import { trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Rings } from '@/ui/Rings';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { sayList } from '@/ui/say';
import { Beyond } from './Beyond';
import { Fold } from './Fold';
import { Links, LookAsGuest } from './Links';
import { MailButton } from './MailButton';
import { NOBODY, PeopleFields, type Chosen } from './PeopleFields';
import { beginning, sayMay, sayTells, type ShareSettings } from './settings';
import { LinkFields, SettingsFields } from './SettingsFields';

/** Shares something: for whom, what guests may do and are told, how long; then the links to hand out. */
export function ShareSheet({ what, title, onClose }: { what: ShareOf; title: string; onClose: () => void }) {
  const [settings, setSettings] = useState<ShareSettings>(() => beginning(title));
  const [frozen, setFrozen] = useState(false);
  const [chosen, setChosen] = useState<Chosen>(NOBODY);
  const [share, setShare] = useState<Share | null>(null);
  const [busy, setBusy] = useState(false);
  const change = (part: Partial<ShareSettings>) => setSettings((old) => ({ ...old, ...part }));
  const open = async () => {
    setBusy(true);
    try {
      const { word, ...rest } = settings;
      const opened = await call('openShare', {
        body: {
          ...rest,
          title: settings.title.trim(),
          of: what,
          frozen,
          word: (settings.anybody && word?.trim()) || null,
          ...chosen,
        },
      });
      setShare(opened.share);
      refresh('shares', 'library');
    } catch (error) {
      trouble(error);
    }
    setBusy(false);
  };
  if (share)
    return (
      <Sheet title={t`Your share is open`} onClose={onClose}>
        <View className="items-start gap-3">
          <Rings size={54} />
          <Words>{t`Guests may ${sayMay(share.may)}. They’re told: ${sayTells(share.tells)}. You can see when it was opened, and change all of it later.`}</Words>
        </View>
        <Links share={share} />
        <MailButton share={share} />
        <LookAsGuest share={share} />
      </Sheet>
    );
  const named = chosen.members.length + chosen.people.length;
  const whom = [
    ...(settings.anybody
      ? [settings.word?.trim() ? t`anybody with the link and the word` : t`anybody with the link`]
      : []),
    ...(named ? [named === 1 ? t`one person by name` : t`${named} people by name`] : []),
  ];
  return (
    <Sheet title={t`Share`} onClose={onClose}>
      <Field
        label={t`Title for guests`}
        value={settings.title}
        onChangeText={(typed) => change({ title: typed })}
        maxLength={160}
      />
      {'ids' in what ? null : (
        <View>
          <View role="group" aria-label={t`Does it change?`} className="flex-row flex-wrap gap-x-2">
            <Chip label={t`It follows every change`} on={!frozen} onPress={() => setFrozen(false)} />
            <Chip label={t`As it is now`} on={frozen} onPress={() => setFrozen(true)} />
          </View>
          <Words kind="small">
            {frozen
              ? t`Guests see what’s in it now, whatever comes or goes.`
              : t`What comes into it later, guests see too.`}
          </Words>
        </View>
      )}
      <Beyond of={what} reach={settings.reach} onReach={(reach) => change({ reach })} />
      <View>
        <Fold title={t`For`} now={whom.length ? sayList(whom) : t`nobody yet`}>
          <LinkFields settings={settings} has={false} onChange={change} />
          <PeopleFields chosen={chosen} onChange={setChosen} />
        </Fold>
        <SettingsFields settings={settings} onChange={change} />
      </View>
      <Button
        label={busy ? t`One moment …` : t`Open the share`}
        disabled={busy || !settings.title.trim() || whom.length === 0}
        onPress={() => void open()}
      />
    </Sheet>
  );
}
