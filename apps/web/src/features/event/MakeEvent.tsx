import { plural, t } from '@lingui/core/macro';
import { useState } from 'react';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Field, SpanFields } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Words } from '@/ui/Words';
import { makeEvent } from './acts';

/** Makes an event by hand of all that was taken in some days. */
export function MakeEvent({ from: first, onClose }: { from: string | null; onClose: () => void }) {
  const [name, setName] = useState('');
  const [from, setFrom] = useState<string | null>(first);
  const [to, setTo] = useState<string | null>(first);
  const right = from !== null && to !== null && from <= to;
  const found = useAnswer(
    'count',
    { body: { question: right ? { taken: { from, to } } : { any: [] } } },
    { enabled: right },
  ).data?.count;
  return (
    <Sheet title={t`A new event`} onClose={onClose}>
      <Field label={t`Name`} placeholder={t`Summer at the lake`} value={name} onChangeText={setName} maxLength={160} />
      <SpanFields from={from} to={to} onFrom={setFrom} onTo={setTo} />
      <Words kind="small" aria-live="polite">
        {!right
          ? t`Choose its first and last day.`
          : found === undefined
            ? t`One moment …`
            : plural(found, {
                one: '# picture was taken on these days. Pictures filed elsewhere by hand stay there.',
                other: '# pictures were taken on these days. Those filed elsewhere by hand stay there.',
              })}
      </Words>
      <Button
        label={t`Make the event`}
        disabled={!right || !found}
        onPress={() => {
          onClose();
          if (right) void makeEvent(name.trim() || null, from, to, [t`Event made`, t`The folders on disk follow.`]);
        }}
      />
    </Sheet>
  );
}
