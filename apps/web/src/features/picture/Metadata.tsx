import { plural, t } from '@lingui/core/macro';
import { fold } from '@gemmel/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Field } from '@/ui/Field';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

/** Everything the original file says of itself, in its groups, to be searched. Names are those of the standards, as the file has them. */
export function Metadata({ picture, onClose }: { picture: number; onClose: () => void }) {
  const { data, error, refetch } = useAnswer('metadata', { params: { id: picture } });
  const [typed, setTyped] = useState('');
  const asked = fold(typed);
  const groups = (data?.groups ?? [])
    .map((group) => ({
      ...group,
      lines: asked ? group.lines.filter((line) => fold(`${line.name} ${line.value}`).includes(asked)) : group.lines,
    }))
    .filter((group) => group.lines.length > 0);
  const n = groups.reduce((sum, group) => sum + group.lines.length, 0);
  return (
    <Sheet title={t`Everything the file says`} onClose={onClose}>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data ? (
        <>
          <Field label={t`Find`} value={typed} onChangeText={setTyped} maxLength={80} />
          <Words kind="small" aria-live="polite">
            {plural(n, { one: '# entry', other: '# entries' })}
          </Words>
          {groups.map((group) => (
            <View key={group.name} className="gap-1">
              <Words kind="strong" role="heading" aria-level={3}>
                {group.name}
              </Words>
              {group.lines.map((line) => (
                <View key={line.name} className="border-t border-line py-1">
                  <Words kind="small">{line.name}</Words>
                  <Words className="text-small" style={{ wordBreak: 'break-word' } as object}>
                    {line.value}
                  </Words>
                </View>
              ))}
            </View>
          ))}
        </>
      ) : null}
    </Sheet>
  );
}
