import { plural, t } from '@lingui/core/macro';
import type { Share } from '@gemmel/contract';
import { Link, useRouter } from 'expo-router';
import { useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { call, smallOf } from '@/api/client';
import { useAnswer } from '@/api/query';
import { act } from '@/state/acts';
import { useMe } from '@/features/account/session';
import { Button, Chip } from '@/ui/Button';
import { Rings } from '@/ui/Rings';
import { sayList, sayLongDay, sayWhen } from '@/ui/say';
import { Empty, Failed, Page, Waiting } from '@/ui/State';
import { Words } from '@/ui/Words';
import { copyLink } from '@/state/copyLink';
import { aboutWords } from '@/words/said';
import { useWhole } from './Links';
import { lookedWords, ShareDetail } from './ShareDetail';

/** What is open to others, until when, and what has been closed; below it what else hangs open to somebody. */
export function Sharing({ children }: { children?: ReactNode }) {
  const router = useRouter();
  const helps = useMe().data?.member?.part !== 'relative';
  const { data, error, refetch } = useAnswer('shares', {});
  return (
    <Page
      title={t`Sharing`}
      narrow
      right={
        helps ? <Chip label={t`Books, prints and films`} icon="chapter" onPress={() => router.push('/making')} /> : null
      }
    >
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
      {data ? children : null}
    </Page>
  );
}

/** For whom a share is, in short. */
const sayWhom = ({ anybody, word, guests }: Share): string =>
  [
    anybody ? (word ? t`anybody with the link and the word` : t`anybody with the link`) : '',
    guests.length ? sayList(guests.slice(0, 3).map(({ name }) => name)) : '',
    guests.length > 3 ? t`and ${guests.length - 3} more` : '',
  ]
    .filter(Boolean)
    .join(' · ');

function ShareCard({ share }: { share: Share }) {
  const open = share.state === 'open';
  const [detail, setDetail] = useState(false);
  const whole = useWhole();
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
      : share.state === 'worn'
        ? t`Opened as often as it may be`
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
        <Words kind="small">{`${plural(share.pictures, { one: '# picture', other: '# pictures' })} · ${sayWhom(share)}`}</Words>
        <Words kind="small">{aboutWords(share)}</Words>
        <Words kind="small" className={`font-semi ${open ? 'text-juniper' : ''}`}>
          {standing}
        </Words>
        <Words kind="tiny">{lookedWords(share)}</Words>
        {share.waiting ? (
          <Link href="/arrivals" className="min-h-touch justify-center">
            <Words className="font-semi text-small text-marigold">
              {plural(share.waiting, {
                one: '# picture from a guest waits for your word',
                other: '# pictures from guests wait for your word',
              })}
            </Words>
          </Link>
        ) : null}
        <View className="flex-row flex-wrap gap-x-5">
          {open ? (
            <>
              {share.path ? (
                <Button
                  label={t`Copy the link`}
                  weight="quiet"
                  className="min-h-touch px-0"
                  onPress={() => void copyLink(whole(share.path!))}
                />
              ) : null}
              <Button
                label={t`Links and settings`}
                weight="quiet"
                className="min-h-touch px-0"
                onPress={() => setDetail(true)}
              />
              <Button label={t`Close`} weight="quiet" className="min-h-touch px-0" onPress={() => void flip(true)} />
            </>
          ) : (
            <Button
              label={t`Links and settings`}
              weight="quiet"
              className="min-h-touch px-0"
              onPress={() => setDetail(true)}
            />
          )}
          {share.state === 'closed' ? (
            <Button
              label={t`Open again`}
              weight="quiet"
              className="min-h-touch px-0"
              onPress={() => void flip(false)}
            />
          ) : null}
        </View>
        {detail ? <ShareDetail share={share} onClose={() => setDetail(false)} /> : null}
      </View>
    </View>
  );
}
