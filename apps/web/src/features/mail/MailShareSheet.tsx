import type { Share } from '@gemmel/contract';
import type { Language } from '@gemmel/core';
import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { LanguageChips } from '@/features/account/LanguageChips';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayList } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { language } from '@/words/speak';

/** Sends named people their links to a share by e-mail, with the first pictures inside. */
export function MailShareSheet({ share, onClose }: { share: Share; onClose: () => void }) {
  const able = share.guests.filter((guest) => guest.path && (guest.email ?? guest.member));
  const [chosen, setChosen] = useState<number[]>(able.map(({ id }) => id));
  const [text, setText] = useState('');
  const [spoken, setSpoken] = useState<Language>(language());
  const [busy, setBusy] = useState(false);
  const send = async () => {
    setBusy(true);
    try {
      const { sent, failed } = await call('mailShare', {
        params: { id: share.id },
        body: { guests: chosen, text, language: spoken },
      });
      const names = (ids: readonly number[]) =>
        sayList(share.guests.filter(({ id }) => ids.includes(id)).map((g) => g.name));
      say(
        failed.length
          ? t`Not sent to ${names(failed)}. Everybody else has it.`
          : plural(sent.length, { one: 'One e-mail sent', other: '# e-mails sent' }),
      );
      onClose();
    } catch (error) {
      trouble(error);
    }
    setBusy(false);
  };
  return (
    <Sheet title={t`Send by e-mail`} onClose={onClose}>
      <View className="flex-row flex-wrap gap-x-2">
        {able.map(({ id, name }) => (
          <Chip
            key={id}
            label={name}
            on={chosen.includes(id)}
            onPress={() => setChosen(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id])}
          />
        ))}
      </View>
      <Field label={t`A few words, if you like`} value={text} onChangeText={setText} multiline maxLength={4000} />
      <View>
        <Words kind="small">{t`The letter itself is in`}</Words>
        <LanguageChips chosen={spoken} onChoose={setSpoken} label={t`Language of the letter`} />
      </View>
      <Words kind="small">{t`Everybody gets a letter of their own with their own link and the first pictures.`}</Words>
      <Button
        label={busy ? t`Sending …` : t`Send`}
        icon="send"
        disabled={busy || chosen.length === 0}
        onPress={() => void send()}
      />
    </Sheet>
  );
}
