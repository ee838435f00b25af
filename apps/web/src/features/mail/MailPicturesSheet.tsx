import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { say, trouble } from '@/state/toast';
import { Button, Chip } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayBytes } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { language } from '@/words/speak';

/** Sends pictures themselves by e-mail, in as many letters as they need. */
export function MailPicturesSheet({ ids, onClose }: { ids: readonly number[]; onClose: () => void }) {
  const [to, setTo] = useState('');
  const [text, setText] = useState('');
  const [size, setSize] = useState<'screen' | 'full'>('screen');
  const [busy, setBusy] = useState(false);
  const { data, error } = useAnswer('weighMail', { body: { ids: [...ids], size } });
  const send = async () => {
    setBusy(true);
    try {
      const { letters } = await call('mailPictures', {
        body: { ids: [...ids], size, to: to.trim(), text, language: language() },
      });
      say(plural(letters, { one: 'One e-mail sent', other: '# e-mails sent' }));
      onClose();
    } catch (wrong) {
      trouble(wrong);
    }
    setBusy(false);
  };
  return (
    <Sheet title={t`Send by e-mail`} onClose={onClose}>
      <Field label={t`To`} value={to} onChangeText={setTo} inputMode="email" autoCapitalize="none" maxLength={200} />
      <Field label={t`A few words, if you like`} value={text} onChangeText={setText} multiline maxLength={4000} />
      <View className="flex-row flex-wrap gap-x-2">
        <Chip label={t`As large as a screen`} on={size === 'screen'} onPress={() => setSize('screen')} />
        <Chip label={t`Full size`} on={size === 'full'} onPress={() => setSize('full')} />
      </View>
      <Words kind="small" aria-live="polite">
        {error
          ? t`They can’t be weighed just now.`
          : !data
            ? t`Weighing …`
            : `${sayBytes(data.bytes)} · ${plural(data.letters, { 0: 'no e-mail', one: 'one e-mail', other: '# e-mails' })}`}
        {data?.tooLarge
          ? ` · ${plural(data.tooLarge, {
              one: '# is too large for any e-mail and stays out',
              other: '# are too large for any e-mail and stay out',
            })}`
          : ''}
      </Words>
      <Words kind="small">{t`Places, names and everything else written in the files are taken out. Large ones go better by a share.`}</Words>
      <Button
        label={busy ? t`Sending …` : t`Send`}
        icon="send"
        disabled={busy || !to.includes('@') || !data?.letters}
        onPress={() => void send()}
      />
    </Sheet>
  );
}
