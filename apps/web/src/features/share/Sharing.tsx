import { plural, t } from '@lingui/core/macro';
import type { Share } from '@gemmel/contract';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { refresh, useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { trouble } from '@/state/toast';
import { Sheet } from '@/ui/Sheet';
import { Walls } from '@/features/show/Walls';
import { Button } from '@/ui/Button';
import { Rings } from '@/ui/Rings';
import { sayLongDay, sayWhen } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { copyLink } from '@/state/copyLink';
import { aboutWords } from '@/words/said';

/** What is open to others, until when, and what has been closed. */
export function Sharing() {
  const router = useRouter();
  const { data, error, refetch } = useAnswer('shares', {});
  return (
    <Page title={t`Sharing`} narrow>
      {error ? <Failed error={error} again={() => void refetch()} /> : !data ? <Waiting /> : null}
      {data?.shares.length === 0 ? (
        <Empty
          title={t`Nothing is shared`}
          text={t`Share an album or the pile by link. Guests need no account, and you can close it at any time.`}
        >
          <Button label={t`Go to Albums`} onPress={() => router.push('/albums')} />
        </Empty>
      ) : null}
      {data?.shares.map((share) => (
        <ShareCard key={share.id} share={share} />
      ))}
      {data ? <Walls /> : null}
    </Page>
  );
}

function ShareCard({ share }: { share: Share }) {
  const open = share.state === 'open';
  const [asking, setAsking] = useState(false);
  const renew = () =>
    call('renewLink', { params: { id: share.id } }).then(async ({ share: now }) => {
      refresh('shares');
      setAsking(false);
      if (now.path) await copyLink(now.path);
    }, trouble);
  const flip = async (close: boolean) => {
    await act(
      () => call(close ? 'closeShare' : 'reopenShare', { params: { id: share.id } }),
      close
        ? [t`“${share.title}” closed`, t`Its link no longer works.`]
        : t`“${share.title}” is open again with the same link`,
      'shares',
    );
  };
  const standing = open
    ? share.until
      ? t`Open until ${sayLongDay(share.until)}`
      : t`Open until you close it`
    : share.state === 'closed'
      ? t`Closed ${sayWhen(share.closedAt!)}`
      : t`Ended ${sayLongDay(share.until!)}`;
  return (
    <View
      className="mb-3.5 flex-row overflow-hidden rounded-card border border-line bg-card"
      role="group"
      aria-label={share.title}
    >
      <div
        style={{
          width: 104,
          flexShrink: 0,
          background: 'rgb(var(--mist))',
          filter: open ? undefined : 'grayscale(0.8)',
          opacity: open ? 1 : 0.6,
        }}
      >
        {share.cover ? (
          <img
            src={smallOf(share.cover)}
            alt=""
            style={{ width: '100%', height: '100%', objectFit: 'cover', display: 'block' }}
          />
        ) : null}
      </div>
      <View className="min-w-0 flex-1 gap-0.5 p-3.5">
        <View className="flex-row items-start justify-between gap-2">
          <Words kind="strong" className="min-w-0 flex-1">
            {share.title}
          </Words>
          <Rings size={34} joined={open} label={open ? t({ message: 'Open', context: 'a share' }) : t`Closed`} />
        </View>
        <Words kind="small">{`${plural(share.pictures, { one: '# picture', other: '# pictures' })} · ${t`anyone with the link`}`}</Words>
        <Words kind="small">{aboutWords(share.about)}</Words>
        <Words kind="small" className={`font-semi ${open ? 'text-juniper' : ''}`}>
          {standing}
        </Words>
        <Words kind="tiny">
          {share.opened
            ? plural(share.opened, {
                one: `Opened once, on ${sayWhen(share.lastOpened!)}`,
                other: `Opened # times, last on ${sayWhen(share.lastOpened!)}`,
              })
            : t`Not opened yet`}
        </Words>
        <View className="flex-row flex-wrap gap-x-2">
          {open ? (
            <>
              <Button
                label={t`Copy the link`}
                weight="quiet"
                className="min-h-touch px-0 pr-3"
                onPress={() => void copyLink(share.path!)}
              />
              <Button label={t`New link`} weight="quiet" className="min-h-touch px-2" onPress={() => setAsking(true)} />
              <Button label={t`Close`} weight="quiet" className="min-h-touch px-2" onPress={() => void flip(true)} />
            </>
          ) : share.state === 'closed' ? (
            <Button
              label={t`Open again`}
              weight="quiet"
              className="min-h-touch px-0"
              onPress={() => void flip(false)}
            />
          ) : null}
        </View>
        {asking ? (
          <Sheet title={t`A new link for “${share.title}”?`} onClose={() => setAsking(false)}>
            <Words>{t`The link that was sent before stops working at once, for everybody who has it. Everything else about the share stays.`}</Words>
            <Button label={t`Make and copy the new link`} icon="link" onPress={() => void renew()} />
          </Sheet>
        ) : null}
      </View>
    </View>
  );
}
