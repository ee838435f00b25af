import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { Button } from '@/ui/Button';
import { Field } from '@/ui/Field';

/** Words to look for. */
export function TextValue({ before, onTake }: { before: string; onTake: (text: string) => void }) {
  const [text, setText] = useState(before);
  return (
    <>
      <Field
        label={t`Words`}
        value={text}
        onChangeText={setText}
        maxLength={200}
        onSubmitEditing={() => text.trim() && onTake(text.trim())}
      />
      <Button label={t`Add`} disabled={!text.trim()} onPress={() => onTake(text.trim())} />
    </>
  );
}
