import type { Digest, Notice } from '@gemmel/contract';
import { i18n, type MessageDescriptor } from '@lingui/core';
import { msg, t } from '@lingui/core/macro';
import { useRouter } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { View } from 'react-native';
import { call } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { useMe } from '@/features/account/session';
import { useTiles } from '@/state/tiles';
import { say, trouble } from '@/state/toast';
import { Chip } from '@/ui/Button';
import { Heading } from '@/ui/DoubleBar';
import type { IconName } from '@/ui/Icon';
import { sayWhen } from '@/ui/say';
import { Failed, Page, Waiting } from '@/ui/State';
import { Switch } from '@/ui/Switch';
import { ToldRow } from '@/ui/ToldRow';
import { Words } from '@/ui/Words';
import { sentenceOf } from './sentence';
import { canPush, pushedHere, pushHere, pushNoMore } from './pushing';

const OFTEN: [Digest, MessageDescriptor][] = [
  ['never', msg`Never`],
  ['daily', msg`Once a day`],
  ['weekly', msg`Once a week`],
];

const ICONS: Record<Notice['kind'], IconName> = {
  comment: 'edit',
  added: 'inbox',
  waiting: 'inbox',
  share: 'send',
  fresh: 'browse',
};

/** What others did of late, and how whoever looks is told of it. Looking at it makes it old. */
export function News() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('notices', {});
  const notices = useMemo(() => data?.notices ?? [], [data]);
  const looking = useMe().data?.looking ?? false;
  const latest = notices[0]?.at;
  const anyFresh = (data?.fresh ?? 0) > 0;
  // What was new when the page was opened stays marked as long as it is open.
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    if (!latest || !anyFresh) return;
    // By somebody else's eyes nothing is made old.
    if (looking) return;
    const fresh = notices.filter((one) => one.fresh).map(keyOf);
    call('noticesSeen', { body: { until: latest } }).then(() => {
      setMarked((was) => new Set([...was, ...fresh]));
      refresh('notices');
    }, trouble);
  }, [latest, anyFresh, looking, notices]);
  const tiles = useTiles(useMemo(() => notices.flatMap((one) => (one.kind === 'comment' ? [one.id!] : [])), [notices]));
  if (error) return <Failed error={error} again={() => void refetch()} />;
  if (!data) return <Waiting />;
  const open = ({ kind, id }: Notice) => {
    if (kind === 'comment') router.push({ pathname: '/picture/[id]', params: { id: id! } });
    else if (kind === 'added' || kind === 'waiting') router.push({ pathname: '/batch/[id]', params: { id: id! } });
    else router.push('/parlour');
  };
  return (
    <Page title={t`What’s new`} narrow>
      <View className="gap-7">
        <View>
          {notices.length ? null : (
            <Words className="text-soft">{t`Nothing yet. What others write, add and share with you is listed here for a month.`}</Words>
          )}
          {notices.map((one) => {
            const tile = one.kind === 'comment' ? tiles.get(one.id!) : undefined;
            const isNew = one.fresh || marked.has(keyOf(one));
            return (
              <ToldRow
                key={keyOf(one)}
                sha={tile?.sha}
                icon={ICONS[one.kind]}
                text={sentenceOf(one)}
                when={isNew ? t`New · ${sayWhen(one.at)}` : sayWhen(one.at)}
                fresh={isNew}
                onPress={() => open(one)}
              />
            );
          })}
        </View>
        <Told />
      </View>
    </Page>
  );
}

const keyOf = ({ kind, id, at }: Notice): string => `${kind} ${id} ${at}`;

/** How somebody is told while they are not here: by letters, and by this browser. All of it is off until they turn it on. */
function Told() {
  const { data: told } = useAnswer('told', {});
  const [here, setHere] = useState<boolean | null>(null);
  useEffect(
    () =>
      void pushedHere().then(
        (there) => setHere(there !== null),
        () => setHere(false),
      ),
    [],
  );
  if (!told) return null;
  const often = (digest: Digest) =>
    call('setTold', { body: { digest } }).then(() => (say(t`Saved`), refresh('told')), trouble);
  const turn = () =>
    (here ? pushNoMore() : pushHere(told.key)).then(
      () => (setHere(!here), refresh('told')),
      (error: unknown) =>
        trouble(
          error instanceof DOMException
            ? new Error(
                error.name === 'NotAllowedError'
                  ? t`This browser doesn’t allow it. You can allow notices in its settings.`
                  : t`This browser has no push service that answers.`,
              )
            : error,
        ),
    );
  return (
    <View className="gap-4">
      <Heading>{t`While you’re away`}</Heading>
      <View>
        <Words kind="small">{t`An e-mail with what’s new`}</Words>
        {told.mail ? (
          <View role="radiogroup" aria-label={t`An e-mail with what’s new`} className="flex-row flex-wrap gap-x-2">
            {OFTEN.map(([digest, name]) => (
              <Chip key={digest} label={i18n._(name)} on={told.digest === digest} onPress={() => void often(digest)} />
            ))}
          </View>
        ) : (
          <Words className="text-soft">{t`No e-mail can be sent from here yet.`}</Words>
        )}
        <Words kind="small">{t`It comes in the morning, and only when there is something to tell.`}</Words>
      </View>
      <View>
        {canPush() ? (
          <Switch on={here === true} label={t`Tell me on this device`} shown onTurn={() => void turn()} />
        ) : (
          <Words className="text-soft">{t`This device can be told only over an encrypted address (https).`}</Words>
        )}
        <Words kind="small">{t`At most every quarter of an hour, through your browser’s own push service. What it says is locked: the service can’t read it.`}</Words>
      </View>
    </View>
  );
}
