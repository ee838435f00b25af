import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { sayBytes } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { removeForGood } from './acts';

/** What is to go for good, and what that frees. */
export interface Going {
  what: { ids: number[] } | { all: true };
  pictures: number;
  bytes: number;
}

/** Asks for the library's name or a password before anything goes for good, and says what it frees. */
export function ForGood({ what, pictures, bytes, onClose }: Going & { onClose: (done: boolean) => void }) {
  const name = useAnswer('library', {}).data?.name ?? '';
  const [word, setWord] = useState('');
  const remove = async () => {
    if (await removeForGood(what, word)) onClose(true);
  };
  return (
    <Sheet
      title={plural(pictures, { one: 'Remove # picture for good?', other: 'Remove # pictures for good?' })}
      onClose={() => onClose(false)}
    >
      <Words>
        {plural(pictures, {
          one: `Its original is deleted from the disk, and nobody can bring it back. That frees ${sayBytes(bytes)}.`,
          other: `Their originals are deleted from the disk, and nobody can bring them back. That frees ${sayBytes(bytes)}.`,
        })}
      </Words>
      <Field
        label={t`Type “${name}” or your password to confirm`}
        value={word}
        onChangeText={setWord}
        // A password is hidden, the name of the library is not.
        secureTextEntry={!name.toLowerCase().startsWith(word.trim().toLowerCase())}
        autoComplete="off"
        maxLength={200}
        onSubmitEditing={() => word.trim() && void remove()}
      />
      <Button weight="brick" label={t`Remove for good`} disabled={!word.trim()} onPress={() => void remove()} />
    </Sheet>
  );
}
