import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { call, wordsOf } from '@/api/client';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { language } from '@/words/speak';
import { Wrong } from './Door';
import { goInto } from './session';

/** Makes another library, and shows it in this tab. */
export function LibrarySheet({ onClose }: { onClose: () => void }) {
  const [name, setName] = useState('');
  const [wrong, setWrong] = useState('');
  const make = async () => {
    setWrong('');
    try {
      const { library } = await call('makeLibrary', { body: { name: name.trim(), language: language() } });
      goInto(library!.slug);
    } catch (error) {
      setWrong(wordsOf(error));
    }
  };
  return (
    <Sheet title={t`Another library`} onClose={onClose}>
      <Words>{t`It has its own pictures, people, albums and members. Nobody who belongs to this library sees anything of it, unless you invite them there.`}</Words>
      <Field label={t`Name of the library`} value={name} onChangeText={setName} maxLength={160} />
      <Wrong text={wrong} />
      <Button label={t`Make the library`} disabled={!name.trim()} onPress={() => void make()} />
    </Sheet>
  );
}
