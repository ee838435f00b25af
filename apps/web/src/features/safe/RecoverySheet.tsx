import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { send, wordsOf } from '@/api/client';
import { Wrong } from '@/features/account/Door';
import { PasswordField } from '@/features/account/Fields';
import { Button } from '@/ui/Button';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { language } from '@/words/speak';

/** The recovery sheet, for the keeper's own password: whoever holds it can read everything. */
export function RecoverySheet({ onClose }: { onClose: () => void }) {
  const [password, setPassword] = useState('');
  const [wrong, setWrong] = useState('');
  const [file, setFile] = useState<string | null>(null);
  const make = async () => {
    setWrong('');
    try {
      const response = await send('/api/safekeeping/sheet', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ password, language: language() }),
      });
      setFile(URL.createObjectURL(await response.blob()));
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={t`Recovery sheet`} onClose={onClose}>
      <Words>{t`It holds the pass phrases of your places. Print it, put it where you keep what matters, and delete the file.`}</Words>
      {file ? (
        <Button
          label={t`Save it`}
          icon="download"
          onPress={() => {
            const link = document.createElement('a');
            link.href = file;
            link.download = `${t`Recovery sheet`}.pdf`;
            link.click();
            onClose();
          }}
        />
      ) : (
        <>
          <PasswordField value={password} onChangeText={setPassword} onSubmitEditing={() => password && void make()} />
          <Wrong text={wrong} />
          <Button label={t`Make it`} disabled={!password} onPress={() => void make()} />
        </>
      )}
    </Sheet>
  );
}
