import type { AudienceOf } from '@gemmel/contract';
import { t } from '@lingui/core/macro';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Words } from '@/ui/Words';
import { sayOf } from './acts';
import { AudienceChips } from './AudienceChips';

/** For whom the pictures are that belong to something; `text` says which pictures those are. */
export function ForWhomOf({
  of,
  id,
  name,
  text,
}: {
  of: Exclude<AudienceOf, 'pictures' | 'library'>;
  id: number;
  name: string;
  text: string;
}) {
  const { data } = useAnswer('audiences', {});
  const said = data && (data.said.find((one) => one.of === of && one.id === id)?.audience ?? null);
  return (
    <View className="gap-0.5 border-t border-line pt-3">
      <Words kind="strong">{t`Who it’s for`}</Words>
      <Words kind="small">{text}</Words>
      <AudienceChips none={t`Not set`} value={said} onChoose={(audience) => void sayOf(of, id, name, audience)} />
    </View>
  );
}
