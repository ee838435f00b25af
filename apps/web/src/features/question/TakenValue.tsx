import { t } from '@lingui/core/macro';
import type { Span } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Chip } from '@/ui/Button';
import { DayField, Field } from '@/ui/Field';
import { Words } from '@/ui/Words';
import { capital, sayMonthName } from '@/ui/say';

/** When it was taken: between days, always the last days, or a month of any year. */
export function TakenValue({ before, onTake }: { before: Span | null; onTake: (span: Span) => void }) {
  const fixed = before && ('from' in before || 'to' in before) ? before : null;
  const [from, setFrom] = useState<string | null>(fixed?.from ?? null);
  const [to, setTo] = useState<string | null>(fixed?.to ?? null);
  const [days, setDays] = useState('7');
  const n = Number(days);
  const wrong = from && to && from > to;
  return (
    <>
      <DayField label={t`First day`} value={from} onChange={setFrom} />
      <DayField label={t`Last day`} value={to} onChange={setTo} />
      {wrong ? <Words className="text-brick">{t`The last day can’t be before the first.`}</Words> : null}
      <Button
        label={t`Between these days`}
        disabled={(!from && !to) || Boolean(wrong)}
        onPress={() => onTake({ ...(from ? { from } : {}), ...(to ? { to } : {}) })}
      />
      <View className="flex-row items-end gap-3 border-t border-line pt-3">
        <View className="w-28">
          <Field
            label={t`The last … days`}
            inputMode="numeric"
            value={days}
            onChangeText={(text) => setDays(text.replace(/\D/g, ''))}
          />
        </View>
        <Button
          className="flex-1"
          weight="second"
          label={t`Always the last days`}
          disabled={!(n >= 1 && n <= 36_600)}
          onPress={() => onTake({ lastDays: n })}
        />
      </View>
      <View className="flex-row flex-wrap gap-2 border-t border-line pt-3">
        <Words kind="small" className="w-full">{t`Or a month in any year`}</Words>
        {Array.from({ length: 12 }, (_, i) => (
          <Chip key={i} tone="plum" label={capital(sayMonthName(i + 1))} onPress={() => onTake({ month: i + 1 })} />
        ))}
      </View>
    </>
  );
}
