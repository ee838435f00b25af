import { t } from '@lingui/core/macro';
import type { Picture } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { View } from 'react-native';
import { call, savedOf, shownOf } from '@/api/client';
import { refreshTopics } from '@/api/query';
import { trouble } from '@/state/toast';
import { Chip, IconButton } from '@/ui/Button';
import { sayList } from '@/ui/say';
import { SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { sayPlace } from '@/words/said';
import { Comments } from '../comment/Comments';
import { Fact } from '@/ui/Fact';
import { sayTaken } from './sayTaken';

/** What a relative reads about a picture, with a heart of their own, comments, and ways to save it. */
export function FactsToRead({ picture }: { picture: Picture }) {
  const router = useRouter();
  const { id, loved } = picture;
  const named = [...new Map(picture.faces.filter((f) => f.person).map((f) => [f.person!.id, f.person!])).values()];
  const love = () =>
    call('ownHeart', { params: { id }, body: { on: !loved.mine } }).then(() => refreshTopics('said'), trouble);
  const hearts = [...(loved.mine ? [t`you`] : []), ...loved.by];
  return (
    <View className="gap-2">
      <View className="flex-row items-center justify-between">
        <Words className="min-w-0 flex-1 font-serif text-head">{picture.title ?? sayTaken(picture)}</Words>
        <IconButton
          name="heart"
          tone="brick"
          size={24}
          filled={loved.mine}
          pressed={loved.mine}
          label={loved.mine ? t`Take your heart back` : t`Give it a heart`}
          onPress={() => void love()}
        />
      </View>
      {hearts.length ? <Words kind="small">{t`A heart from ${sayList(hearts)}`}</Words> : null}
      {picture.title && picture.taken ? <Words kind="small">{sayTaken(picture)}</Words> : null}
      {sayPlace(picture) ? <Words kind="small">{sayPlace(picture)}</Words> : null}
      {picture.caption ? <Words>{picture.caption}</Words> : null}
      <View className="flex-row flex-wrap gap-2">
        {named.map((person) => (
          <Chip
            key={person.id}
            label={person.name}
            onPress={() => router.push({ pathname: '/person/[id]', params: { id: person.id } })}
          />
        ))}
      </View>
      <Comments picture={picture} />
      <Fact title={t`Save it`}>
        {picture.touched ? <Save href={shownOf(id)} label={t`As it’s shown`} /> : null}
        <Save href={savedOf(id)} label={picture.touched ? t`As it was taken` : t`At full size`} />
        {picture.position ? (
          <Link
            href={{ pathname: '/browse/map', params: { seen: id } }}
            style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}
          >
            <Words kind="small" className="font-semi text-juniper">{t`See it on the map`}</Words>
          </Link>
        ) : null}
      </Fact>
    </View>
  );
}

function Save({ href, label }: { href: string; label: string }) {
  return (
    <a href={href} download style={{ minHeight: SIZE.touch, display: 'flex', alignItems: 'center' }}>
      <Words kind="small" className="font-semi text-juniper">
        {label}
      </Words>
    </a>
  );
}
