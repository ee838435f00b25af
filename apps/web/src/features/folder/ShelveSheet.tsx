import { plural, t } from '@lingui/core/macro';
import type { FolderPlan } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { Button, Chip } from '@/ui/Button';
import { Icon } from '@/ui/Icon';
import { Sheet } from '@/ui/Sheet';
import { Failed, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';

const albumsIn = (n: number): string => plural(n, { one: '# album', other: '# albums' });
const shelvesIn = (n: number): string => plural(n, { one: '# shelf', other: '# shelves' });

/** What a folder with all below it would become: shelves, and albums of the pictures in each folder. Made in one act. */
export function ShelveSheet({ id, name, onClose }: { id: number; name: string; onClose: () => void }) {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('folderShelves', { params: { id } });
  const shelves = useAnswer('albums', {}).data?.shelves ?? [];
  const [on, setOn] = useState<number | null>(null);
  const make = async () => {
    const made = await act(
      () => call('shelveFolder', { params: { id }, body: { on } }),
      (done) => [
        done.shelves
          ? t`${shelvesIn(done.shelves)} and ${albumsIn(done.albums)} made`
          : t`${albumsIn(done.albums)} made`,
        t`Each picture is still kept once.`,
      ],
      'albums',
    );
    if (!made) return;
    onClose();
    if (made.shelf !== null) router.push({ pathname: '/albums/shelf/[id]', params: { id: made.shelf } });
    else if (made.album !== null) router.push({ pathname: '/albums/[id]', params: { id: made.album } });
  };
  const line = (plan: FolderPlan, depth: number, key: string) => (
    <View key={key}>
      <View
        className="min-h-8 flex-row items-center gap-2 border-t border-line py-1.5"
        style={{ paddingLeft: Math.min(depth, 8) * 18 }}
      >
        <Icon name={plan.kind === 'shelf' ? 'shelf' : 'album'} size={16} tone="soft" />
        <Words className={`min-w-0 flex-1 ${plan.kind === 'shelf' ? 'font-serif' : ''}`} numberOfLines={1}>
          {plan.name}
        </Words>
        <Words kind="small">{plan.pictures}</Words>
      </View>
      {plan.on.map((part, i) => line(part, depth + 1, `${key}.${i}`))}
    </View>
  );
  return (
    <Sheet title={t`“${name}” as shelves and albums`} onClose={onClose}>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data && !data.plan ? (
        <Words className="text-soft">{t`There is no picture in this folder or below it.`}</Words>
      ) : null}
      {data?.plan ? (
        <>
          <Words className="text-soft">
            {data.shelves
              ? t`It becomes ${shelvesIn(data.shelves)} and ${albumsIn(data.albums)}. The folders stay as they are, and each picture is still kept once.`
              : t`It becomes ${albumsIn(data.albums)}. The folders stay as they are, and each picture is still kept once.`}
          </Words>
          <View>{line(data.plan, 0, '0')}</View>
          {shelves.length ? (
            <View className="flex-row flex-wrap items-center gap-x-2">
              <Words kind="small">{t`It stands on`}</Words>
              <Chip label={t`no other shelf`} on={on === null} onPress={() => setOn(null)} />
              {shelves.map((shelf) => (
                <Chip key={shelf.id} label={shelf.name} on={on === shelf.id} onPress={() => setOn(shelf.id)} />
              ))}
            </View>
          ) : null}
          <Button label={t`Make them`} onPress={() => void make()} />
        </>
      ) : null}
    </Sheet>
  );
}
