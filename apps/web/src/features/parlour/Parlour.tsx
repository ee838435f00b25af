import { plural, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useMemo } from 'react';
import { Pressable, View } from 'react-native';
import { smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { NewsLine } from '@/features/notice/NewsLine';
import { useTiles } from '@/state/tiles';
import { Button } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import { Icon } from '@/ui/Icon';
import { sayWhen } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { ToldRow } from '@/ui/ToldRow';
import { CORNER, SIZE } from '@/ui/tokens';
import { Words } from '@/ui/Words';
import { tileLabel } from '@/words/said';
import { AddOwn } from './AddOwn';

/** The first page of a relative: what is new, what was made for them, what is theirs, and who answered. */
export function Parlour() {
  const router = useRouter();
  const me = useMe().data;
  const { data, error, refetch } = useAnswer('parlour', {});
  const shares = useAnswer('mine', {}).data?.shares ?? [];
  const first = me?.member?.name.split(' ')[0] ?? '';
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const { fresh, brought, loved, answers, since, chosen } = data;
  return (
    <Page title={t`Hello, ${first}`} narrow>
      <View className="gap-7">
        <NewsLine />
        {fresh.pictures ? (
          <Strip
            title={
              since
                ? plural(fresh.pictures, { one: '# new picture', other: '# new pictures' })
                : plural(fresh.pictures, { one: '# picture to look at', other: '# pictures to look at' })
            }
            about={since ? t`since ${sayWhen(since)}` : t`Have a look round.`}
            ids={fresh.ids}
            large
          />
        ) : (
          <View className="gap-2">
            <Heading>{chosen ? t`Nothing new today` : t`There’s nothing to see here yet`}</Heading>
            <Words className="text-soft">
              {chosen
                ? t`Everything you’ve seen before is still here.`
                : t`Whoever invited you hasn’t chosen any pictures yet. You can add some of your own meanwhile.`}
            </Words>
            {chosen ? (
              <Button label={t`Look at all pictures`} weight="second" onPress={() => router.push('/browse')} />
            ) : null}
          </View>
        )}
        {shares.length ? (
          <View>
            <Heading>{t`With your name on it`}</Heading>
            {shares.map((share) => (
              <Pressable
                key={share.path}
                role="link"
                onPress={() => location.assign(share.path)}
                className="min-h-field flex-row items-center gap-3 border-t border-line py-2 active:opacity-70"
              >
                {share.cover ? (
                  <img
                    src={smallOf(share.cover)}
                    alt=""
                    style={{ width: SIZE.strip, height: SIZE.field, objectFit: 'cover', borderRadius: CORNER.picture }}
                  />
                ) : null}
                <View className="min-w-0 flex-1">
                  <Words kind="strong">{share.title}</Words>
                  <Words kind="small">
                    {plural(share.pictures, {
                      one: `# picture, from ${share.from}`,
                      other: `# pictures, from ${share.from}`,
                    })}
                  </Words>
                </View>
                <Icon name="right" size={18} tone="soft" />
              </Pressable>
            ))}
          </View>
        ) : null}
        {answers.length ? (
          <View>
            <Heading>{t`What was written`}</Heading>
            <Answers answers={answers} />
          </View>
        ) : null}
        <View className="gap-3">
          <Heading>{t`Yours`}</Heading>
          <AddOwn />
          {brought.pictures ? (
            <Strip
              title={plural(brought.pictures, { one: '# picture you brought', other: '# pictures you brought' })}
              ids={brought.ids}
            />
          ) : null}
          {loved.pictures ? (
            <Strip
              title={plural(loved.pictures, { one: '# heart of yours', other: '# hearts of yours' })}
              ids={loved.ids}
            />
          ) : null}
        </View>
      </View>
    </Page>
  );
}

/** Pictures in a row that is wiped along; each opens, with the others beside it. */
function Strip({
  title,
  about,
  ids,
  large = false,
}: {
  title: string;
  about?: string;
  ids: readonly number[];
  large?: boolean;
}) {
  const tiles = useTiles(ids);
  const router = useRouter();
  const height = large ? SIZE.tileWide : SIZE.strip;
  return (
    <View>
      <Heading tone="rule">{title}</Heading>
      {about ? <Words kind="small">{about}</Words> : null}
      <div
        style={{ display: 'flex', gap: SIZE.hair, overflowX: 'auto', marginTop: 8, scrollbarWidth: 'none' }}
        role="list"
      >
        {ids.map((id) => {
          const tile = tiles.get(id);
          return (
            <button
              key={id}
              type="button"
              role="listitem"
              aria-label={tile ? tileLabel(tile) : t`A picture`}
              onClick={() => router.push({ pathname: '/picture/[id]', params: { id } })}
              style={{
                height,
                minWidth: height * 0.75,
                flexShrink: 0,
                padding: 0,
                border: 0,
                cursor: 'pointer',
                borderRadius: CORNER.picture,
                overflow: 'hidden',
                background: 'rgb(var(--line))',
              }}
            >
              {tile ? <img src={smallOf(tile.sha)} alt="" style={{ height: '100%', display: 'block' }} /> : null}
            </button>
          );
        })}
      </div>
    </View>
  );
}

interface Answer {
  id: number;
  picture: number;
  author: string;
  text: string;
  at: string;
  fresh: boolean;
}

/** What others wrote on pictures that are one's own or that one has written about. */
function Answers({ answers }: { answers: readonly Answer[] }) {
  const router = useRouter();
  const pictures = useMemo(() => [...new Set(answers.map(({ picture }) => picture))], [answers]);
  const tiles = useTiles(pictures);
  return (
    <View>
      {answers.slice(0, 8).map((one) => (
        <ToldRow
          key={one.id}
          sha={tiles.get(one.picture)?.sha}
          icon="edit"
          text={one.text}
          when={`${one.author} · ${sayWhen(one.at)}`}
          fresh={one.fresh}
          onPress={() => router.push({ pathname: '/picture/[id]', params: { id: one.picture } })}
        />
      ))}
    </View>
  );
}
