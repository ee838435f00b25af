import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { Pressable, View } from 'react-native';
import { useAnswer } from '@/api/query';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { Words } from '@/ui/Words';
import { sentenceOf } from './sentence';

/** One line that says how much is new and what came last; nothing when nothing is. */
export function NewsLine() {
  const router = useRouter();
  const news = useAnswer('notices', {}).data;
  const first = news?.notices.find((one) => one.fresh);
  if (!news || !first) return null;
  return (
    <Pressable
      role="link"
      onPress={() => router.push('/news')}
      className="min-h-field flex-row items-center gap-3 rounded-card border border-line bg-card px-4 py-2 active:opacity-70"
    >
      <View className="min-w-0 flex-1">
        <Words kind="strong">{plural(news.fresh, { one: '# thing is new', other: '# things are new' })}</Words>
        <Words kind="small" numberOfLines={2}>
          {sentenceOf(first)}
        </Words>
      </View>
      <Icon name="right" size={18} tone="soft" />
    </Pressable>
  );
}

/** Where what is new is found at any time, and how somebody is told of it. */
export function NewsSection() {
  const router = useRouter();
  return (
    <View className="items-start gap-2">
      <Heading>{t`What’s new`}</Heading>
      <Words className="text-soft">{t`What others write, add and share with you; by e-mail or on your phone if you like.`}</Words>
      <Button label={t`See what’s new`} weight="second" onPress={() => router.push('/news')} />
    </View>
  );
}
