import { useState } from 'react';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Field, SpanFields } from '@/ui/Field';
import { count } from '@/ui/say';
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
    <Sheet title="An event of some days" onClose={onClose}>
      <Field label="Its name" placeholder="Summer at the lake" value={name} onChangeText={setName} maxLength={160} />
      <SpanFields from={from} to={to} onFrom={setFrom} onTo={setTo} />
      <Words kind="small" aria-live="polite">
        {!right
          ? 'Say its first and its last day.'
          : found === undefined
            ? 'One moment …'
            : `${count(found, 'picture')} taken in these days. Those that people filed elsewhere stay there.`}
      </Words>
      <Button
        label="Make the event"
        disabled={!right || !found}
        onPress={() => {
          onClose();
          if (right) void makeEvent(name.trim() || null, from, to, 'The event is made; the folders on disk follow.');
        }}
      />
    </Sheet>
  );
}
