import type { AudienceOf } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { View } from 'react-native';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { IconButton } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Words } from '@/ui/Words';
import { sayOf, sayOfLibrary } from './acts';
import { AudienceChips } from './AudienceChips';
import { sayAudience } from './audienceWords';

const OF: Record<Exclude<AudienceOf, 'pictures' | 'library'>, MessageDescriptor> = {
  person: msg`with them`,
  circle: msg`with anybody of the circle`,
  album: msg`in the album`,
  device: msg`from the device`,
  place: msg`taken there`,
};
const USUAL = ['house', 'family', 'link'] as const;

/** For whom pictures are of which nothing else is said, and everything that is said of people, albums, devices and places. */
export function ForWhom() {
  const { data } = useAnswer('audiences', {});
  const keeper = useMe().data?.member?.part === 'keeper';
  if (!data) return null;
  return (
    <View className="gap-1">
      <Heading>{t`Who pictures are for`}</Heading>
      <Words className="text-soft">{t`You can set who each picture is for. Where you haven’t, the people in it, its albums, its device and its place decide, and the narrowest counts. Everything else is for:`}</Words>
      {keeper ? (
        <AudienceChips
          from={USUAL}
          value={data.library}
          onChoose={(audience) => audience && audience !== 'me' && void sayOfLibrary(audience)}
        />
      ) : (
        <Words>{sayAudience(data.library)}</Words>
      )}
      {data.said.map(({ of, id, name, audience }) => (
        <View key={`${of} ${id}`} className="min-h-touch flex-row items-center gap-3 border-t border-line py-1">
          <View className="min-w-0 flex-1">
            <Words kind="strong" numberOfLines={1}>
              {name}
            </Words>
            <Words kind="small">{`${of === 'pictures' || of === 'library' ? '' : i18n._(OF[of])} · ${sayAudience(audience)}`}</Words>
          </View>
          {of === 'pictures' || of === 'library' ? null : (
            <IconButton name="away" size={17} label={t`Unset ${name}`} onPress={() => void sayOf(of, id, name, null)} />
          )}
        </View>
      ))}
    </View>
  );
}
