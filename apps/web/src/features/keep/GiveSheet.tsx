import { plural, t } from '@lingui/core/macro';
import { Pressable, View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { say, trouble } from '@/state/toast';
import { sayBytes } from '@/ui/say';
import { Sheet } from '@/ui/Sheet';
import { Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

/** Pictures go to another library of one's own, with all that was said of them. */
export function GiveSheet({ ids, onClose }: { ids: readonly number[]; onClose: () => void }) {
  const here = useMe().data?.library?.slug;
  const { data } = useAnswer('libraries', {});
  const others = data?.libraries.filter((one) => one.part === 'keeper' && !one.removed && one.slug !== here) ?? [];
  const give = async (slug: string, name: string) => {
    onClose();
    try {
      await call('splitOff', { body: { ids: [...ids], to: slug } });
      refresh('keeping');
      say(
        plural(ids.length, {
          one: `# picture is going to “${name}”. It stays here until it’s there whole.`,
          other: `# pictures are going to “${name}”. They stay here until they’re there whole.`,
        }),
      );
    } catch (error) {
      trouble(error);
    }
  };
  return (
    <Sheet title={t`To another library`} onClose={onClose}>
      <Words>{t`They go with everything said about them: names, words, tags, dates, comments, albums. Here they’re in the bin afterwards.`}</Words>
      {!data ? (
        <Waiting />
      ) : others.length === 0 ? (
        <Words className="text-soft">{t`There is no other library you keep. Make one under Libraries first.`}</Words>
      ) : (
        <View>
          {others.map(({ slug, name, pictures, bytes }) => (
            <Pressable
              key={slug}
              role="button"
              onPress={() => void give(slug, name)}
              className="min-h-field justify-center border-t border-line py-2 active:opacity-70"
            >
              <Words>{name}</Words>
              <Words kind="small">
                {[plural(pictures, { one: '# picture', other: '# pictures' }), sayBytes(bytes)].join(' · ')}
              </Words>
            </Pressable>
          ))}
        </View>
      )}
    </Sheet>
  );
}
