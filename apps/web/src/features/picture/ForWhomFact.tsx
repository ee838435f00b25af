import { t } from '@lingui/core/macro';
import { useState } from 'react';
import { Pressable } from 'react-native';
import { useAnswer } from '@/api/query';
import { AudienceSheet } from '@/features/sight/AudienceSheet';
import { sayMeant, sayWhy } from '@/features/sight/audienceWords';
import { Words } from '@/ui/Words';
import { Fact } from '@/ui/Fact';

/** For whom a picture is, and why; pressed, it can be said otherwise. */
export function ForWhomFact({ id }: { id: number }) {
  const { data } = useAnswer('meant', { body: { ids: [id] } });
  const [open, setOpen] = useState(false);
  if (!data?.why) return null;
  return (
    <Fact title={t`Who it’s for`}>
      <Pressable role="button" onPress={() => setOpen(true)} className="min-h-touch justify-center active:opacity-70">
        <Words className="text-small text-ink">{sayMeant(data)}</Words>
        <Words kind="small">{sayWhy(data.why)}</Words>
      </Pressable>
      {open ? <AudienceSheet ids={[id]} onClose={() => setOpen(false)} /> : null}
    </Fact>
  );
}
